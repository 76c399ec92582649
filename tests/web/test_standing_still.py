"""What comes by itself moves nothing: the picture on the desk stays where it is through the whole journey, and on the
other pages nothing that can be clicked moves when an answer arrives late."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from playwright.sync_api import Page, Request, Route, expect

from tests.support.application import Application
from tests.support.desk import SIZE, brush, filled, state, stroke

Rectangle = list[float]
# How many looks at a page without traffic make it quiet.
CALM_LOOKS = 4


def picture_on_screen(page: Page) -> Rectangle:
    """Where the picture itself lies in the window, CSS pixels: left, top, width, height."""
    room = page.get_by_test_id("picture").bounding_box()
    assert room is not None
    return [round(room[each]) for each in ("x", "y", "width", "height")] + [
        float(re.sub(r"\D", "", page.get_by_label("Zoom").inner_text()))
    ]


@contextmanager
def nothing_moves(page: Page, where: str) -> Iterator[None]:
    before = picture_on_screen(page)
    yield
    assert picture_on_screen(page) == before, where


@pytest.mark.newcomer
def test_the_picture_stays_where_it_is_through_the_journey(desk: Page) -> None:
    page = desk
    page.get_by_role("button", name="Cling", exact=True).click()
    expect(page.get_by_label("Zoom")).to_contain_text("%")
    with nothing_moves(page, "a mark"):
        brush(page, 23)
        stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
        state(page, 1, "marked")
    with nothing_moves(page, "a second mark, and hints for a newcomer"):
        page.keyboard.press("n")
        stroke(page, SIZE, (100, 300), (180, 300))
        state(page, 2, "marked")
    with nothing_moves(page, "takes come"):
        page.keyboard.press("f")
        state(page, 2, "provisional")
        expect(page.get_by_role("button", name="Take 3")).to_be_visible()
    with nothing_moves(page, "a pick"):
        page.keyboard.press("Enter")
        state(page, 2, "kept")
    with nothing_moves(page, "a message"):
        page.keyboard.press("Delete")
        expect(page.get_by_role("status").filter(has_text="deleted")).to_be_visible()
    with nothing_moves(page, "what was deleted comes back"):
        page.get_by_role("button", name="Bring back").click()
        state(page, 2, "kept")
    with nothing_moves(page, "the newcomer knows the way"):
        page.get_by_role("button", name="I know my way").click()
        expect(page.get_by_role("button", name="I know my way")).to_have_count(0)
    with nothing_moves(page, "finds"):
        page.get_by_role("tab", name=re.compile("Finds")).click()
        expect(page.get_by_role("button", name="Keep and fill")).to_be_visible()
        page.get_by_role("tab", name="Job sheet").click()
    with nothing_moves(page, "touching up"):
        page.get_by_role("button", name="Touch up", exact=True).click()
        expect(page.get_by_role("toolbar", name="Touching up")).to_be_visible()


def test_the_first_tile_of_the_tray_is_a_picture_while_a_fill_waits(desk: Page) -> None:
    page = desk
    wrong: list[str] = []
    page.on("response", lambda answer: wrong.append(answer.url) if answer.status >= 400 else None)
    filled(page)
    shot = page.get_by_role("region", name="Takes").get_by_role("button", name="as shot").locator("img")
    page.wait_for_function("image => image.complete && image.naturalWidth > 0", arg=shot.element_handle())
    assert wrong == []


CLICKABLE = """() => [...document.querySelectorAll('a, button, input, select, textarea, [role=tab]')]
  .filter((each) => each.checkVisibility({ visibilityProperty: true }) && each.getBoundingClientRect().width)
  .map((each, k) => {
    each.dataset.still ??= String(Math.random());
    const { x, y } = each.getBoundingClientRect();
    return [each.dataset.still, (each.textContent || each.ariaLabel || each.tagName).slice(0, 40), x, y + scrollY];
  })"""


def places(page: Page) -> dict[str, Any]:
    """What can be clicked on a page, and where it is."""
    return {name: (words, round(x), round(y)) for name, words, x, y in page.evaluate(CLICKABLE)}


def holding() -> tuple[list[Route], Callable[[Route], None]]:
    """What is held back, and what holds it back."""
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    return held, hold


class Traffic:
    """What a page is waiting for of the server, but for its stream of events."""

    def __init__(self, page: Page) -> None:
        self.page, self.open, self.asked = page, set[Request](), set[str]()
        page.on("request", self._asked)
        page.on("requestfinished", self._answered)
        page.on("requestfailed", self._answered)

    def _asked(self, request: Request) -> None:
        if "/api/events" in request.url:
            return
        self.open.add(request)
        if request.method == "GET" and re.search(r"/api/(?!frames/\d+/(tiles|crop))", request.url):
            self.asked.add(request.url)

    def _answered(self, request: Request) -> None:
        self.open.discard(request)

    def quiet(self, late: str = "") -> None:
        """Wait until nothing is asked for any more, but for what is held back; what one answer leads to comes within
        three looks."""
        calm, before = 0, len(self.asked)
        while calm < CALM_LOOKS or not self.asked:
            self.page.wait_for_timeout(60)
            busy = any(each.url != late for each in self.open) or len(self.asked) != before
            calm, before = 0 if busy else calm + 1, len(self.asked)


@pytest.mark.parametrize("path", ["/", "/models", "/library", "deliver", "ledger"])
def test_nothing_that_can_be_clicked_moves_when_an_answer_comes_late(
    desk: Page, application: Application, path: str
) -> None:
    """Each answer in turn is the last to come."""
    page = desk
    address = page.url.split("?")[0] + f"/{path}" if path[0] != "/" else application.address + path
    traffic = Traffic(page)
    page.goto(address)
    traffic.quiet()
    assert traffic.asked
    for late in sorted(traffic.asked):
        held, hold = holding()
        page.route(late, hold)
        page.goto(address)
        traffic.quiet(late)
        before = places(page)
        for each in held:
            each.continue_()
        page.unroute(late, hold)
        traffic.quiet()
        after = places(page)
        both = before.keys() & after.keys()
        moved = {before[name]: after[name] for name in both if before[name][1:] != after[name][1:]}
        assert not moved, late
