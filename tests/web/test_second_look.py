"""The second look through the real interface: snags listed, gone to, mended, dismissed; favourites; filling a spot."""

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.support.desk import SIZE, brush, filled, place, state, stroke, until_dark

pytestmark = pytest.mark.second_look


def reviewed(page: Page) -> Locator:
    """The rod filled but for its end, and what the second look says of that."""
    brush(page, 16)
    stroke(page, SIZE, (385, 18), (574, 55))
    state(page, 1, "marked")
    page.keyboard.press("f")
    state(page, 1, "provisional")
    second = page.get_by_role("region", name="Second look")
    expect(second).to_contain_text("leftover")
    return second


def test_a_bit_left_of_the_rod_is_found_gone_to_and_taken_in(desk: Page) -> None:
    page = desk
    second = reviewed(page)
    expect(page.get_by_test_id("sweep-1")).to_contain_text("snag")
    page.keyboard.press("0")
    page.keyboard.press(";")
    expect(page.get_by_label("Zoom")).to_have_text("100 %")
    second.get_by_role("button", name=re.compile("leftover")).click()
    expect(second).to_contain_text("look like what was removed")
    page.keyboard.press("0")
    second.get_by_role("button", name="Add to mask, refill").click()
    state(page, 1, "of 6")


def test_a_dismissed_snag_stays_so(desk: Page) -> None:
    page = desk
    second = reviewed(page)
    for _ in range(8):
        if second.get_by_test_id("snag").count() == 0:
            break
        before = second.get_by_test_id("snag").count()
        page.keyboard.press(";")
        page.keyboard.press("Backspace")
        expect(second.get_by_test_id("snag")).to_have_count(before - 1)
    expect(second).to_contain_text("No snags found")
    with page.expect_response(re.compile("/review")):
        second.get_by_role("button", name="Review again").click()
    expect(second).to_contain_text("No snags found")
    expect(second.get_by_test_id("snag")).to_have_count(0)


def test_favourites_and_later_fills_are_told_apart(desk: Page) -> None:
    page = desk
    filled(page)
    page.keyboard.press("*")
    hearts = page.get_by_role("button", name=re.compile("^Favourite"))
    expect(page.locator("[aria-pressed=true][aria-label^=Favourite]")).to_have_count(1)
    page.keyboard.press("f")
    expect(page.get_by_role("button", name="Take 6", exact=True)).to_be_visible(timeout=30_000)
    expect(hearts).to_have_count(6)
    titles = [page.get_by_role("button", name=f"Take {k}", exact=True).get_attribute("data-tip") or "" for k in (1, 6)]
    assert "Fill 1 of 2" in titles[0]
    assert "Fill 2 of 2" in titles[1]
    assert all("seed" in title for title in titles)
    page.get_by_role("button", name="Take 1", exact=True).click()
    page.keyboard.press("Enter")
    state(page, 1, "take 1")


def test_a_fault_is_painted_over_and_only_that_spot_is_filled_again(desk: Page) -> None:
    page = desk
    filled(page)
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    brush(page, 30)
    stroke(page, SIZE, (480, 38), (500, 42))
    state(page, 2, "marked")
    page.keyboard.press("f")
    state(page, 2, "provisional")
    expect(page.get_by_role("button", name="Take 3", exact=True)).to_be_visible()
    state(page, 1, "kept")


def test_before_can_leave_out_several_sweeps(desk: Page) -> None:
    page = desk
    brush(page, 16)
    for k, (x0, x1) in enumerate(((385, 480), (520, 615)), start=1):
        page.keyboard.press("n")
        stroke(page, SIZE, (x0, 18 + (x0 - 385) * 0.2), (x1, 18 + (x1 - 385) * 0.2))
        state(page, k, "marked")
        page.keyboard.press("f")
        state(page, k, "provisional")
        expect(page.get_by_role("button", name="Take 3", exact=True)).to_be_visible()
        page.keyboard.press("Enter")
        state(page, k, "kept")
    until_dark(page, 440, 28, False)
    page.get_by_test_id("sweep-1").get_by_role("button").first.click(modifiers=["Shift"])
    page.mouse.move(*place(page, SIZE, 300, 300))
    page.keyboard.down("b")
    until_dark(page, 440, 28, True)
    until_dark(page, 570, 54, True)
    page.keyboard.up("b")
    until_dark(page, 440, 28, False)
