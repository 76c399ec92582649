"""A series through the real interface: carried over, moved, dropped, filled, gone through, and borrowed from."""

import re
from pathlib import Path
from typing import Any

import cv2
import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray
from playwright.sync_api import Locator, Page, expect

from tests.support.application import Application
from tests.support.axe import faults
from tests.support.desk import brush, open_shoot, state, stroke
from tests.support.waiting import PATIENCE

SIZE = (520, 360)


def _rod(pixels: NDArray[Any], at: tuple[int, int], share: float = 1.0) -> NDArray[Any]:
    out = pixels.copy()
    cv2.line(out, at, (int(at[0] + 90 * share), int(at[1] + 24 * share)), (25, 20, 30), 7)
    return out


@pytest.fixture(scope="module")
def frames(tmp_path_factory: pytest.TempPathFactory, photograph: NDArray[Any]) -> list[Path]:
    """A rod in front of a roof; from a little aside; most of it gone; all of it gone; and another place."""
    folder = tmp_path_factory.mktemp("series")
    pictures = {
        "roof-1": _rod(photograph[20:380, 40:560], (300, 200)),
        "roof-2": _rod(photograph, (340, 220))[29:389, 54:574],
        "roof-3": _rod(photograph, (340, 220), 0.35)[24:384, 46:566],
        "roof-4": photograph[26:386, 50:570],
        "sea": cv2.blur(np.random.default_rng(1).integers(0, 255, (360, 520, 3)).astype(np.uint8), (5, 5)),
    }
    out = []
    for name, pixels in pictures.items():
        out.append(folder / f"{name}.png")
        out[-1].write_bytes(imagecodecs.png_encode(np.ascontiguousarray(pixels)))
    return out


@pytest.fixture
def series(blank: Page, application: Application, frames: list[Path], request: pytest.FixtureRequest) -> Page:
    """The first frame on the desk with the rod marked, and the strip open."""
    page, name = blank, request.node.name.replace("_", " ")
    open_shoot(blank, application.address, name, frames)
    brush(page, 17)
    stroke(page, SIZE, (300, 200), (390, 224))
    state(page, 1, "marked")
    page.keyboard.press("F8")
    expect(_strip(page).get_by_role("listitem")).to_have_count(len(frames))
    return page


def _strip(page: Page) -> Locator:
    return page.get_by_role("list", name="Frames of the shoot")


def _frame(page: Page, name: str) -> Locator:
    return _strip(page).get_by_role("button", name=re.compile(rf"^{name}\.png"))


def _says(page: Page, name: str, words: str) -> None:
    label = re.compile(re.escape(words))
    expect(_frame(page, name)).to_have_attribute("aria-label", label, timeout=1_000 * PATIENCE)


def test_a_sweep_is_carried_over_gone_through_moved_dropped_and_filled(series: Page) -> None:
    page = series
    page.keyboard.press("Control+Enter")
    _says(page, "roof-2", "1 landed")
    _says(page, "roof-3", "1 doubtful")
    _says(page, "roof-4", "1 not there")
    _says(page, "sea", "another place")
    # Marked there, and nothing is being filled.
    _says(page, "roof-2", "roof-2.png: marked")
    # One key to the doubtful one: it is looked at, and moved.
    page.keyboard.press("/")
    expect(_frame(page, "roof-3")).to_have_attribute("aria-current", "true")
    state(page, 1, "marked · doubtful")
    sweep = page.get_by_test_id("sweep-1")
    expect(sweep).to_have_attribute("aria-current", "true")
    expect(sweep).to_contain_text("Carried over from roof-1")
    sweep.get_by_text("Order and position", exact=True).click()
    down = sweep.get_by_label("Down in px")
    down.fill("2")
    down.press("Enter")
    sweep.get_by_role("button", name="Move").click()
    expect(page.get_by_role("button", name="None doubtful")).to_be_disabled()
    _says(page, "roof-3", "roof-3.png: marked")
    # That one is dropped after all; what is left is filled in one go.
    page.keyboard.press("Delete")
    _says(page, "roof-3", "roof-3.png: untouched")
    fill = page.get_by_role("button", name="Fill all 1")
    fill.click()
    _says(page, "roof-2", "roof-2.png: to choose")
    expect(page.get_by_role("button", name="Fill all", exact=True)).to_be_disabled()
    page.keyboard.press("PageUp")
    state(page, 1, "of 3")
    # What was made is seen before it is chosen, and chosen by a yes.
    _frame(page, "roof-1").click()
    state(page, 1, "marked")
    page.keyboard.press("F9")
    sheet = page.get_by_role("dialog", name="Contact sheet")
    expect(sheet.get_by_text("1 without a picked take")).to_be_visible()
    result = sheet.get_by_role("listitem", name="roof-2.png, not approved yet")
    expect(result.locator("img")).to_have_attribute("src", re.compile(r"takes=\d+"))
    result.get_by_role("button", name="Good", exact=True).click()
    expect(sheet.get_by_role("listitem", name="roof-2.png, approved")).to_contain_text("✓ done")
    expect(sheet.get_by_text("All are approved.")).to_be_visible()


def test_a_doubtful_one_that_lies_well_is_said_to(series: Page) -> None:
    page = series
    page.keyboard.press("Control+Enter")
    _says(page, "roof-3", "1 doubtful")
    page.keyboard.press("/")
    state(page, 1, "marked · doubtful")
    page.keyboard.press("Enter")
    _says(page, "roof-3", "roof-3.png: marked")
    # The change can be undone like any other.
    page.keyboard.press("Control+z")
    _says(page, "roof-3", "roof-3.png: doubtful")


def test_only_the_frames_that_are_chosen_and_later_changes_brought_along(series: Page) -> None:
    page = series
    _frame(page, "roof-2").click(modifiers=["Control"])
    expect(page.get_by_text("onto 1 chosen frames")).to_be_visible()
    page.get_by_role("button", name="Carry over").click()
    _says(page, "roof-2", "1 landed")
    expect(_frame(page, "roof-4")).to_have_attribute("aria-label", "roof-4.png: untouched")
    stroke(page, SIZE, (320, 190), (350, 196))
    along = page.get_by_role("button", name="Update 1 frame")
    along.click()
    expect(along).to_have_count(0, timeout=1_000 * PATIENCE)
    _frame(page, "roof-2").click()
    state(page, 1, "marked")
    page.keyboard.press("Control+z")
    state(page, 1, "marked")


def test_carried_and_filled_frames_are_approved_on_the_contact_sheet(series: Page) -> None:
    page = series
    for name in ("roof-2", "roof-3"):
        _frame(page, name).click(modifiers=["Control"])
    page.keyboard.press("Control+Shift+Enter")
    _says(page, "roof-2", "1 landed")
    _says(page, "roof-3", "1 doubtful")
    assert faults(page) == []
    page.keyboard.press("F9")
    sheet = page.get_by_role("dialog", name="Contact sheet")
    results = sheet.get_by_role("listitem")
    expect(results).to_have_count(2)
    first = results.first
    # Filled and picked by themselves, and waiting for a look.
    for result, name in ((first, "roof-2"), (results.nth(1), "roof-3")):
        expect(result).to_have_attribute("aria-label", f"{name}.png, not approved yet", timeout=1_000 * PATIENCE)
    assert faults(page) == []
    first.get_by_role("button", name="Good", exact=True).click()
    expect(first).to_contain_text("✓ done")
    results.nth(1).get_by_role("button", name="Not good").click()
    sheet.get_by_role("button", name="Open roof-3.png").click()
    expect(sheet).to_have_count(0)
    state(page, 1, "choose")


def test_true_pixels_come_first_and_are_picked(series: Page) -> None:
    page = series
    page.keyboard.press("F8")
    page.get_by_test_id("sweep-1").get_by_role("button").first.click()
    page.keyboard.press("f")
    first = page.get_by_role("button", name="Take 1", exact=True)
    expect(first).to_be_visible(timeout=1_000 * PATIENCE)
    expect(first).to_have_attribute("data-tip", re.compile("real pixels from roof-"))
    tray = page.get_by_role("region", name="Takes")
    expect(tray).to_contain_text("borrow")
    state(page, 1, "of 3")
    expect(tray).to_contain_text("best")
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    expect(page.get_by_role("button", name="✓ Take 1")).to_be_visible()


def test_a_shoot_of_one_has_no_strip_and_borrows_nothing(desk: Page) -> None:
    page = desk
    expect(page.get_by_role("button", name="Strip")).to_be_disabled()
    stroke(page, (640, 427), (385, 18), (615, 64))
    state(page, 1, "marked")
    page.get_by_label("Method").select_option("borrow")
    page.keyboard.press("f")
    expect(page.get_by_text("This shoot has only one picture", exact=False)).to_be_visible(timeout=1_000 * PATIENCE)
