"""Marking through the real interface: every way to draw, the guard, cling, the fit, masks as files."""

import re
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.support.desk import SIZE, brush, mask_colour, mask_of, place, state, stroke, until


def click(page: Page, x: float, y: float) -> None:
    page.mouse.click(*place(page, SIZE, x, y))


def test_outline_corners_and_box(desk: Page) -> None:
    page = desk
    page.keyboard.press("8")
    stroke(page, SIZE, (300, 30), (360, 70))
    state(page, 1, "marked")
    box = mask_of(page) > 0
    assert box[50, 330]
    assert abs(int(box.sum()) - 60 * 40) < 500

    page.get_by_role("button", name="Corners").click()
    page.keyboard.press("n")
    for x, y in ((100, 30), (160, 30), (160, 80), (20, 200)):
        click(page, x, y)
    page.keyboard.press("Backspace")
    page.keyboard.press("Enter")
    state(page, 2, "marked")
    triangle = mask_of(page, 2) > 0
    assert abs(int(triangle.sum()) - 60 * 50 // 2) < 200
    assert not triangle[150, 50]

    page.keyboard.press("6")
    page.keyboard.press("n")
    stroke(page, SIZE, (200, 100), (260, 100), (260, 150), (200, 150))
    state(page, 3, "marked")
    assert abs(int((mask_of(page, 3) > 0).sum()) - 60 * 50) < 400

    # Taking away with a held key, by the same tool; held for longer than a tap.
    page.keyboard.down("t")
    page.wait_for_timeout(300)
    stroke(page, SIZE, (195, 95), (230, 95), (230, 155), (195, 155))
    page.keyboard.up("t")
    until(page, lambda: int((mask_of(page, 3) > 0).sum()) < 2000)
    page.keyboard.press("Control+z")
    until(page, lambda: int((mask_of(page, 3) > 0).sum()) > 2400)


def test_the_mask_follows_margin_and_feather_and_survives_a_reload(desk: Page) -> None:
    page = desk
    brush(page, 20)
    stroke(page, SIZE, (300, 40), (360, 40))
    state(page, 1, "marked")
    before = mask_of(page) > 0
    margin = page.get_by_label("Margin in px")
    margin.fill("12")
    margin.press("Enter")
    until(page, lambda: bool((mask_of(page) > 0)[40 + 20, 330]))
    grown = mask_of(page) > 0
    assert grown.sum() > before.sum() * 1.8
    assert not grown[40 + 24, 330]
    # What is seen is what the server has: the rim of the grown mask is drawn.
    until(page, lambda: mask_colour(page, 330, 40 + 22)[3] > 0)
    page.get_by_text("Edge and parts").click()
    feather = page.get_by_label("Feather in px")
    feather.fill("4")
    feather.press("Enter")
    until(page, lambda: 0 < int(mask_of(page)[40 + 24, 330]) < 200)
    page.reload()
    page.get_by_test_id("sweep-1").get_by_role("button").first.click()
    expect(page.get_by_label("Margin in px")).to_have_value("12")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    until(page, lambda: np.array_equal(mask_of(page) > 0, before))


def test_what_comes_beside_the_picture_does_not_bend_a_stroke(desk: Page) -> None:
    page = desk
    brush(page, 20)
    start, end = place(page, SIZE, 300, 40), place(page, SIZE, 360, 40)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move((start[0] + end[0]) / 2, start[1], steps=3)
    page.set_viewport_size({"width": 1280, "height": 700})
    until(page, lambda: place(page, SIZE, 300, 40) != start)
    page.mouse.move(*end, steps=3)
    page.mouse.up()
    state(page, 1, "marked")
    rows, columns = np.nonzero(mask_of(page))
    assert (rows.min(), rows.max(), columns.min(), columns.max()) == (30, 49, 290, 369)
    # Then all of the picture is in view again, and the next stroke lies where it is drawn.
    page.keyboard.press("n")
    stroke(page, SIZE, (300, 120), (360, 120))
    state(page, 2, "marked")
    rows, columns = np.nonzero(mask_of(page, 2))
    assert (rows.min(), rows.max(), columns.min(), columns.max()) == (110, 129, 290, 369)


def test_cling_takes_the_thing_and_its_margin(desk: Page) -> None:
    page = desk
    brush(page, 9)
    page.get_by_role("button", name="Cling").click()
    stroke(page, SIZE, (420, 24), (500, 40), (560, 54))
    state(page, 1, "marked")
    until(page, lambda: bool(mask_of(page).any()))
    mask = mask_of(page) > 0
    # The rod is found, from a scribble over its middle, and little of the sky.
    assert mask[40, 500]
    assert 600 < mask.sum() < 6000
    assert page.get_by_label("Margin in px").input_value() != "0"


@pytest.mark.advice
def test_a_guard_holds_against_masks(desk: Page) -> None:
    page = desk
    page.get_by_role("button", name="Guard", exact=True).click()
    page.keyboard.press("8")
    stroke(page, SIZE, (330, 10), (400, 120))
    until(page, lambda: any(mask_colour(page, 340 + k, 60 + k)[3] for k in range(16)))
    page.keyboard.press("u")
    page.keyboard.press("5")
    brush(page, 30)
    stroke(page, SIZE, (280, 60), (440, 60))
    state(page, 1, "marked")
    mask = mask_of(page)
    assert not mask[20:110, 334:396].any()
    assert mask[60, 300] == 255
    assert mask[60, 430] == 255
    expect(page.get_by_text("The mark reaches into the guard", exact=False)).to_be_visible()
    # What else there is to say is folded.
    expect(page.get_by_text("2 separate areas", exact=False)).to_be_hidden()
    page.get_by_text(re.compile(r"\d more notes?")).click()
    expect(page.get_by_text("2 separate areas", exact=False)).to_be_visible()
    page.get_by_text("Masks and guard").click()
    page.get_by_role("button", name="Clear guard").click()
    until(page, lambda: mask_of(page)[60, 360] == 255)


def test_separate_areas_become_sweeps_and_can_be_joined(desk: Page) -> None:
    page = desk
    brush(page, 16)
    for x in (300, 380, 460):
        stroke(page, SIZE, (x, 30), (x + 10, 36))
    state(page, 1, "marked")
    page.get_by_text("Edge and parts").click()
    page.get_by_role("button", name="Split areas").click()
    expect(page.get_by_test_id("sweep-3")).to_contain_text("marked")
    page.get_by_test_id("sweep-1").get_by_role("button").first.click()
    page.get_by_role("button", name="Join with 2").click()
    expect(page.get_by_test_id("sweep-3")).to_have_count(0)
    joined = mask_of(page, 1)
    assert joined[32, 304] == 255
    assert joined[32, 384] == 255
    # Joined ones stay one when they are filled, the others have takes of their own.
    page.keyboard.press("q")
    state(page, 1, "provisional")
    expect(page.get_by_test_id("sweep-3")).to_have_count(0)


def test_areas_are_filled_one_by_one(desk: Page) -> None:
    page = desk
    brush(page, 16)
    for x in (300, 420):
        stroke(page, SIZE, (x, 30), (x + 10, 36))
    state(page, 1, "marked")
    page.keyboard.press("q")
    state(page, 1, "provisional")
    state(page, 2, "provisional")


def test_pieces_are_shown_before_a_click_takes_them(desk: Page) -> None:
    page = desk
    page.keyboard.press("9")
    page.get_by_label("Piece size").select_option("large")
    page.mouse.move(*place(page, SIZE, 250, 60))

    def moved_and_shown() -> bool:
        page.mouse.move(*place(page, SIZE, 251, 60))
        return mask_colour(page, 250, 60)[3] > 0

    until(page, moved_and_shown)
    assert page.get_by_test_id("sweep-1").count() == 0
    click(page, 250, 60)
    state(page, 1, "marked")
    assert mask_of(page)[60, 250] == 255


def test_a_mask_is_saved_and_loaded(desk: Page, tmp_path: Path) -> None:
    page = desk
    brush(page, 24)
    stroke(page, SIZE, (300, 40), (380, 44))
    state(page, 1, "marked")
    page.get_by_text("Edge and parts").click()
    with page.expect_download() as saving:
        page.get_by_text("Save mask").click()
    file = tmp_path / "mask.png"
    saving.value.save_as(file)
    saved = imagecodecs.png_decode(file.read_bytes())
    assert np.array_equal(saved, mask_of(page))
    page.get_by_text("Masks and guard").click()
    page.get_by_label("Mask file").set_input_files(str(file))
    state(page, 2, "marked")
    assert np.array_equal(mask_of(page, 2), saved)
    wrong = tmp_path / "small.png"
    wrong.write_bytes(imagecodecs.png_encode(saved[:100, :100]))
    page.get_by_label("Mask file").set_input_files(str(wrong))
    expect(page.get_by_role("alert")).to_contain_text("must be the same size")
    expect(page.get_by_test_id("sweep-3")).to_have_count(0)


def test_a_mask_that_is_black_on_white_is_offered_flipped(desk: Page, tmp_path: Path) -> None:
    page = desk
    cover = np.full((SIZE[1], SIZE[0]), 255, np.uint8)
    cover[100:130, 200:260] = 0
    file = tmp_path / "mask.png"
    file.write_bytes(imagecodecs.png_encode(cover))
    page.get_by_text("Masks and guard").click()
    page.get_by_label("Mask file").set_input_files(str(file))
    message = page.get_by_role("status").filter(has_text="Is it black on white?")
    message.get_by_role("button", name="Flip mask").click()
    until(page, lambda: bool(np.array_equal(mask_of(page), 255 - cover)))
    page.get_by_role("button", name="Undo").click()
    until(page, lambda: bool(np.array_equal(mask_of(page), cover)))


def test_shift_draws_straight_from_where_the_last_stroke_ended(desk: Page) -> None:
    page = desk
    brush(page, 12)
    stroke(page, SIZE, (200, 80), (240, 80))
    state(page, 1, "marked")
    page.keyboard.down("Shift")
    page.mouse.click(*place(page, SIZE, 240, 180))
    until(page, lambda: bool(mask_of(page)[130, 240]))
    stroke(page, SIZE, (300, 100), (340, 150), (380, 100))
    page.keyboard.up("Shift")
    until(page, lambda: bool(mask_of(page)[100, 340]))
    mask = mask_of(page)
    assert mask[80:180, 240].all()
    assert not mask[140, 340], "the way of the drag between its ends is not drawn"


def test_what_is_under_the_pointer_is_protected_by_a_key(desk: Page) -> None:
    page = desk
    page.mouse.move(*place(page, SIZE, 500, 40))
    page.keyboard.press("Shift+U")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("data-tip", re.compile("protected"))
    page.keyboard.press("c")
    brush(page, 30)
    stroke(page, SIZE, (500, 40), (502, 41))
    state(page, 1, "marked")
    assert mask_of(page)[28, 500], "beside the rod"
    assert not mask_of(page)[40, 500], "the rod is protected"


def test_how_masks_look_is_remembered_and_the_mask_can_be_seen_alone(desk: Page) -> None:
    page = desk
    brush(page, 40)
    stroke(page, SIZE, (300, 40), (380, 44))
    state(page, 1, "marked")
    page.get_by_text("Masks and guard").click()
    page.get_by_role("button", name="lagoon").click()
    page.get_by_label("Pattern of masks").select_option("flat")
    until(page, lambda: mask_colour(page, 340, 42)[2] > 150 and mask_colour(page, 340, 42)[0] < 60)
    page.get_by_role("button", name="Mask alone").click()
    until(page, lambda: mask_colour(page, 340, 42)[:3] == [255, 255, 255])
    assert mask_colour(page, 100, 300)[:3] == [0, 0, 0]
    page.keyboard.press("v")
    page.reload()
    until(page, lambda: mask_colour(page, 340, 42)[2] > 150 and mask_colour(page, 340, 42)[0] < 60)
    page.keyboard.press("m")
    until(page, lambda: mask_colour(page, 340, 42)[3] == 0)


def test_the_quick_ways_fill_without_being_asked(desk: Page) -> None:
    page = desk
    brush(page, 16)
    page.keyboard.down("i")
    stroke(page, SIZE, (300, 30), (320, 34))
    page.keyboard.up("i")
    state(page, 1, "provisional")
    assert (
        len(page.request.get(page.url.split("?")[0].replace("/frames/", "/api/frames/")).json()["sweeps"][0]["takes"])
        == 1
    )
    page.get_by_text("Masks and guard").click()
    page.get_by_label("Fill after each stroke").check()
    page.keyboard.press("n")
    stroke(page, SIZE, (420, 30), (440, 34))
    state(page, 2, "of 3")
    page.get_by_label("Fill after each stroke").uncheck()


def test_the_brush_is_sized_by_typing_keys_and_dragging(desk: Page) -> None:
    page = desk
    size = page.get_by_label("Size in px")
    brush(page, 40)
    page.keyboard.press("]")
    expect(size).to_have_value("45")
    page.keyboard.press("[")
    expect(size).to_have_value("40")
    page.keyboard.down("s")
    page.mouse.move(*place(page, SIZE, 300, 200))
    page.mouse.down()
    page.mouse.move(*place(page, SIZE, 330, 200), steps=4)
    page.mouse.up()
    page.keyboard.up("s")
    expect(size).to_have_value("100")
    assert page.get_by_test_id("sweep-1").count() == 0
