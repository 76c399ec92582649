"""Who comes for the first time: Cling is on, a resting pointer shows what a click takes, one zigzag takes all of it."""

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from keen_sweep.bench.scribbles import scribble_over
from keen_sweep.core.box import box_of
from tests.support.desk import brush, mask_of, place, state, stroke, until
from tests.support.field import bus_stop, bus_stop_file

pytestmark = pytest.mark.newcomer
WIDE, TALL = 810, 1080


@pytest.fixture
def street(page: Page, request: pytest.FixtureRequest) -> Page:
    """The bus stop, open on the desk."""
    name = request.node.name.replace("_", " ")
    page.get_by_label("Name of the new shoot").fill(name)
    page.get_by_role("button", name="Make shoot").click()
    shoot = page.get_by_role("region", name=name)
    shoot.get_by_label(f"Pictures for {name}").set_input_files(str(bus_stop_file()))
    shoot.get_by_role("link", name="bus.jpg").click()
    expect(page.get_by_role("button", name="Cling")).to_have_attribute("aria-pressed", "true")
    return page


def test_one_zigzag_takes_the_whole_man(street: Page) -> None:
    page, truth = street, bus_stop().truth
    scribble = scribble_over(truth, np.random.default_rng(0))
    brush(page, round(scribble.size))
    stroke(page, (WIDE, TALL), *scribble.points)
    state(page, 1, "marked")
    until(page, lambda: bool(mask_of(page).any()))
    mask = mask_of(page) > 0
    rows = np.flatnonzero(truth.any(axis=1))
    tall = rows[-1] - rows[0]
    for part in (slice(rows[0], rows[0] + tall // 8), slice(rows[-1] - tall // 10, rows[-1] + 1)):
        assert (mask[part] & truth[part]).sum() > 0.9 * truth[part].sum(), "head and shoes"
    assert mask.sum() < 1.6 * truth.sum()


def test_a_resting_pointer_shows_what_a_click_takes(street: Page) -> None:
    page, box = street, box_of(bus_stop().truth)
    middle = (box.x + box.width * 0.5, box.y + box.height * 0.4)
    at = place(page, (WIDE, TALL), *middle)
    page.mouse.move(at[0] - 60, at[1])
    with page.expect_response(lambda answer: "/under?" in answer.url and answer.ok) as answered:
        page.mouse.move(*at)
    shown = answered.value.json()["rings"]
    assert shown
    page.mouse.down()
    page.mouse.up()
    state(page, 1, "marked")
    until(page, lambda: bool(mask_of(page).any()))
    mask = mask_of(page) > 0
    for ring in shown:
        xs, ys = np.array(ring[::2]), np.array(ring[1::2])
        inside = mask[ys.astype(int).clip(0, TALL - 1), xs.astype(int).clip(0, WIDE - 1)]
        assert inside.mean() > 0.95, "what is taken is what was shown, and its margin"
    assert (mask & bus_stop().truth).sum() > 0.9 * bus_stop().truth.sum()
