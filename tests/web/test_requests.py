"""What an edit costs: it answers with the desk, and nothing is fetched again because of it."""

import re
from functools import partial

from playwright.sync_api import Page, Request, expect

from tests.support.desk import SIZE, mask_colour, state, stroke, until

HEARING = """
window.heard = [];
const Source = window.EventSource;
window.EventSource = class extends Source {
  constructor(address) {
    super(address);
    this.addEventListener("message", (event) => window.heard.push(JSON.parse(event.data).kind));
  }
};
"""
# Asked for by themselves: scouts at work, tiles, second thoughts on a mark that rests, which models there are.
APART = re.compile(r"/(scouts|events|tiles|crop|advice|models)\b")


def listening(page: Page) -> list[str]:
    """The page opened anew, with what it hears; the requests that it makes from now on."""
    page.add_init_script(HEARING)
    page.reload()
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    expect(page.get_by_role("tab", name="Job sheet")).to_be_visible()
    page.wait_for_load_state("load")
    asked: list[str] = []

    def note(request: Request) -> None:
        address = request.url.split("/api/", 1)[-1].split("?")[0]
        if not APART.search(f"/{address}"):
            asked.append(f"{request.method} {re.sub(r'[0-9a-f]{32}', 'SWEEP', address)}")

    page.on("request", note)
    return asked


def heard(page: Page, kind: str, count: int) -> None:
    """Wait until so many events of a kind were heard: whatever they lead to has been asked for then."""
    page.wait_for_function("([kind, n]) => window.heard.filter((k) => k === kind).length >= n", arg=[kind, count])


def mask_is_seen(page: Page, x: float) -> bool:
    """Whether something of the mask's hatch is on the screen beside a place."""
    return any(mask_colour(page, x + across, 200 + across / 3)[3] > 0 for across in range(-12, 13, 2))


def test_a_stroke_costs_one_request(desk: Page) -> None:
    page = desk
    asked = listening(page)
    frame = page.url.split("?")[0].rsplit("/", 1)[-1]
    for number, (x, sent) in enumerate(
        [
            (100, f"POST frames/{frame}/sweeps"),
            (200, f"POST frames/{frame}/sweeps/SWEEP/shapes"),
            (300, f"POST frames/{frame}/sweeps/SWEEP/shapes"),
        ],
        start=1,
    ):
        asked.clear()
        stroke(page, SIZE, (x, 200), (x + 40, 200))
        heard(page, "frame", number)
        state(page, 1, "marked")
        # The answer brings the outline along: it is seen without being asked for.
        until(page, partial(mask_is_seen, page, x + 20))
        assert asked == [sent]


def test_undo_brings_the_desk_along_and_another_window_hears_of_it(desk: Page) -> None:
    page = desk
    asked = listening(page)
    frame = page.url.split("?")[0].rsplit("/", 1)[-1]
    stroke(page, SIZE, (100, 200), (140, 200))
    state(page, 1, "marked")
    other = page.context.new_page()
    other.goto(page.url.split("?")[0])
    state(other, 1, "marked")
    asked.clear()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("sweep-1")).to_have_count(0)
    expect(other.get_by_test_id("sweep-1")).to_have_count(0)
    heard(page, "frame", 2)
    assert asked == [f"POST frames/{frame}/undo"]
    other.close()


def test_edits_made_fast_happen_in_turn(desk: Page) -> None:
    page = desk
    for x in range(60, 560, 50):
        stroke(page, SIZE, (x, 300), (x + 20, 300))
    page.keyboard.press("n")
    stroke(page, SIZE, (100, 380), (140, 380))
    state(page, 2, "marked")
    told = page.request.get(page.url.split("?")[0].replace("/frames", "/api/frames")).json()
    assert [sweep["shapes"] for sweep in told["sweeps"]] == [10, 1]
