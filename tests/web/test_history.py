"""History through the real interface: steps with pictures, going to any of them; sweeps moved, doubled, reordered."""

import re

from playwright.sync_api import Page, expect

from tests.support.desk import SIZE, state, stroke


def test_any_step_can_be_gone_to_also_undone_ones(desk: Page) -> None:
    page = desk
    stroke(page, SIZE, (100, 60), (140, 60))
    state(page, 1, "marked")
    page.keyboard.press("n")
    stroke(page, SIZE, (300, 300), (340, 300))
    state(page, 2, "marked")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("sweep-2")).to_have_count(0)
    page.get_by_role("tab", name="History").click()
    steps = page.get_by_role("list", name="History").get_by_role("listitem")
    expect(steps).to_have_count(3)
    expect(steps.nth(0)).to_contain_text("undone")
    expect(steps.nth(1)).to_contain_text("now")
    expect(steps.nth(2)).to_contain_text("as shot")
    picture = steps.nth(1).locator("img")
    expect(picture).to_have_attribute("src", re.compile("crop"))
    steps.nth(0).get_by_role("button").click()
    expect(steps.nth(0)).to_contain_text("now")
    page.get_by_role("tab", name="Job sheet").click()
    expect(page.get_by_test_id("sweep-2")).to_be_visible()


def test_strokes_of_one_mark_stand_together_until_they_are_asked_for(desk: Page) -> None:
    page = desk
    page.get_by_role("tab", name="History").click()
    steps = page.get_by_role("list", name="History").get_by_role("listitem")
    for k in range(5):
        stroke(page, SIZE, (100, 60 + 40 * k), (140, 60 + 40 * k))
        expect(steps).to_have_count(2 + min(k, 1))
    expect(steps.nth(0)).to_contain_text("Sweep 1: 4 more strokes")
    steps.nth(0).get_by_role("button", name="show each").click()
    expect(steps).to_have_count(6)
    steps.nth(2).get_by_role("button").click()
    expect(steps.nth(2)).to_contain_text("now")


def test_a_sweep_is_doubled_reordered_and_moved(desk: Page) -> None:
    page = desk
    stroke(page, SIZE, (385, 18), (615, 64))
    state(page, 1, "marked")
    page.keyboard.press("q")
    state(page, 1, "provisional")
    page.get_by_label("Duplicate Sweep 1").click()
    state(page, 2, "marked")
    expect(page.get_by_test_id("sweep-2")).to_contain_text("Sweep 1 again")
    sweep = page.get_by_test_id("sweep-2")
    sweep.get_by_text("Order and position", exact=True).click()
    sweep.get_by_role("button", name="Earlier").click()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("Sweep 1 again")
    page.get_by_test_id("sweep-2").get_by_role("button").first.click()
    moved = page.get_by_test_id("sweep-2")
    moved.get_by_text("Order and position", exact=True).click()
    down = moved.get_by_label("Down in px")
    down.fill("60")
    down.press("Enter")
    moved.get_by_role("button", name="Move").click()
    # It had been filled: takes of the new place come by themselves.
    expect(page.get_by_role("button", name="Take 4")).to_be_visible(timeout=60_000)
