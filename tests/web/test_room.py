"""Room and guidance on the desk: panels, surroundings, addresses, the first minute, a way back, dropped files."""

import gzip
import re
from collections.abc import Iterable
from functools import partial
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.support.desk import SIZE, brush, look, state, stroke, until

BUILT = Path(__file__).parents[2] / "src" / "keen_sweep" / "web"
# Bytes when compressed: what the shoots need, and what the desk needs with them.
MOST_FIRST = 177_000
MOST_DESK = 360_000


def marked(page: Page) -> None:
    brush(page, 23)
    stroke(page, SIZE, (392, 18), (500, 40), (608, 62))
    state(page, 1, "marked")


def filled(page: Page) -> None:
    marked(page)
    page.keyboard.press("q")
    state(page, 1, "provisional")


def width(page: Page, name: str) -> float:
    box = page.get_by_label(name, exact=True).first.bounding_box()
    assert box is not None
    return box["width"]


def test_the_picture_keeps_most_of_the_window_with_all_panels_open(desk: Page) -> None:
    page = desk
    page.get_by_role("button", name="I know my way").click()
    filled(page)

    def share() -> float:
        room, (wide, high) = page.get_by_test_id("layer").bounding_box(), page.evaluate("[innerWidth, innerHeight]")
        return (room["width"] + 20) * (room["height"] + 20) / (wide * high) if room else 0.0

    def fits(wide: int, least: float) -> bool:
        return bool(page.evaluate("innerWidth") == wide) and share() >= least

    for wide, high, least in ((1280, 800, 0.6), (1024, 700, 0.56)):
        page.set_viewport_size({"width": wide, "height": high})
        until(page, partial(fits, wide, least))


def test_no_control_is_cut_off_at_twice_the_size(desk: Page) -> None:
    """A window of 1280 x 800 at 200 %, which has half as many pixels of its own."""
    page, size = desk, (640, 400)
    filled(page)
    page.set_viewport_size({"width": size[0], "height": size[1]})
    buttons = page.locator("header button:visible, [role=toolbar] button:visible")
    for k in range(buttons.count()):
        box = buttons.nth(k).bounding_box()
        assert box is not None
        assert box["x"] >= 0
        assert box["x"] + box["width"] <= size[0] + 0.5
        # What is below the window can be scrolled to, or is there at once.
        buttons.nth(k).scroll_into_view_if_needed()
        box = buttons.nth(k).bounding_box()
        assert box is not None
        assert -0.5 <= box["y"] <= size[1] - box["height"] + 0.5


def test_a_panel_is_made_wider_folded_and_remembered(desk: Page) -> None:
    page = desk
    before = width(page, "Job sheet")
    edge = page.get_by_role("separator", name="Width of the job sheet")
    at = edge.bounding_box()
    assert at is not None
    page.mouse.move(at["x"] + 3, 300)
    page.mouse.down()
    page.mouse.move(at["x"] + 103, 300, steps=4)
    page.mouse.up()
    until(page, lambda: abs(width(page, "Job sheet") - before - 100) < 2)
    edge.focus()
    page.keyboard.press("ArrowRight")
    until(page, lambda: abs(width(page, "Job sheet") - before - 116) < 2)
    page.reload()
    until(page, lambda: abs(width(page, "Job sheet") - before - 116) < 2)
    edge.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="Job sheet")).to_have_count(0)
    page.reload()
    expect(edge).to_be_visible()
    expect(page.get_by_role("complementary", name="Job sheet")).to_have_count(0)
    edge.dblclick()
    expect(page.get_by_role("complementary", name="Job sheet")).to_be_visible()


def test_everything_is_dark_round_a_dark_picture(desk: Page) -> None:
    page = desk
    light = page.evaluate("getComputedStyle(document.body).backgroundColor")
    page.keyboard.press("?")
    page.get_by_role("dialog").get_by_role("button", name="dark").click()
    page.keyboard.press("Escape")
    dark = page.evaluate("getComputedStyle(document.body).backgroundColor")
    assert sum(map(int, re.findall(r"\d+", dark)[:3])) < 0.3 * sum(map(int, re.findall(r"\d+", light)[:3]))
    page.reload()
    until(page, lambda: page.evaluate("getComputedStyle(document.body).backgroundColor") == dark)


def test_an_address_holds_sweep_take_and_place(desk: Page) -> None:
    page = desk
    page.keyboard.press("Escape")
    filled(page)
    page.get_by_role("button", name="Take 1", exact=True).click()
    page.keyboard.press("1")
    expect(page.get_by_label("Zoom")).to_have_text("100 %")
    until(page, lambda: re.search(r"sweep=1&take=1&at=\d+,\d+,100$", page.url) is not None)
    wanted, shown = page.url, look(page)
    page.reload()
    expect(page.get_by_label("Zoom")).to_have_text("100 %")
    expect(page.get_by_test_id("sweep-1")).to_have_attribute("aria-current", "true")
    until(page, lambda: look(page) == shown)
    until(page, lambda: page.url == wanted)
    # Back and forward.
    page.get_by_role("link", name="All shoots").click()
    expect(page.get_by_role("searchbox")).to_be_visible()
    page.go_back()
    until(page, lambda: look(page) == shown)
    expect(page.get_by_label("Zoom")).to_have_text("100 %")


def test_the_first_minute_is_told_step_by_step_and_only_once(desk: Page) -> None:
    page = desk
    guide = page.get_by_role("status", name="Next step")
    expect(guide).to_contain_text("Paint over what should go")
    marked(page)
    expect(guide).to_contain_text("Press F")
    page.keyboard.press("q")
    state(page, 1, "provisional")
    expect(guide).to_contain_text("Enter picks one")
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    expect(guide).to_contain_text("check the edges")
    guide.get_by_role("button", name="Got it").click()
    expect(guide).to_have_count(0)
    page.keyboard.press("n")
    page.reload()
    state(page, 1, "kept")
    expect(guide).to_have_count(0)
    page.keyboard.press("?")
    page.get_by_role("button", name="Show me").click()
    expect(guide).to_be_visible()


def test_what_was_taken_away_is_offered_back(desk: Page) -> None:
    page = desk
    marked(page)
    page.keyboard.press("Delete")
    expect(page.get_by_test_id("sweep-1")).to_have_count(0)
    page.get_by_role("button", name="Bring back").click()
    state(page, 1, "marked")
    expect(page.get_by_role("button", name="Bring back")).to_have_count(0)


def test_files_dropped_anywhere_become_a_shoot(page: Page, photo: Path) -> None:
    page.evaluate(
        """([bytes]) => {
          const data = new DataTransfer();
          data.items.add(new File([new Uint8Array(bytes)], 'rod.png', { type: 'image/png' }));
          const main = document.querySelector('main');
          for (const type of ['dragover', 'drop'])
            main.dispatchEvent(new DragEvent(type, { dataTransfer: data, bubbles: true, cancelable: true }));
        }""",
        [list(photo.read_bytes())],
    )
    made = page.get_by_role("region", name=re.compile("^Pictures of "))
    expect(made.get_by_role("link", name=re.compile("rod.png"))).to_be_visible()
    expect(made.get_by_role("link")).to_have_count(1)


def needed(script: Path) -> set[Path]:
    """It and what it imports before it can begin."""
    found = re.findall(r'(?:from|import)"\./([^"]+\.js)"', script.read_text())
    return {script}.union(*(needed(script.parent / each) for each in found))


def packed(scripts: Iterable[Path]) -> int:
    return sum(len(gzip.compress(each.read_bytes())) for each in scripts)


def test_what_a_first_look_needs_is_small() -> None:
    first = re.findall(r'src="/(assets/index-[^"]+)"', (BUILT / "index.html").read_text())
    (desk,) = (BUILT / "assets").glob("DeskPage-*.js")
    assert len(first) == 1
    shoots = needed(BUILT / first[0])
    assert desk not in shoots
    assert packed(shoots) < MOST_FIRST
    assert packed(shoots | needed(desk)) < MOST_DESK
