"""Touching up through the real interface: a source by a held key, cloning over the rod, healing, bringing back."""

import re

from playwright.sync_api import Page, expect

from tests.support.desk import SIZE, brush, place, stroke, until_dark
from tests.support.sure import sure


def source(page: Page, x: float, y: float) -> None:
    page.keyboard.down("c")
    page.mouse.click(*place(page, SIZE, x, y))
    page.keyboard.up("c")


def strokes(page: Page, words: str) -> None:
    expect(page.get_by_test_id("touch-ups")).to_contain_text(words)


def test_the_rod_is_cloned_away_and_brought_back(desk: Page) -> None:
    page = desk
    # A rod runs through the sky, dark at (500, 40).
    until_dark(page, 500, 40, True)
    page.keyboard.press("3")
    expect(page.get_by_role("toolbar", name="Touching up")).to_contain_text("Hold C and click")
    brush(page, 24)
    stroke(page, SIZE, (490, 38), (510, 42))
    assert page.get_by_test_id("touch-ups").count() == 0, "without a source nothing is cloned"
    source(page, 500, 110)
    expect(page.get_by_role("button", name="Source")).to_be_visible()
    stroke(page, SIZE, (480, 36), (520, 44))
    strokes(page, "1 clone")
    until_dark(page, 500, 40, False)
    # Aligned, the next stroke copies from beside the last source: sky again.
    stroke(page, SIZE, (430, 26), (470, 34))
    strokes(page, "2 clone")
    until_dark(page, 450, 30, False)
    # Part of it is brought back, and that is undone.
    page.keyboard.press("-")
    brush(page, 10)
    stroke(page, SIZE, (500, 40), (501, 40))
    strokes(page, "2 clone, 1 bring back")
    until_dark(page, 500, 40, True)
    page.keyboard.press("Control+z")
    until_dark(page, 500, 40, False)
    page.get_by_role("button", name="Switch off touch-ups").click()
    until_dark(page, 500, 40, True)
    page.get_by_role("button", name="Switch on touch-ups").click()
    until_dark(page, 450, 30, False)
    page.get_by_role("button", name="Delete the last touch-up").click()
    strokes(page, "1 clone")
    until_dark(page, 450, 30, True)
    page.get_by_role("tab", name="History").click()
    expect(page.get_by_role("list", name="History")).to_contain_text("delete touch-ups")
    page.keyboard.press("5")
    expect(page.get_by_role("toolbar", name="Marking")).to_be_visible()


def test_a_source_that_runs_into_a_mark_is_pointed_out(desk: Page) -> None:
    page = desk
    brush(page, 30)
    stroke(page, SIZE, (480, 36), (520, 44))
    expect(page.get_by_test_id("sweep-1")).to_contain_text("marked")
    page.keyboard.press("3")
    source(page, 500, 40)
    stroke(page, SIZE, (300, 120), (310, 120))
    expect(page.get_by_role("toolbar").get_by_role("status")).to_contain_text("runs into what is being removed")


def test_strength_mirror_and_turn_are_set_by_number(desk: Page) -> None:
    page = desk
    page.keyboard.press("3")
    source(page, 500, 110)
    brush(page, 24)
    bar = page.get_by_role("toolbar", name="Touching up")
    for label, value in (("Strength in %", "20"), ("Rotate in °", "90")):
        bar.get_by_label(label).fill(value)
        bar.get_by_label(label).press("Enter")
    page.get_by_role("button", name="Mirror").click()
    with page.expect_request(re.compile("/touches$")) as sent:
        stroke(page, SIZE, (490, 38), (510, 42))
    body = sure(sent.value.post_data_json)
    assert (body["strength"], body["source"]["turn"], body["source"]["mirror"]) == (20, 90, True)
    strokes(page, "1 clone")
    until_dark(page, 500, 40, True)  # a fifth of sky over the rod leaves it dark


def test_a_heal_finds_its_source_and_the_view_shows_it_after_a_reload(desk: Page) -> None:
    page = desk
    page.keyboard.press("4")
    brush(page, 22)
    stroke(page, SIZE, (480, 36), (520, 44))
    strokes(page, "1 heal")
    until_dark(page, 500, 40, False)
    page.reload()
    strokes(page, "1 heal")
    until_dark(page, 500, 40, False)
