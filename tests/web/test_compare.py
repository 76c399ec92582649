"""Comparing takes through the real interface: a moving line, blinking, the difference, and against which take."""

import re

from playwright.sync_api import Page, Route, expect

from tests.support.desk import SIZE, filled, place, screen_pixels, state, stroke, until, until_dark


def test_a_line_splits_two_takes_and_can_be_moved(desk: Page) -> None:
    page = desk
    filled(page)
    # The rod runs through (420, 24) and (580, 56); filled, neither is dark.
    until_dark(page, 420, 24, False)
    page.keyboard.press("r")
    expect(page.get_by_role("button", name="Split")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-over", re.compile("take=0"))
    # The line stands in the middle of the room, at x = 320: all of the rod is to its right.
    until_dark(page, 420, 24, False)
    start, end = place(page, SIZE, 320, 300), place(page, SIZE, 500, 300)
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=5)
    page.mouse.up()
    until_dark(page, 420, 24, True)
    until_dark(page, 580, 56, False)
    assert page.get_by_test_id("sweep-2").count() == 0, "moving the line paints nothing"
    page.keyboard.press("r")
    until_dark(page, 420, 24, False)
    expect(page.get_by_test_id("picture")).to_have_attribute("data-over", "")


def test_takes_blink_and_differ(desk: Page) -> None:
    page = desk
    filled(page)
    picture = page.get_by_test_id("picture")
    page.keyboard.press("e")
    expect(picture).to_have_attribute("data-look", re.compile("take=0"))
    expect(picture).not_to_have_attribute("data-look", re.compile("take=0"))
    expect(picture).to_have_attribute("data-look", re.compile("take=0"))
    page.keyboard.press("d")
    expect(picture).to_have_attribute("data-look", re.compile("unlike=0"))
    # Grey where nothing changed, far from it where the rod was.
    until(page, lambda: all(abs(v - 128) <= 2 for v in screen_pixels(page, *place(page, SIZE, 100, 300))[:3]))
    gone = screen_pixels(page, *place(page, SIZE, 500, 40))[:3]
    assert max(abs(value - 128) for value in gone) > 100
    page.keyboard.press("d")
    expect(picture).not_to_have_attribute("data-look", re.compile("unlike"))


def test_what_to_compare_with_is_chosen_by_key_and_by_list(desk: Page) -> None:
    page = desk
    filled(page)
    choice = page.get_by_label("Compare with")
    chosen = choice.locator("option:checked")
    expect(chosen).to_have_text("as shot")
    page.keyboard.press("w")
    expect(chosen).to_have_text(re.compile("take"))
    page.keyboard.press("r")
    picture = page.get_by_test_id("picture")
    expect(picture).to_have_attribute("data-over", re.compile("take=[1-9]"))
    choice.select_option("as shot")
    expect(picture).to_have_attribute("data-over", re.compile("take=0"))
    # As shot covers all of it while its key is held.
    page.keyboard.down("a")
    expect(picture).to_have_attribute("data-over", "")
    page.keyboard.up("a")
    expect(picture).to_have_attribute("data-over", re.compile("take=0"))


def test_delivery_size_shows_the_picture_as_wide_as_it_will_be(desk: Page) -> None:
    page = desk
    size = page.get_by_label("Delivery size")
    size.select_option("web, 2048 px")
    expect(page.get_by_label("Zoom")).to_have_text("320 %")
    page.keyboard.press("1")
    expect(page.get_by_label("Zoom")).to_have_text("100 %")
    page.keyboard.press("z")
    expect(page.get_by_label("Zoom")).to_have_text("320 %")
    size.select_option("another width…")
    field = page.get_by_role("dialog", name="Delivery size").get_by_label("Width on screen in px")
    field.fill("320")
    field.press("Enter")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_label("Zoom")).to_have_text("50 %")
    # It is remembered.
    page.reload()
    expect(page.get_by_label("Delivery size")).to_have_value("320 px wide")


def test_takes_are_mixed_by_a_brush(desk: Page) -> None:
    page = desk
    filled(page)
    page.keyboard.press("x")
    expect(page.get_by_role("button", name="Mix")).to_have_attribute("aria-pressed", "true")
    # Compared with as shot: the brush brings the rod back at its left end.
    stroke(page, SIZE, (395, 20), (440, 28))
    expect(page.get_by_role("button", name="✓ Take 4")).to_be_visible()
    until_dark(page, 420, 24, True)
    until_dark(page, 580, 56, False)
    assert page.get_by_test_id("sweep-2").count() == 0
    # The next stroke goes on from there, and undo takes it back.
    stroke(page, SIZE, (560, 52), (600, 60))
    expect(page.get_by_role("button", name="✓ Take 5")).to_be_visible()
    until_dark(page, 580, 56, True)
    until_dark(page, 420, 24, True)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="✓ Take 4")).to_be_visible()


def over_the_picture(page: Page, x: float, y: float) -> list[int]:
    """The colour of what is painted over a pixel of the picture, and how much of it."""
    found: list[int] = page.evaluate(
        """([x, y]) => {
          const canvas = document.querySelector('[data-testid=layer]');
          const edge = canvas.getBoundingClientRect();
          const ratio = canvas.width / edge.width;
          const at = canvas.getContext('2d').getImageData((x - edge.left) * ratio, (y - edge.top) * ratio, 1, 1);
          return [...at.data];
        }""",
        place(page, SIZE, x, y),
    )
    return found


def test_a_first_look_shows_it_gone_before_there_is_any_take(desk: Page) -> None:
    page = desk
    stroke(page, SIZE, (385, 18), (615, 64))
    state(page, 1, "marked")
    held: list[Route] = []
    let_go: list[bool] = []
    # Whatever the desk fetches of the frame waits, so that no take can be there.
    of_the_frame = re.compile(r"/api/frames/\d+$")

    def hold(route: Route) -> None:
        if let_go:
            route.continue_()
        else:
            held.append(route)

    def sky_lies_over_the_rod() -> bool:
        sky = screen_pixels(page, *place(page, SIZE, 500, 90))[:3]
        *colour, cover = over_the_picture(page, 500, 40)
        return cover == 255 and max(abs(a - b) for a, b in zip(colour, sky, strict=True)) < 30

    page.route(of_the_frame, hold)
    assert not sky_lies_over_the_rod()
    page.keyboard.press("f")
    until(page, sky_lies_over_the_rod)
    expect(page.get_by_role("button", name="Take 1", exact=True)).to_have_count(0)
    let_go.append(True)
    for each in held:
        each.continue_()
    state(page, 1, "provisional")
    # The take is in the picture itself, and nothing lies over it any more.
    until(page, lambda: not sky_lies_over_the_rod())
    until_dark(page, 500, 40, wanted=False)
