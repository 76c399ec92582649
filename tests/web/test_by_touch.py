"""The journey by touch: one finger draws, two move and zoom, a pen keeps the resting hand out."""

import re
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest
from playwright.sync_api import CDPSession, Locator, Page, expect

from tests.support.application import Application
from tests.support.desk import SIZE, brush, mask_of, place, places, state, until
from tests.support.pages import Contexts
from tests.web.conftest import PAGE_MS, watch

Point = tuple[float, float]


@pytest.fixture
def tablet(contexts: Contexts, application: Application, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page on a screen of twice the density that is touched."""
    screen = {"width": 1180, "height": 820}
    context = contexts.get(
        cling=False, scouts=False, advice=False, viewport=screen, has_touch=True, device_scale_factor=2
    )
    made = context.new_page()
    made.set_default_timeout(PAGE_MS)
    watch(made, request)
    made.goto(application.address)
    yield made
    contexts.clear(context, application.address)


@pytest.fixture
def touched(tablet: Page, photo: Path, request: pytest.FixtureRequest) -> Page:
    page = tablet
    name = request.node.name.replace("_", " ")
    page.get_by_label("Name of the new shoot").fill(name)
    tap(page.get_by_role("button", name="Make shoot"))
    shoot = page.get_by_role("region", name=name)
    shoot.get_by_label(f"Pictures for {name}").set_input_files(str(photo))
    tap(shoot.get_by_role("link", name="rod.png"))
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    return page


def fingers(hand: CDPSession, kind: str, *points: Point, when: float | None = None) -> None:
    at = [{"x": x, "y": y, "id": k} for k, (x, y) in enumerate(points)]
    told = {} if when is None else {"timestamp": when}
    hand.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": at, **told})


def tap(thing: Locator) -> None:
    """A short touch, however long a busy machine takes to pass it on: half a second would be a finger that stays. Of
    some that come soon after a stroke the browser makes no click, though it has both their ends: one taps again."""
    page = thing.page
    hand = page.context.new_cdp_session(page)
    page.evaluate("addEventListener('click', () => document.body.dataset.clicked = 'yes', {capture: true, once: true})")
    for _ in range(5):
        thing.tap(trial=True)
        box = thing.bounding_box()
        assert box is not None
        now = time.time()
        fingers(hand, "touchStart", (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), when=now)
        fingers(hand, "touchEnd", when=now + 0.05)
        with suppress(AssertionError):
            expect(page.locator("body[data-clicked]")).to_have_count(1, timeout=3_000)
            break
    page.evaluate("delete document.body.dataset.clicked")
    hand.detach()


def drawn(page: Page, hand: CDPSession, *points: Point) -> None:
    """One finger along points of the fitted picture."""
    start, *rest = places(page, SIZE, *points)
    fingers(hand, "touchStart", start)
    last = start
    for end in rest:
        for k in range(1, 7):
            fingers(hand, "touchMove", (last[0] + (end[0] - last[0]) * k / 6, last[1] + (end[1] - last[1]) * k / 6))
        last = end
    fingers(hand, "touchEnd")


def percent(page: Page) -> int:
    return int(re.sub(r"\D", "", page.get_by_label("Zoom").inner_text()))


def test_a_finger_marks_fills_and_picks(touched: Page) -> None:
    page = touched
    hand = page.context.new_cdp_session(page)
    brush(page, 23)
    drawn(page, hand, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")
    until(page, lambda: mask_of(page)[40, 500] == 255)
    tap(page.get_by_role("button", name="Quick look"))
    state(page, 1, "provisional")
    tap(page.get_by_role("button", name="Take 1", exact=True))
    tap(page.get_by_role("button", name="Pick this take"))
    state(page, 1, "kept")


@pytest.mark.parametrize("tool", ["Brush", "Pieces", "Corners"])
def test_two_fingers_zoom_and_move_and_draw_nothing(touched: Page, tool: str) -> None:
    page = touched
    tap(page.get_by_role("button", name=tool, exact=True))
    hand = page.context.new_cdp_session(page)
    until(page, lambda: percent(page) != 100)
    before = percent(page)
    left, right = place(page, SIZE, 300, 200), place(page, SIZE, 340, 200)
    # The second finger comes after the first has begun to draw.
    fingers(hand, "touchStart", left)
    fingers(hand, "touchMove", (left[0] - 4, left[1]))
    fingers(hand, "touchStart", left, right)
    for k in range(1, 9):
        fingers(hand, "touchMove", (left[0] - 8 * k, left[1]), (right[0] + 8 * k, right[1]))
    fingers(hand, "touchEnd")
    until(page, lambda: percent(page) > 2 * before)
    # With two corners more there are three only if the first finger had left one.
    for at in ((300.0, 200.0), (340.0, 230.0)) if tool == "Corners" else ():
        fingers(hand, "touchStart", at)
        fingers(hand, "touchEnd")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("sweep-1")).to_have_count(0)
    # A tap on Fit and all of it is there again.
    tap(page.get_by_role("button", name="Fit", exact=True))
    until(page, lambda: percent(page) == before)


def test_a_hand_that_rests_beside_a_pen_does_nothing(touched: Page) -> None:
    page = touched
    brush(page, 23)
    points = [place(page, SIZE, x, 60) for x in (300, 340, 380, 420)]
    page.evaluate(
        """(points) => {
          const canvas = document.querySelector('[data-testid=layer]');
          const send = (type, pointerType, pointerId, [x, y], more) => canvas.dispatchEvent(new PointerEvent(type, {
            pointerType, pointerId, clientX: x, clientY: y, button: 0, bubbles: true, pressure: 0.7, ...more }));
          canvas.setPointerCapture = () => undefined;
          const [first, ...rest] = points;
          const palm = [first[0] + 40, first[1] + 300];
          send('pointerdown', 'pen', 7, first);
          send('pointerdown', 'touch', 8, palm);
          for (const each of rest) {
            send('pointermove', 'pen', 7, each);
            send('pointermove', 'touch', 8, [palm[0] + 30, palm[1]]);
          }
          send('pointerup', 'touch', 8, palm);
          send('pointerup', 'pen', 7, rest.at(-1));
        }""",
        points,
    )
    state(page, 1, "marked")
    until(page, lambda: mask_of(page)[60, 420] > 0)
    mask = mask_of(page)
    assert mask[60, 300:420].min() > 0, "the pen's line is whole"
    assert not mask[120:].any(), "the hand drew nothing"
    expect(page.get_by_test_id("sweep-2")).to_have_count(0)


def test_a_finger_that_stays_is_told_what_a_button_does_and_presses_nothing(touched: Page) -> None:
    page = touched
    page.locator("html[data-tips=told]").wait_for()
    hand = page.context.new_cdp_session(page)
    box = page.get_by_role("button", name="Touch up", exact=True).bounding_box()
    assert box is not None
    at = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    fingers(hand, "touchStart", at)
    expect(page.get_by_role("tooltip")).to_contain_text("Clone, heal")
    fingers(hand, "touchEnd")
    # What the tap after it does comes after what this one would have done.
    tap(page.get_by_role("button", name="Box", exact=True))
    expect(page.get_by_role("button", name="Box", exact=True)).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("toolbar", name="Touching up")).to_have_count(0)
    expect(page.get_by_role("tooltip")).to_have_count(0)
    tap(page.get_by_role("button", name="Touch up", exact=True))
    expect(page.get_by_role("toolbar", name="Touching up")).to_have_count(1)
