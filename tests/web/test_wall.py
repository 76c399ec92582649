"""The wall: all takes side by side at one place; and views that go where the work is, in a small window too."""

import re
from functools import partial

import pytest
from playwright.sync_api import Page, expect

from tests.support.desk import SIZE, brush, state, stroke, until


@pytest.fixture
def two(desk: Page) -> Page:
    """A sweep with two takes."""
    page = desk
    page.get_by_role("button", name="I know my way").click()
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")
    page.keyboard.press("q")
    state(page, 1, "provisional")
    page.keyboard.press("q")
    expect(page.get_by_role("region", name="Takes").get_by_role("button", name="Take 2", exact=True)).to_be_visible()
    state(page, 1, "provisional")
    return page


def places(page: Page) -> list[str | None]:
    found = page.get_by_role("region", name="Wall").locator("[data-place]")
    return [found.nth(k).get_attribute("data-place") for k in range(found.count())]


def alike(page: Page, names: int) -> bool:
    now = [tuple(map(int, each.split())) for each in places(page) if each]
    # Rounded by each for itself.
    return len(now) == names and all(max(abs(a - b) for a, b in zip(now[0], each, strict=True)) <= 1 for each in now)


def test_takes_hang_side_by_side_at_one_place_and_one_is_picked(two: Page) -> None:
    page = two
    page.keyboard.press("F2")
    wall = page.get_by_role("region", name="Wall")
    expect(wall.get_by_role("group")).to_have_count(3)
    until(page, lambda: alike(page, 3))
    began = places(page)[0]
    # Zoomed and moved in one, all of them go along.
    page.keyboard.press("2")
    until(page, lambda: alike(page, 3) and (places(page)[0] or "").endswith(" 2000"))
    assert places(page)[0] != began
    box = page.get_by_test_id("hung-Take 1").bounding_box()
    assert box is not None
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    near = places(page)[0]
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0] - 60, middle[1] - 20, steps=5)
    page.mouse.up()
    until(page, lambda: alike(page, 3) and places(page)[0] != near)
    # One is out, the other is picked.
    page.get_by_role("group", name="Take 1").get_by_role("button").click()
    expect(page.get_by_role("group", name="Take 1")).to_have_attribute("aria-current", "true")
    page.keyboard.press("-")
    expect(wall.get_by_role("group")).to_have_count(2)
    expect(page.get_by_role("group", name="Take 2")).to_have_attribute("aria-current", "true")
    page.keyboard.press("Enter")
    expect(page.get_by_role("group", name="Take 2, the pick")).to_be_visible()
    wall.get_by_role("button", name="Bring 1 back").click()
    expect(wall.get_by_role("group")).to_have_count(3)
    wall.get_by_role("combobox", name="Takes at a time").select_option("2")
    expect(wall.get_by_role("group")).to_have_count(2)
    page.keyboard.press("F2")
    expect(wall).to_have_count(0)
    state(page, 1, "kept · take 2")
    # The desk is where the wall was.
    expect(page.get_by_label("Zoom")).to_have_text("200 %")


def test_full_size_goes_to_the_sweep_and_home_back(two: Page) -> None:
    page = two
    zoom = page.get_by_label("Zoom")
    expect(zoom).not_to_have_text("200 %")
    fitted = zoom.inner_text()
    page.keyboard.press("2")
    expect(page.get_by_label("Zoom")).to_have_text("200 %")
    # The chosen sweep lies high on the right: it is in the middle now, as far as the picture's edge lets it.
    flag = page.get_by_role("listitem").filter(has_text="Sweep 1")
    expect(flag).to_be_visible()
    page.keyboard.press("Home")
    expect(page.get_by_label("Zoom")).not_to_have_text("200 %")
    page.keyboard.press("0")
    expect(zoom).to_have_text(fitted)


def test_nothing_is_cut_off(two: Page) -> None:
    """Every control of the desk lies in the window, at every size of it; the picture keeps its room."""
    page = two
    cut = """() => [...document.querySelectorAll('header button, header select, [role=toolbar] button, aside button')]
      .filter((each) => {
        const at = each.getBoundingClientRect();
        return at.width && (at.left < 0 || at.right > innerWidth || at.top < 0 || at.bottom > innerHeight);
      }).map((each) => each.textContent)"""

    def share() -> float:
        room, (wide, high) = page.get_by_test_id("layer").bounding_box(), page.evaluate("[innerWidth, innerHeight]")
        return room["width"] * room["height"] / (wide * high) if room else 0.0

    def whole(wide: int) -> bool:
        return bool(page.evaluate("innerWidth") == wide and page.evaluate(cut) == [])

    for wide, high in ((1024, 700), (1280, 800), (2560, 1440)):
        page.set_viewport_size({"width": wide, "height": high})
        until(page, partial(whole, wide))
        until(page, lambda: share() > 0.45)


def test_a_link_to_a_sweep_survives_and_the_title_tells_what_is_done(two: Page) -> None:
    page = two
    expect(page).to_have_url(re.compile(r"/frames/\d+\?sweep=1$"))
    expect(page).to_have_title("rod.png · Keen Sweep")
    page.reload()
    chosen = page.get_by_test_id("sweep-1")
    expect(chosen).to_have_attribute("aria-current", "true")
    page.keyboard.press("n")
    expect(page).to_have_url(re.compile(r"/frames/\d+$"))
    page.go_back()
    page.go_forward()
    expect(page.get_by_test_id("sweep-1")).to_be_visible()
