"""Every page in every state that the journey passes through, held against WCAG 2.2 A and AA by axe-core."""

import pytest
from playwright.sync_api import Page, expect

from tests.support.axe import faults
from tests.support.desk import SIZE, brush, state, stroke


def test_the_desk(desk: Page) -> None:
    page = desk
    assert faults(page) == []
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")
    assert faults(page) == []
    page.keyboard.press("q")
    state(page, 1, "provisional")
    assert faults(page) == []
    page.keyboard.press("F2")
    expect(page.get_by_role("region", name="Wall")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("F2")
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    assert faults(page) == []


@pytest.mark.scouts
def test_its_panels(desk: Page) -> None:
    page = desk
    for name in ("Finds", "History"):
        page.get_by_role("tab", name=name).click()
        expect(page.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")
        assert faults(page) == [], name
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Touch up").click()
    expect(page.get_by_role("toolbar", name="Touching up")).to_be_visible()
    assert faults(page) == []


def test_pages(page: Page) -> None:
    home = page.url.rstrip("/")
    for address in ("", "/models", "/library", "/nowhere"):
        page.goto(home + address)
        expect(page.get_by_role("heading").or_(page.get_by_role("main")).first).to_be_visible()
        assert faults(page) == [], address


def test_the_end_of_the_journey(desk: Page) -> None:
    page, here = desk, desk.url
    for step in ("deliver", "ledger"):
        page.goto(f"{here}/{step}")
        expect(page.get_by_role("main")).to_be_visible()
        assert faults(page) == [], step


def test_what_a_thing_is_for_is_told_to_a_pointer_and_to_keys(desk: Page) -> None:
    page = desk
    tip = page.get_by_role("tooltip")
    page.get_by_role("button", name="As shot").hover()
    expect(tip).to_have_count(1)
    expect(tip).to_contain_text("Key: A")
    # It does not hide what it tells of, and what can be done is still done.
    below, told = page.get_by_role("button", name="As shot").bounding_box(), tip.bounding_box()
    assert below is not None
    assert told is not None
    assert told["y"] >= below["y"] + below["height"]
    assert faults(page) == []
    page.get_by_test_id("layer").hover()
    expect(tip).to_have_count(0)
    # What cannot be done says so.
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_disabled()
    undo.hover()
    expect(tip).to_contain_text("Nothing to undo")
    page.get_by_test_id("layer").hover()
    page.get_by_role("button", name="As shot").focus()
    page.keyboard.press("Tab")
    expect(tip).to_have_count(1)
    first = tip.text_content()
    page.keyboard.press("Tab")
    expect(tip).not_to_have_text(first or "")
    page.keyboard.press("Escape")
    expect(tip).to_have_count(0)
