"""The whole journey without a mouse: from a file to a delivered picture; the brush is moved by arrows."""

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

from tests.support.desk import mask_of, state, until


def tab_to(page: Page, wanted: Locator) -> None:
    """Go on with Tab until something has the focus."""
    for _ in range(120):
        if wanted.evaluate("one => one === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError("Tab never gets there")


def test_from_a_file_to_a_delivered_picture_by_keys_alone(page: Page, photo: Path) -> None:
    keys = page.keyboard
    name = page.get_by_label("Name of the new shoot")
    tab_to(page, name)
    keys.type("By keys")
    keys.press("Enter")
    shoot = page.get_by_role("region", name="By keys")
    expect(shoot).to_contain_text("No pictures yet")
    tab_to(page, shoot.get_by_role("button", name="Choose files"))
    with page.expect_file_chooser() as chooser:
        keys.press("Enter")
    chooser.value.set_files(str(photo))
    frame = shoot.get_by_role("link", name="rod.png")
    expect(frame).to_be_visible()
    tab_to(page, frame)
    keys.press("Enter")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))

    canvas = page.get_by_role("application")
    tab_to(page, canvas)
    expect(page.get_by_text(re.compile(r"^Brush up at \d+, \d+$"))).to_be_attached()
    for _ in range(9):
        keys.press("ArrowUp")
    keys.press("Enter")
    expect(page.get_by_text(re.compile("^Brush down at"))).to_be_attached()
    for _ in range(20):
        keys.press("ArrowRight")
    keys.press("Enter")
    state(page, 1, "marked")
    until(page, lambda: bool(mask_of(page).any()))
    rows, columns = mask_of(page).nonzero()
    assert rows.mean() < 427 / 2
    assert columns.max() - columns.min() > 100, "a stroke of twenty steps"
    # A stroke that is let go of is none.
    keys.press("n")
    keys.press("Enter")
    keys.press("ArrowDown")
    keys.press("Escape")
    expect(page.get_by_test_id("sweep-2")).to_have_count(0)
    keys.press("Escape")
    expect(canvas).not_to_be_focused()

    keys.press("ArrowDown")
    keys.press("f")
    state(page, 1, "provisional · take 1 of 3")
    keys.press("Enter")
    state(page, 1, "kept")
    keys.press("F6")
    save = page.get_by_role("button", name="Deliver", exact=True)
    expect(save).to_be_visible()
    tab_to(page, save)
    with page.expect_download() as delivered:
        keys.press("Enter")
    assert Path(delivered.value.path()).stat().st_size > 10_000
