"""Scouts through the real interface: run by themselves, one find dropped, a bit added, kept, filled."""

import re
from collections.abc import Callable
from pathlib import Path

import cv2
import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray
from playwright.sync_api import Locator, Page, expect
from skimage import data

from keen_sweep.bench.drawn import reflected, sky, with_dust
from keen_sweep.demo.shoot import clean_twin
from tests.support.application import Application
from tests.support.desk import brush, look, open_shoot, state, stroke

pytestmark = pytest.mark.scouts
Opener = Callable[[dict[str, NDArray[np.uint8]]], Page]
LONG = 90_000


@pytest.fixture
def opened(blank: Page, application: Application, tmp_path: Path, request: pytest.FixtureRequest) -> Opener:
    """Open the first of some pictures of a new shoot on the desk, with the sheet of finds."""

    def open_them(pictures: dict[str, NDArray[np.uint8]]) -> Page:
        files = []
        for file, pixels in pictures.items():
            (tmp_path / file).write_bytes(imagecodecs.png_encode(np.ascontiguousarray(pixels)))
            files.append(tmp_path / file)
        open_shoot(blank, application.address, request.node.name.replace("_", " "), files)
        blank.get_by_role("tab", name=re.compile("Finds")).click()
        return blank

    return open_them


def group(page: Page, title: str) -> Locator:
    return page.get_by_role("region", name=title)


def find(page: Page, name: str) -> Locator:
    return page.get_by_test_id(f"find-{name}")


def number_of(page: Page, title: str) -> int:
    return group(page, title).get_by_role("listitem").count()


def visitors() -> NDArray[np.uint8]:
    """Three visitors of the demo shoot, one of them cut off."""
    return clean_twin("ov-0431")[0][620:1400, 740:1440]


def test_people_are_found_one_dropped_one_added_to_kept_and_filled(opened: Opener) -> None:
    page = opened({"path.png": visitors()})
    size = (700, 780)
    people = group(page, "People")
    expect(people).to_contain_text("found", timeout=LONG)
    count = number_of(page, "People")
    assert count >= 3
    # The last one is no distraction.
    last = people.get_by_role("listitem").nth(count - 1)
    name = (last.get_attribute("data-testid") or "").removeprefix("find-")
    last.get_by_role("button").first.click()
    last.get_by_role("button", name="Drop").click()
    expect(find(page, name)).to_have_count(0)
    # Somebody's bag was missed: it is painted in.
    page.get_by_test_id(re.compile("^find-Person")).first.get_by_role("button").first.click()
    frame = page.url.split("?")[0].replace("/frames/", "/api/frames/")
    before = page.request.get(f"{frame}/scouts").json()["finds"][0]["box"]
    brush(page, 40)
    with page.expect_response(lambda r: "/finds/" in r.url and r.request.method == "PATCH"):
        stroke(page, size, (40, 700), (90, 720))
    after = page.request.get(f"{frame}/scouts").json()["finds"][0]["box"]
    assert after["x"] < before["x"]
    assert after["x"] <= 21
    # All are ticked, the subject too, and kept in one go.
    everybody = people.get_by_label("All of people")
    if not everybody.is_checked():
        everybody.click()
    expect(page.get_by_role("button", name=f"Keep {count - 1}")).to_be_enabled()
    page.keyboard.press("k")
    expect(page.get_by_test_id(f"sweep-{count - 1}")).to_be_visible()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("Person")
    page.keyboard.press("q")
    state(page, 1, "provisional")


def test_who_was_missed_is_pointed_out_by_a_box(opened: Opener) -> None:
    page = opened({"path.png": visitors()})
    expect(group(page, "People")).to_contain_text("found", timeout=LONG)
    count = number_of(page, "People")
    page.get_by_role("button", name="Point out").click()
    stroke(page, (700, 780), (128, 126), (330, 670))
    expect(group(page, "People").get_by_role("listitem")).to_have_count(count + 1)
    expect(find(page, f"Person {count + 1}")).to_contain_text("added by hand")
    page.get_by_role("button", name="Point out").click()
    stroke(page, (700, 780), (560, 700), (600, 770))
    expect(page.get_by_role("alert")).to_contain_text("Nobody was found")


def test_a_thing_is_found_by_its_kind_and_kept(opened: Opener) -> None:
    page = opened({"cat.png": np.ascontiguousarray(data.chelsea())})
    expect(find(page, "Cat 1")).to_contain_text("subject?", timeout=LONG)
    expect(page.get_by_role("button", name="Keep", exact=True)).to_be_disabled()
    find(page, "Cat 1").get_by_label("Remove Cat 1").check()
    page.get_by_role("button", name="Keep 1").click()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("Cat 1")
    # Undo offers it again.
    page.keyboard.press("Control+z")
    page.keyboard.press("j")
    expect(find(page, "Cat 1")).to_be_visible()


def test_dust_is_seen_in_harsh_light_and_taken_in_all_frames(opened: Opener) -> None:
    first, drawn = with_dust(sky(1), 1)
    second, _ = with_dust(sky(2), 1)
    page = opened({"a.png": first, "b.png": second})
    expect(group(page, "Specks")).to_contain_text("found", timeout=LONG)
    page.get_by_role("button", name="Next picture").click()
    expect(page.get_by_text("2 of 2")).to_be_visible()
    expect(group(page, "Specks")).to_contain_text("found", timeout=LONG)
    page.get_by_role("button", name="Previous picture").click()
    expect(group(page, "Specks")).to_contain_text("dust, in 2 frames")
    page.keyboard.press("h")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("harsh=4"))
    threshold = page.get_by_label("Contrast in %")
    threshold.fill("8")
    threshold.press("Enter")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("harsh=8"))
    page.keyboard.press("h")
    expect(page.get_by_test_id("picture")).not_to_have_attribute("data-look", re.compile("harsh"))
    count = number_of(page, "Specks")
    speck = group(page, "Specks").get_by_role("listitem").first
    speck.get_by_role("button").first.click()
    page.keyboard.press("x")
    expect(group(page, "Specks").get_by_role("listitem")).to_have_count(count - 1)
    page.get_by_label("Remove this dust in all frames").check()
    page.get_by_role("button", name="Keep and fill").click()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("specks")
    state(page, 1, "provisional")
    page.get_by_role("button", name="Next picture").click()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("specks")
    state(page, 1, "provisional")
    assert len(drawn) == 24
    assert "harsh" not in look(page)


def test_a_wire_is_found_a_bit_added_and_its_pole_pointed_out(opened: Opener) -> None:
    picture = sky(3, 600, 900)
    picture[480:] = (70, 110, 60)
    cv2.rectangle(picture, (600, 150), (613, 540), (60, 50, 45), -1)
    cv2.line(picture, (-5, 190), (905, 140), (25, 25, 30), 3, cv2.LINE_AA)
    page = opened({"wire.png": picture})
    expect(find(page, "Wire 1")).to_be_visible(timeout=LONG)
    expect(find(page, "Pole 1").get_by_role("checkbox")).not_to_be_checked()
    find(page, "Wire 1").get_by_role("button").first.click()
    brush(page, 12)
    with page.expect_response(lambda r: "/finds/" in r.url and r.request.method == "PATCH"):
        stroke(page, (900, 600), (300, 175), (300, 220))
    find(page, "Pole 1").get_by_role("button").first.click()
    expect(find(page, "Pole 1")).to_contain_text("would carry nothing")
    page.keyboard.press("x")
    expect(find(page, "Pole 1")).to_have_count(0)
    page.get_by_role("button", name="Keep and fill").click()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("Wire 1")
    state(page, 1, "provisional")


def test_a_backdrop_is_continued(opened: Opener) -> None:
    small = cv2.resize(clean_twin("ov-0524")[0], (600, 400), interpolation=cv2.INTER_AREA).astype(np.uint8)
    page = opened({"pot.png": small})
    expect(find(page, "Beyond the backdrop")).to_be_visible(timeout=LONG)
    on = page.get_by_test_id(re.compile("^find-On the backdrop")).first
    on.get_by_role("button").first.click()
    page.keyboard.press("x")
    find(page, "Beyond the backdrop").get_by_role("button").first.click()
    brush(page, 20)
    with page.expect_response(lambda r: "/finds/" in r.url and r.request.method == "PATCH"):
        stroke(page, (600, 400), (267, 133), (280, 133))
    page.keyboard.press("k")
    expect(page.get_by_test_id("sweep-1")).to_contain_text("Beyond the backdrop")
    expect(page.get_by_test_id("sweep-1").get_by_label("Method")).to_have_value("backdrop")
    page.keyboard.press("f")
    state(page, 1, "provisional")
    with page.expect_request(
        lambda r: r.url.endswith("/scouts") and bool(r.post_data and '"again":true' in r.post_data)
    ):
        page.keyboard.press("Shift+J")
    page.get_by_role("tab", name="Job sheet").click()
    expect(page.get_by_text("the tones of the backdrop are continued", exact=False).first).to_be_visible()


def test_a_reflection_is_sought_taken_off_by_an_amount_and_seen_alone(opened: Opener) -> None:
    pane = reflected(np.ascontiguousarray(data.coffee()), np.ascontiguousarray(data.astronaut()), 0.4)
    page = opened({"pane.png": pane})
    group(page, "Reflection").get_by_role("button", name="Search the whole picture").click()
    sweep = page.get_by_test_id("sweep-1")
    expect(sweep).to_contain_text("Reflection")
    expect(sweep).to_contain_text("best quality: about 1 s")
    page.keyboard.press("q")
    state(page, 1, "provisional")
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    amount = sweep.get_by_label("Amount in %")
    amount.fill("60")
    amount.press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_have_attribute("data-tip", re.compile("opacity 60 %"))
    page.keyboard.press("l")
    expect(page.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("alone=true"))
    page.keyboard.press("l")
    expect(page.get_by_test_id("picture")).not_to_have_attribute("data-look", re.compile("alone"))
    page.keyboard.press("f")
    expect(page.get_by_test_id("sweep-1")).to_contain_text("kept")


def test_no_reflection_is_said_and_can_be_overruled(opened: Opener) -> None:
    page = opened({"cup.png": np.ascontiguousarray(data.coffee())})
    seek = group(page, "Reflection")
    seek.get_by_role("button", name="Search the whole picture").click()
    expect(seek).to_contain_text("No soft, even light")
    seek.get_by_role("button", name="Remove it anyway").click()
    expect(page.get_by_test_id("sweep-1")).to_contain_text("Reflection")


def test_scouts_that_find_nothing_say_what_they_looked_for(opened: Opener) -> None:
    page = opened({"plain.png": np.full((300, 420, 3), 128, np.uint8)})
    for title, words in (
        ("People", "Searched for people"),
        ("Specks", "round dark spots"),
        ("Backdrop", "studio paper"),
    ):
        expect(group(page, title)).to_contain_text("none left", timeout=LONG)
        expect(group(page, title)).to_contain_text(words)
    expect(page.get_by_role("button", name="Keep", exact=True)).to_be_disabled()
