"""A shoot of five hundred frames through the real interface."""

import json
import re
import urllib.request
from collections.abc import Iterator
from typing import Any

import imagecodecs
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.support.application import Application
from tests.support.desk import until

pytestmark = pytest.mark.slow

MANY = 500
STEPS = 250


def _send(address: str, data: bytes, kind: str = "application/json") -> dict[str, Any]:
    request = urllib.request.Request(address, data=data, headers={"Content-Type": kind})
    return dict(json.load(urllib.request.urlopen(request)))


def _delete(address: str) -> None:
    urllib.request.urlopen(urllib.request.Request(address, method="DELETE")).read()


@pytest.fixture(scope="module")
def shoot(application: Application) -> Iterator[dict[str, Any]]:
    """Five hundred small pictures."""
    shoots = f"{application.address}/api/shoots"
    made = _send(shoots, b'{"name": "Five hundred"}')
    random = np.random.default_rng(5)
    frames = []
    for k in range(MANY):
        small = np.full((40, 60, 3), random.integers(0, 256, 3), np.uint8)
        file = bytes(imagecodecs.png_encode(small))
        address = f"{shoots}/{made['id']}/frames?name=many-{k + 1:03}.png"
        frames.append(_send(address, file, "application/octet-stream"))
    yield {**made, "frames": frames}
    _delete(f"{shoots}/{made['id']}")


@pytest.fixture
def many(page: Page, application: Application, shoot: dict[str, Any]) -> Iterator[Page]:
    """The third and the last of them are marked anew for each test: one fills, and they run in any order."""
    stroke = {"shapes": [{"kind": "stroke", "points": [[20, 20], [30, 20]], "size": 6}]}
    made: list[str] = []
    for k in (2, MANY - 1):
        sweeps = f"{application.address}/api/frames/{shoot['frames'][k]['id']}/sweeps"
        made.append(f"{sweeps}/{_send(sweeps, json.dumps(stroke).encode())['sweep_id']}")
    page.reload()
    expect(page.get_by_role("region", name=shoot["name"]).get_by_text("2 marked", exact=False)).to_be_visible()
    yield page
    for sweep in made:
        _delete(sweep)


def _to_its_end(page: Page) -> None:
    """Other shoots may stand below it."""
    page.get_by_role("region", name="Five hundred").evaluate("shoot => shoot.scrollIntoView({block: 'end'})")


def test_it_scrolls_to_its_end_and_holds_only_what_is_seen(many: Page) -> None:
    page = many
    cards = page.get_by_role("link", name=re.compile("many-"))
    expect(page.get_by_role("link", name="many-001.png")).to_be_visible()
    assert cards.count() < 60
    _to_its_end(page)
    last = page.get_by_role("link", name="many-500.png")
    expect(last).to_be_in_viewport()
    expect(last).to_contain_text("marked")
    assert cards.count() < 60
    last.click()
    expect(page.get_by_text("500 of 500")).to_be_visible()


def test_frames_are_shown_by_state_and_sorted(many: Page) -> None:
    page = many
    shoot = page.get_by_role("region", name="Five hundred")
    shoot.get_by_label("Show", exact=True).select_option("marked")
    cards = page.get_by_role("link", name=re.compile("many-"))
    expect(cards).to_have_count(2)
    shoot.get_by_label("Sorted by").select_option("newest")
    expect(cards.first).to_contain_text("many-500.png")
    shoot.get_by_label("Show", exact=True).select_option("all")
    shoot.get_by_label("Sorted by").select_option("state")
    _to_its_end(page)
    expect(page.get_by_role("link", name="many-500.png")).to_contain_text("marked")


def test_frames_are_chosen_by_shift_and_by_a_box_and_filled_together(many: Page) -> None:
    page = many
    tools = page.get_by_role("toolbar", name="Chosen frames")
    page.get_by_label("Choose many-001.png").click()
    expect(tools).to_contain_text("1 chosen")
    expect(tools.get_by_role("button", name="Fill")).to_be_disabled()
    page.get_by_role("link", name="many-004.png").click(modifiers=["Shift"])
    expect(tools).to_contain_text("4 chosen")
    expect(tools.get_by_role("button", name="Carry over from many-003")).to_be_enabled()
    tools.get_by_role("button", name="None").click()
    expect(tools).to_have_count(0)
    # A box from the gap between the first and the second card to below the second row.
    first, second = (page.get_by_role("link", name=f"many-00{k}.png").bounding_box() for k in (1, 2))
    assert first is not None
    assert second is not None
    middle = (first["x"] + first["width"] + second["x"]) / 2
    page.mouse.move(middle, first["y"] + 40)
    page.mouse.down()
    page.mouse.move(second["x"] + second["width"] + 60, first["y"] + first["height"] + 80, steps=5)
    page.mouse.up()
    expect(tools).to_contain_text("4 chosen")
    tools.get_by_role("button", name="Fill 1").click()
    expect(tools.get_by_role("status")).to_contain_text("1 fill waits in the queue")
    expect(page.get_by_role("link", name="many-003.png")).to_contain_text("to choose")


def test_a_history_of_hundreds_of_steps_holds_only_what_is_seen(many: Page, application: Application) -> None:
    page = many
    page.get_by_role("link", name="many-003.png").click()
    expect(page.get_by_test_id("sweep-1")).to_be_visible()
    frame = page.url.split("?")[0].replace("/frames/", "/api/frames/")
    sweep = page.request.get(frame).json()["sweeps"][0]["id"]
    before = len(page.request.get(f"{frame}/history").json())
    for k in range(STEPS):
        page.request.patch(f"{frame}/sweeps/{sweep}", data={"amount": 99 - k % 90})
    page.get_by_role("tab", name="History").click()
    steps = page.get_by_role("list", name="History").get_by_role("listitem")
    expect(steps.first).to_contain_text("now")
    assert steps.count() < 60
    first = steps.filter(has_text="as shot")
    expect(first).to_have_count(0)
    panel = page.get_by_role("tabpanel")

    def at_the_end() -> bool:
        panel.evaluate("panel => panel.scrollTo(0, panel.scrollHeight)")
        return first.count() == 1

    until(page, at_the_end)
    assert steps.count() < 60
    expect(page.get_by_role("tab", name="History")).to_be_in_viewport()
    newest = page.request.get(f"{frame}/history", params={"newest": True, "limit": 5}).json()
    assert [each["revision"] for each in newest] == sorted((each["revision"] for each in newest), reverse=True)
    assert len(page.request.get(f"{frame}/history").json()) == before + STEPS
