"""Clear one thing after another and choose at the end: results stand without a click."""

import io
import re

import imagecodecs
import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from keen_sweep.core.box import Box
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.scout.found import Also, FindKind, Found
from keen_sweep.store.library import Library
from keen_sweep.studio.finding.finds import keep_found
from keen_sweep.studio.history import frame_of
from tests.support.application import Application
from tests.support.desk import SIZE, brush, state, stroke, until

# Three bits of the rod in the sky, each marked by itself.
BITS = (((400, 20), (440, 28)), ((480, 36), (520, 44)), ((560, 52), (600, 60)))


def api(page: Page) -> str:
    return page.url.split("?")[0].replace("/frames/", "/api/frames/")


def delivered(page: Page) -> np.ndarray:
    answer = page.request.get(f"{api(page)}/delivery", params={"kind": "png"})
    return np.asarray(Image.open(io.BytesIO(answer.body())).convert("RGB"), np.int16)


def clear(page: Page, number: int) -> None:
    """Mark a bit of the rod and fill it, as the next sweep."""
    page.keyboard.press("n")
    brush(page, 23)
    stroke(page, SIZE, *BITS[number - 1])
    state(page, number, "marked")
    page.keyboard.press("f")
    state(page, number, "provisional")


def test_three_things_are_gone_one_after_the_other_and_delivered_without_a_pick(desk: Page) -> None:
    page = desk
    shot = delivered(page)
    for number in (1, 2, 3):
        clear(page, number)
        for before in range(1, number):
            state(page, before, "provisional")
    page.keyboard.press("F6")
    expect(page.get_by_test_id("provisional")).to_contain_text("3 sweeps are delivered with a provisional take")
    expect(page.get_by_test_id("still-open")).to_have_count(0)
    page.get_by_role("link", name="Look at them").click()
    expect(page.get_by_test_id("sweep-1")).to_have_attribute("aria-current", "true")
    after = delivered(page)
    for (x, y), (right, bottom) in BITS:
        middle = (y + bottom) // 2, (x + right) // 2
        assert shot[middle].sum() < 120, "the rod is there as shot"
        assert after[middle].sum() > 300, "and gone in the file"


def test_all_are_accepted_by_one_key_and_one_is_left_as_shot(desk: Page) -> None:
    page = desk
    for number in (1, 2):
        clear(page, number)
    page.get_by_role("button", name="As shot").last.click()
    page.get_by_role("button", name="Leave as shot").click()
    state(page, 2, "left as shot")
    page.keyboard.press("Shift+Enter")
    state(page, 1, "kept")
    state(page, 2, "left as shot")
    page.get_by_role("button", name="Undo").click()
    state(page, 1, "provisional")
    page.get_by_role("button", name="Accept all").click()
    state(page, 1, "kept")


def test_a_take_follows_when_another_one_is_picked_below_it(desk: Page) -> None:
    page = desk
    clear(page, 1)
    page.keyboard.press("n")
    stroke(page, SIZE, (445, 30), (475, 38))
    state(page, 2, "marked")
    page.keyboard.press("f")
    state(page, 2, "provisional")
    page.get_by_test_id("sweep-1").get_by_role("button").first.click()
    page.get_by_role("button", name="Take 3").click()
    page.keyboard.press("Enter")
    state(page, 1, "kept")
    state(page, 2, "out of step")
    page.get_by_test_id("sweep-2").get_by_role("button").first.click()
    page.get_by_role("button", name="Lay again").click()
    expect(page.get_by_test_id("sweep-2")).not_to_contain_text("out of step")
    state(page, 2, "take 4 of 4")


def test_a_strict_library_shows_nothing_before_it_is_picked(desk: Page, application: Application) -> None:
    page = desk
    clear(page, 1)
    here = page.url
    try:
        page.goto(f"{application.address}/library")
        at_once = page.get_by_role("button", name="Show the best take at once")
        expect(at_once).to_have_attribute("aria-pressed", "true")
        at_once.click()
        expect(at_once).to_have_attribute("aria-pressed", "false")
        page.goto(here)
        state(page, 1, "choose")
        assert page.request.get(api(page)).json()["sweeps"][0]["standing"] is None
    finally:
        page.request.patch(
            f"{application.address}/api/preferences",
            data={"strict": False},
            headers={"Origin": application.address},
        )
    state(page, 1, "provisional")


def test_two_windows_agree_on_what_stands(desk: Page) -> None:
    page = desk
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_test_id("picture")).to_have_attribute("data-look", re.compile("revision"))
    clear(page, 1)
    state(other, 1, "provisional")
    other.get_by_test_id("sweep-1").get_by_role("button").first.click()
    other.get_by_role("button", name="Take 3").click()
    other.keyboard.press("Enter")
    for each in (page, other):
        state(each, 1, "kept · take 3")
    other.close()


def test_twelve_people_are_gone_in_one_action_and_none_comes_back(desk: Page, application: Application) -> None:
    page = desk
    frame = int(api(page).rsplit("/", 1)[1])
    plant(application, frame)
    page.reload()
    page.get_by_role("tab", name="Finds 13").click()
    people = page.get_by_role("region", name="People")
    people.get_by_role("button", name="Remove these 12").click()
    expect(people).to_contain_text("3 have a shadow or reflection")
    people.get_by_role("button", name="Remove with them").click()
    seen: set[str] = set()

    def all_gone() -> bool:
        sweeps = page.request.get(api(page)).json()["sweeps"]
        now = {each["id"] for each in sweeps if each["standing"] is not None}
        assert seen <= now, "somebody came back"
        seen.update(now)
        return len(seen) == 12

    until(page, all_gone)
    for number in range(1, 13):
        state(page, number, "provisional")
    marks = [each["shapes"] for each in page.request.get(api(page)).json()["sweeps"]]
    assert sorted(marks) == [1] * 9 + [2] * 3
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("sweep-1")).to_have_count(0)


def plant(application: Application, frame: int) -> None:
    """Twelve people as a scout would have found them, three with shadows, and one who is the subject."""

    def mask(x: int, y: int, width: int, height: int) -> Mask:
        return Mask(Box(x=x, y=y, width=width, height=height), np.full((height, width), 255, np.uint8))

    found = []
    for k in range(12):
        x, y = 30 + 48 * k, 330
        shadow = (Also("shadow", mask(x + 13, y + 30, 20, 8)),) if k < 3 else ()
        found.append(Found(FindKind.PEOPLE, f"Person {k + 1}", mask(x, y, 12, 38), 0.9, "upright", also=shadow))
    found.append(Found(FindKind.PEOPLE, "Person 13", mask(300, 150, 60, 160), 0.9, "large", subject=True, chosen=False))
    library = Library(application.library)
    try:
        with library.session(write=True) as session:
            keep_found(library, session, frame_of(session, frame), FindKind.PEOPLE, found)
    finally:
        library.close()


@pytest.mark.advice
def test_a_stroke_that_runs_into_somebody_is_told_and_one_key_keeps_it_off(
    desk: Page, application: Application
) -> None:
    page = desk
    frame = int(api(page).rsplit("/", 1)[1])
    plant(application, frame)
    page.reload()
    expect(page.get_by_role("tab", name="Finds 13")).to_be_visible()
    brush(page, 14)
    stroke(page, SIZE, (250, 240), (306, 240))
    state(page, 1, "marked")
    expect(page.get_by_role("status", name="Advice on the mark")).to_contain_text("of Person 13, who stays")
    page.keyboard.press("y")
    expect(page.get_by_text("who stays")).to_have_count(0)
    address = f"{api(page)}/sweeps/{page.request.get(api(page)).json()['sweeps'][0]['id']}/mask"
    mask = np.asarray(imagecodecs.png_decode(page.request.get(address).body()))
    assert mask[230:250, 250:290].any()
    assert not mask[:, 300:360].any()
