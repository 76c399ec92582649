"""Two windows on one frame while it is filled, and windows whose scripts are partly gone."""

import re

import pytest
from playwright.sync_api import Page, Request, expect

from tests.support.application import Application
from tests.support.desk import SIZE, brush, state, stroke

# Real fills take long enough to be watched, mostly: a busy browser may see only their end.
pytestmark = pytest.mark.engines
BEGUN = re.compile("filling|provisional")


def test_both_windows_follow_a_fill_and_keep_what_the_other_did(desk: Page) -> None:
    page = desk
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(other, 1, "marked")
    page.keyboard.press("f")
    state(other, 1, BEGUN)
    # While it is filled each window draws something of its own.
    other.keyboard.press("n")
    brush(other, 20)
    stroke(other, SIZE, (100, 300), (160, 300))
    state(page, 2, "marked")
    page.keyboard.press("n")
    stroke(page, SIZE, (300, 350), (360, 350))
    state(other, 3, "marked")
    for each in (page, other):
        state(each, 1, "provisional")
    other.get_by_test_id("sweep-1").get_by_role("button").first.click()
    expect(other.get_by_role("button", name="Take 3")).to_be_visible()
    other.keyboard.press("Enter")
    for each in (page, other):
        state(each, 1, "kept")
        state(each, 2, "marked")
        state(each, 3, "marked")
    other.close()


def test_progress_of_a_fill_makes_no_window_ask_for_the_series_again(desk: Page) -> None:
    """How far a fill is, is said several times a second; the series is read when a frame's state changes."""
    page = desk
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")
    asked: list[str] = []

    def note(request: Request) -> None:
        if re.search(r"/(standings|series)$", request.url):
            asked.append(request.url)

    page.on("request", note)
    page.keyboard.press("f")
    state(page, 1, BEGUN)
    page.get_by_role("link", name="All shoots").click()
    expect(page.get_by_text("to choose", exact=False).first).to_be_visible()
    # Opened, begun, takes that come one by one, done; not four times a second.
    assert len(asked) <= 10, asked


def test_a_desk_without_its_tips_is_a_desk(page: Page, application: Application) -> None:
    """As after an update: a part of the page that only adds something is gone."""
    page.route("**/assets/Tips-*.js", lambda route: route.abort())
    page.goto(application.address)
    expect(page.get_by_label("Name of the new shoot")).to_be_visible()
    page.get_by_role("link", name="Models").click()
    expect(page.get_by_role("heading", name="Generative models")).to_be_visible()


def test_a_page_that_could_not_be_loaded_is_left_by_a_click(page: Page) -> None:
    page.route("**/assets/LibraryPage-*.js", lambda route: route.abort())
    page.get_by_role("link", name="Library").click()
    expect(page.get_by_role("heading", name="This page could not be shown")).to_be_visible()
    page.go_back()
    expect(page.get_by_label("Name of the new shoot")).to_be_visible()
