"""The journey through the real interface: open, paint, fill, step, pick, compare, undo, deliver, reload."""

import re
import signal
from functools import partial
from pathlib import Path
from typing import Any

import httpx
import imagecodecs
import numpy as np
from numpy.typing import NDArray
from playwright.sync_api import Page, expect

from keen_sweep.core.mask.stroke import Stroke
from tests.support.application import Application
from tests.support.desk import SIZE, brush, look, place, screen_pixels, state, stroke, until
from tests.support.masks import mask_of_strokes


def fill_and_compare(page: Page) -> None:
    """A stroke, three takes of it, each seen in place, and the second one picked."""
    brush(page, 18)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")
    expect(page.get_by_label("Margin in px")).to_be_visible()
    page.keyboard.press("f")
    state(page, 1, "of 3")
    # How far its mask reaches is settled then.
    expect(page.get_by_label("Margin in px")).to_have_count(0)
    takes = page.get_by_role("region", name="Takes")
    expect(takes.get_by_role("button", name=re.compile("^Take "))).to_have_count(3)

    # Stepping in place shows each take where the rod was, and as shot shows the rod.
    on_rod = place(page, SIZE, 500, 40)
    rods = 0

    def as_shot(shot: bool) -> bool:
        return (screen_pixels(page, *on_rod)[2] < 60) == shot

    for _ in range(4):
        before = look(page)
        page.keyboard.press(".")
        expect(page.get_by_test_id("picture")).not_to_have_attribute("data-look", before)
        shot = look(page).endswith("take=0")
        rods += shot
        until(page, partial(as_shot, shot))
        assert shot or screen_pixels(page, *on_rod)[2] > 120
    assert rods == 1
    takes.get_by_role("button", name="Take 2").click()
    page.keyboard.press("Enter")
    state(page, 1, "kept · take 2")


def look_before(page: Page) -> None:
    """Before, held: this sweep as shot; let go: the pick."""
    page.keyboard.down("b")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("take=0$"))
    assert screen_pixels(page, *place(page, SIZE, 500, 40))[2] < 60
    page.keyboard.up("b")
    expect(page.get_by_test_id("picture")).not_to_have_attribute("data-look", re.compile("take=0$"))
    page.keyboard.down("a")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", "shot=true")
    page.keyboard.up("a")


def undo_and_switch_off(page: Page) -> None:
    page.keyboard.press("Control+z")
    state(page, 1, "provisional")
    page.keyboard.press("Control+Shift+z")
    state(page, 1, "kept")
    page.get_by_role("button", name=re.compile("^Switch off")).click()
    state(page, 1, " · off")
    page.keyboard.press("o")
    expect(page.get_by_test_id("sweep-1")).not_to_contain_text(" · off")
    state(page, 1, "kept · take 2")


def test_the_whole_journey(desk: Page, application: Application, photo: Path) -> None:
    page = desk
    fill_and_compare(page)
    look_before(page)
    undo_and_switch_off(page)

    # Reload, and again after the server was killed and started anew: all is there.
    page.reload()
    state(page, 1, "kept · take 2")
    application.stop(signal.SIGKILL)
    application.start()
    page.reload()
    state(page, 1, "kept · take 2")

    page.get_by_role("button", name=re.compile("^Deliver")).click()
    page.get_by_role("radio", name=re.compile("^TIFF")).check()
    page.get_by_role("radio", name=re.compile("^PNG")).check()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver", exact=True).click()
    assert download.value.suggested_filename == "rod-swept.png"
    after = imagecodecs.png_decode(Path(download.value.path()).read_bytes())
    as_it_was = imagecodecs.png_decode(photo.read_bytes())
    # The stroke as the hand made it lies within two pixels of the one meant.
    near = mask_of_strokes([Stroke(points=((392, 18), (500, 40), (608, 62)), size=23)], *SIZE) > 0
    assert np.array_equal(after[~near], as_it_was[~near])
    assert (after[40, 500] > 100).all()


def test_painting_shows_at_once_and_taking_away_works(desk: Page) -> None:
    page = desk
    brush(page, 60)
    calls: list[str] = []
    # What scouts have found meanwhile is fetched whatever the hand does.
    page.on("request", lambda request: None if request.url.endswith("/scouts") else calls.append(request.url))
    start = place(page, SIZE, 150, 300)
    page.mouse.move(*start)
    page.mouse.down()
    for step in range(200):
        page.mouse.move(start[0] + step, start[1] + 20 * np.sin(step / 15))
    drawn = page.evaluate(
        """() => {
          const layer = document.querySelector('[data-testid=layer]');
          const data = layer.getContext('2d').getImageData(0, 0, layer.width, layer.height).data;
          let n = 0;
          for (let i = 3; i < data.length; i += 4) n += data[i] > 0;
          return n;
        }"""
    )
    assert drawn > 3_000  # the mask is on screen while the button is still down
    assert calls == []  # and the server has not been asked
    page.mouse.up()
    state(page, 1, "marked")
    page.keyboard.down("t")
    stroke(page, SIZE, (150, 300), (180, 300))
    page.keyboard.up("t")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("data-tip", re.compile("take away from mark"))
    page.keyboard.press("]")
    expect(page.get_by_label("Size in px")).to_have_value("68")
    page.keyboard.press("[")
    page.keyboard.press("[")
    expect(page.get_by_label("Size in px")).to_have_value("53")


def test_several_sweeps_wait_in_a_row_while_one_goes_on_working(desk: Page) -> None:
    page = desk
    brush(page, 30)
    for number, x in enumerate((100, 300, 500), start=1):
        page.keyboard.press("n")
        stroke(page, SIZE, (x, 330), (x + 30, 340))
        state(page, number, "marked")
        page.keyboard.press("f")
    page.keyboard.press("n")
    stroke(page, SIZE, (200, 250), (210, 260))
    state(page, 4, "marked")
    for number in (1, 2, 3):
        state(page, number, "provisional")
    page.get_by_test_id("sweep-2").get_by_role("button").first.click()
    page.keyboard.press("Delete")
    expect(page.get_by_test_id("sweep-4")).to_have_count(0)
    page.keyboard.press("Control+z")
    state(page, 4, "marked")


def test_a_quick_look_is_one_rough_take_and_fine_ones_join_it(desk: Page) -> None:
    page = desk
    brush(page, 20)
    stroke(page, SIZE, (120, 330), (180, 345))
    state(page, 1, "marked")
    # The mark is short: stages are not offered.
    expect(page.get_by_role("button", name=re.compile("^In stages"))).to_have_count(0)
    page.keyboard.press("q")
    state(page, 1, "provisional")
    page.keyboard.press("f")
    state(page, 1, "of 4")


def test_a_long_mark_can_be_filled_in_stages(page: Page, photograph: NDArray[Any], tmp_path: Path) -> None:
    large = np.kron(photograph[100:300, 50:350], np.ones((3, 3, 1), np.uint8))
    file = tmp_path / "large.png"
    file.write_bytes(imagecodecs.png_encode(large))
    page.get_by_label("Name of the new shoot").fill("Long")
    page.get_by_role("button", name="Make shoot").click()
    shoot = page.get_by_role("region", name="Long")
    shoot.get_by_label("Pictures for Long").set_input_files(str(file))
    shoot.get_by_role("link", name="large.png").click()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    brush(page, 40)
    stroke(page, (900, 600), (60, 300), (850, 320))
    state(page, 1, "marked")
    page.get_by_role("button", name=re.compile("^In stages")).click()
    state(page, 1, "of 3")


def test_zoom_hand_and_folding_keep_the_picture_first(desk: Page, photograph: NDArray[Any]) -> None:
    page = desk
    page.keyboard.press("1")
    expect(page.get_by_label("Zoom")).to_have_text("100 %")
    page.keyboard.press("2")
    expect(page.get_by_label("Zoom")).to_have_text("200 %")
    room = page.get_by_test_id("picture").bounding_box()
    assert room is not None
    assert room["width"] * room["height"] > 0.6 * 1280 * 800 * 0.95
    middle = (room["x"] + room["width"] / 2, room["y"] + room["height"] / 2)
    page.mouse.move(*middle)
    row, column = SIZE[1] // 2, SIZE[0] // 2
    # At each whole size the picture is moved onto the screen's pixels, by half a pixel at most.
    about = photograph[row - 2 : row + 3, column - 2 : column + 3].reshape(-1, 3).astype(int)

    def shows_the_middle(x: float, y: float) -> bool:
        """Whether a place of the screen shows the picture's middle: tiles of a smaller size do so only roughly."""
        seen = np.array(screen_pixels(page, x, y)[:3])
        return bool((abs(about - seen) <= 1).all(axis=1).any())

    until(page, lambda: shows_the_middle(*middle))
    assert not shows_the_middle(middle[0] + 150, middle[1] + 90)
    page.keyboard.down(" ")
    page.mouse.down()
    page.mouse.move(middle[0] + 150, middle[1] + 90, steps=5)
    page.mouse.up()
    page.keyboard.up(" ")
    until(page, lambda: shows_the_middle(middle[0] + 150, middle[1] + 90))
    page.mouse.wheel(0, -400)
    expect(page.get_by_label("Zoom")).not_to_have_text("200 %")
    page.keyboard.press("0")
    page.keyboard.press("p")
    expect(page.get_by_role("complementary", name="Job sheet")).to_have_count(0)
    page.keyboard.press("p")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("Next take, in place")
    page.keyboard.press("Escape")


def test_files_that_fail_say_why_and_the_others_come_in(page: Page, photo: Path, tmp_path: Path) -> None:
    text, cut = tmp_path / "notes.jpg", tmp_path / "cut.png"
    text.write_text("no picture at all")
    cut.write_bytes(photo.read_bytes()[:5_000])
    page.get_by_label("Name of the new shoot").fill("Mixed files")
    page.keyboard.press("Enter")
    shoot = page.get_by_role("region", name="Mixed files")
    shoot.get_by_label("Pictures for Mixed files").set_input_files([str(text), str(photo), str(cut)])
    lines = shoot.get_by_role("list", name="Files being added")
    expect(lines).to_contain_text("not JPEG, PNG, TIFF")
    expect(lines).to_contain_text("damaged or cut short")
    expect(shoot.get_by_role("link")).to_have_count(1)
    shoot.get_by_role("button", name="Hide this list").click()
    expect(lines).to_have_count(0)


def test_two_windows_see_each_others_work(desk: Page) -> None:
    page = desk
    other = page.context.new_page()
    other.goto(page.url.split("?")[0])
    expect(other.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    brush(page, 30)
    stroke(page, SIZE, (100, 330), (130, 340))
    state(other, 1, "marked")
    brush(other, 30)
    stroke(other, SIZE, (300, 330), (330, 340))
    state(page, 2, "marked")


def test_what_is_there_stays_when_it_cannot_be_fetched_anew(desk: Page, application: Application) -> None:
    page = desk
    here = re.search(r"/frames/\d+", page.url)
    assert here is not None
    the_frame = re.compile(rf"/api{here[0]}$")
    page.route(the_frame, lambda route: route.abort())
    # Somebody else's edit is news, upon which the desk is fetched.
    shape = {"kind": "stroke", "points": [[100, 330], [130, 340]], "size": 20}
    httpx.post(f"{application.address}/api{here[0]}/sweeps", json={"shapes": [shape]}).raise_for_status()
    said = page.get_by_role("alert")
    expect(said).to_contain_text("does not respond")
    expect(page.get_by_test_id("picture")).to_be_visible()
    page.unroute(the_frame)
    said.get_by_role("button", name="Try again").click()
    expect(said).to_have_count(0)
    state(page, 1, "marked")


def test_a_server_that_is_gone_is_said_and_nothing_is_lost(desk: Page, application: Application) -> None:
    page = desk
    application.stop()
    try:
        brush(page, 30)
        stroke(page, SIZE, (100, 330), (130, 340))
        expect(page.get_by_role("alert")).to_contain_text("does not respond")
    finally:
        application.start()
    page.reload()
    stroke(page, SIZE, (100, 330), (130, 340))
    state(page, 1, "marked")
