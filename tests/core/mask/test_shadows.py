"""One sun for several things, light that is lost on ground of one kind, and the bench of shadows."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.bench.shadows import Outcome, seen_shadow, table
from keen_sweep.core.box import box_of
from keen_sweep.core.mask.light_loss import light_of, lost_light
from keen_sweep.core.mask.shadow import common_sun, shadow_evidence, shadow_of
from keen_sweep.core.mask.sun_projection import (
    MAX_SUN_DISTANCE,
    SUN_CANDIDATES,
    SUN_CLOSENESS,
    Sun,
    foot_of,
    projected_outline,
)
from keen_sweep.demo.shoot import clean_twin, distractions, frames, mask_of
from tests.support.shadow_scenes import SIZE, figure, ground, in_sun, masked

pytestmark = pytest.mark.scenes


def likeness(one: NDArray[Any], other: NDArray[Any]) -> float:
    return float((one & other).sum() / (one | other).sum())


def test_one_sun_is_found_for_all_and_brings_the_shadow_that_one_alone_hardly_shows() -> None:
    things = [figure(160, 230, 120), figure(330, 250, 140), figure(480, 240, 110)]
    picture, shadows = in_sun(things, 0.7, -0.25)
    # The last one's shadow is nearly drowned in stripes of its own strength.
    picture[:, 560::14] = (picture[:, 560::14] * 0.7).astype(np.uint8)
    masks = [masked(thing) for thing in things]
    throws = [shadow_evidence(picture, mask, masks[:k] + masks[k + 1 :]) for k, mask in enumerate(masks)]
    seen = [each for each in throws if each is not None]
    assert len(seen) == 3
    sun = common_sun(seen)
    assert sun is not None
    assert sun.like(Sun(0.7, -0.25))
    for each, truth, thing in zip(seen, shadows, things, strict=True):
        found = each.shadow(sun)
        assert found is not None
        got = found.mask.full(SIZE[1], SIZE[0]) > 0
        assert likeness(got, truth) > 0.5
        assert not (got & thing).any()


def test_things_in_shade_have_no_common_sun() -> None:
    picture = ground(3)
    things = [figure(160, 230, 120), figure(330, 250, 140), figure(480, 240, 110)]
    for thing in things:
        picture[thing] = (60, 80, 160)
    throws = [shadow_evidence(picture, masked(thing)) for thing in things]
    assert common_sun([each for each in throws if each is not None]) is None
    assert common_sun([]) is None


def test_a_shadow_across_two_grounds_is_found_on_both() -> None:
    thing = figure(250, 250, 150)
    picture, (truth,) = in_sun([thing], 1.0, -0.2)
    # Grass from here on, half as light as the gravel: its shadow is darker still.
    grass = np.zeros(SIZE, bool)
    grass[:, 330:] = True
    picture[grass] = (picture[grass] * np.array([0.35, 0.6, 0.25])).astype(np.uint8)
    found = shadow_of(picture, masked(thing))
    assert found is not None
    got = found.mask.full(SIZE[1], SIZE[0]) > 0
    assert likeness(got[:, :330], truth[:, :330]) > 0.5
    assert likeness(got[:, 330:], truth[:, 330:]) > 0.5


def test_light_is_lost_against_ground_of_the_same_hue_only() -> None:
    picture = np.zeros((60, 120, 3), np.uint8)
    picture[:, :60], picture[:, 60:] = (200, 190, 170), (60, 110, 40)
    picture[20:40, 30:50] //= 2
    lost = lost_light(*light_of(picture), np.ones((60, 120), bool))
    # Half the value is 2.2 times log 2 of the light; what is merely of another colour has lost nothing.
    assert lost[30, 40] == pytest.approx(2.2 * np.log(2), abs=0.1)
    assert np.abs(lost[5:15, 5:25]).max() < 0.05
    assert np.abs(lost[5:55, 70:115]).max() < 0.05
    assert not lost_light(*light_of(picture), np.zeros((60, 120), bool)).any()


@given(st.integers(0, len(SUN_CANDIDATES) - 1), st.integers(0, len(SUN_CANDIDATES) - 1))
def test_closeness_is_how_far_suns_are_apart(one: int, other: int) -> None:
    assert SUN_CLOSENESS[one, other] == pytest.approx(
        max(1 - SUN_CANDIDATES[one].away(SUN_CANDIDATES[other]) / MAX_SUN_DISTANCE, 0), abs=1e-6
    )
    assert (SUN_CLOSENESS[one, other] > 0) == SUN_CANDIDATES[one].like(SUN_CANDIDATES[other])


@given(st.sampled_from(SUN_CANDIDATES), st.integers(0, 60), st.integers(0, 60))
def test_a_throw_keeps_the_feet_and_moves_with_its_thing(sun: Sun, x: int, y: int) -> None:
    body = np.zeros((220, 300), bool)
    body[60:100, 110:130] = True
    moved = np.roll(body, (y, x), axis=(0, 1))
    assert foot_of(moved) == 99 + y
    first, second = projected_outline(sun, body), projected_outline(sun, moved)
    # The row of the feet stays; the top goes as far as the sun says.
    assert abs(np.flatnonzero(first[99]).mean() - 119.5) <= 1
    inner = np.s_[20:150, 20:230]
    assert (np.roll(first, (y, x), axis=(0, 1))[y:, x:][inner] == second[y:, x:][inner]).all()
    tip = round(99 + sun.down * 39)
    if tip < 219 and abs(sun.down) > 0.1:
        rows = np.flatnonzero(first.any(axis=1))
        assert abs((rows[-1] if sun.down > 0 else rows[0]) - tip) <= 2


def test_what_is_seen_of_a_shadow_lies_beside_its_thing_and_is_darker_than_the_clean_twin() -> None:
    shot, clean = clean_twin("ov-0431")
    [cream] = [e for e in distractions("ov-0431") if e.name == "visitor in cream" and e.part == "object"]
    seen = seen_shadow("ov-0431", "visitor in cream")
    thing = mask_of("ov-0431", cream) > 0
    assert not (seen & thing).any()
    assert shot[seen].mean() < 0.8 * clean[seen].mean()
    assert box_of(seen).bottom > box_of(thing).bottom - 40
    # Who stands in the hedge's shade throws none that anybody sees.
    assert not seen_shadow("ov-0431", "visitor at the edge").any()
    assert "ov-0431" in frames()


def test_the_table_counts_right_ones_and_false_ones() -> None:
    found = [
        Outcome("a", True, True, 0.7),
        Outcome("b", True, True, 0.4),
        Outcome("c", True, False, 0.0),
        Outcome("f", True, True, 0.02),
    ]
    none = [Outcome("d", False, True, 0.0), Outcome("e", False, False, 0.0)]
    assert "| here | 4 | 1 | 2 | 1 | 0.28 | 2 | 1 |" in table({"here": found + none})
