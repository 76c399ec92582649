"""Where a fill comes from: places like those round the hole, and never things that stand beside it."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.engine import FillInput, Sources
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.excluded_objects import EDGE_MARGIN_PX, excludable, things_to_exclude
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.weave.context_features import context_of
from keen_sweep.core.fill.weave.kinds import SOFT_KIND
from keen_sweep.core.fill.weave.scene import PATCH_RADIUS_PX, Scene, make_scene
from keen_sweep.core.fill.weave.synthesis import begin
from keen_sweep.core.methods.patchmatch import measure


def scene_of(pixels: NDArray[Any], hole: NDArray[Any], radius: float, at_home: bool = True) -> Scene:
    none = np.zeros_like(hole)
    return make_scene(pixels, whole(pixels), hole, none, none, radius, None, at_home)


def test_the_setting_is_the_rims_carried_on_and_knows_nothing_of_the_hole() -> None:
    features = np.zeros((40, 60, 4), np.int16)
    features[:, :30], features[:, 30:] = 100, 900
    hole = np.zeros((40, 60), bool)
    hole[14:24, 40:50] = True
    features[hole] = -3000
    values = context_of(features, hole, ~hole)
    assert (np.abs(values[hole] - 900) <= 1).all()
    assert (np.abs(values[:, :12] - 100) <= 1).all()
    across = values[5, 20:40, 0]
    assert (np.diff(across) >= 0).all(), "from one ground to the other without a bump"


def test_a_source_from_elsewhere_costs_what_its_setting_differs_by(photograph: NDArray[Any]) -> None:
    pixels = np.ascontiguousarray(photograph[150:300, 200:400])
    hole = np.zeros(pixels.shape[:2], bool)
    hole[60:90, 80:110] = True
    level = scene_of(pixels, hole, 15.0).levels[0]
    here = np.ascontiguousarray(level.there[level.window.slices])
    rng = np.random.default_rng(3)
    field = np.zeros((*level.hole.shape, 2), np.int32)
    field[tuple(level.targets.T)] = level.sources[rng.integers(0, len(level.sources), len(level.targets))]
    costs = []
    for weight in (0, 7):
        cost = np.full(level.hole.shape, -1, np.int32)
        measure(here, level.there, level.targets, field, cost, PATCH_RADIUS_PX, level.setting._replace(weight=weight))
        costs.append(cost[tuple(level.targets.T)].astype(np.int64))
    scale = 2**level.setting.shift
    at = (level.targets + np.array([level.window.y, level.window.x])) // scale
    source = field[tuple(level.targets.T)] // scale
    values = level.setting.values.astype(np.int64)
    apart = ((values[tuple(at.T)] - values[tuple(source.T)]) ** 2).sum(axis=1)
    assert np.array_equal(costs[1] - costs[0], 7 * apart)
    assert apart.max() > 0


def test_a_panel_of_the_grounds_tone_is_not_copied_into_the_ground() -> None:
    """A light panel in a dark frame beside a light wall: patch by patch they are the same stuff."""
    rng = np.random.default_rng(0)
    wall = rng.normal(160, 12, (160, 260, 1)).repeat(3, axis=2)
    panel = np.zeros((160, 260), bool)
    panel[40:120, 190:230] = True
    wall[30:130, 176:244] = rng.normal(30, 12, (100, 68, 1))
    # Calmer than the wall: the voting likes it.
    wall[panel] = rng.normal(160, 2, (int(panel.sum()), 1))
    pixels = wall.clip(0, 255).astype(np.uint8)
    hole = np.zeros((160, 260), bool)
    hole[55:105, 60:110] = True
    shares = []
    for weight in (0, SOFT_KIND.setting):
        scene = scene_of(pixels, hole, 25.0)
        kind = replace(SOFT_KIND, setting=weight)
        level = scene.levels[scene.half]
        spots = [begin(scene, kind, seed, Quality.FINE, lambda share: None).origins for seed in range(3)]
        origins = np.concatenate(spots) * 2**scene.half
        assert (origins < np.array(level.allowed.shape) * 2**scene.half).all()
        shares.append(float(panel[tuple(origins.T)].mean()))
    assert shares[1] < 0.05
    assert shares[1] <= shares[0]


def test_words_may_ask_for_ground_from_elsewhere(photograph: NDArray[Any]) -> None:
    pixels = np.ascontiguousarray(photograph[150:300, 200:400])
    hole = np.zeros(pixels.shape[:2], bool)
    hole[60:90, 80:110] = True
    away = scene_of(pixels, hole, 15.0, at_home=False).levels[0].setting
    assert away.values.size == 4
    assert not away.values.any()


@given(st.integers(0, 60), st.integers(0, 60), st.integers(4, 30), st.integers(4, 30))
def test_things_are_barred_with_their_edge_but_never_the_hole_itself(y: int, x: int, tall: int, wide: int) -> None:
    hole = np.zeros((80, 80), bool)
    hole[30:50, 30:50] = True
    thing = np.zeros_like(hole)
    thing[y : y + tall, x : x + wide] = True
    found = things_to_exclude(hole, [thing])
    if found is None:
        return
    assert not (found & hole).any()
    assert found[thing & ~hole].all()
    rows, columns = np.nonzero(found)
    near = (
        (rows >= y - EDGE_MARGIN_PX)
        & (rows < y + tall + EDGE_MARGIN_PX)
        & (columns >= x - EDGE_MARGIN_PX)
        & (columns < x + wide + EDGE_MARGIN_PX)
    )
    assert near.all()


def test_a_hole_in_a_thing_is_filled_from_the_thing() -> None:
    hole = np.zeros((80, 80), bool)
    hole[30:40, 30:40] = True
    coat = np.zeros_like(hole)
    coat[10:70, 20:60] = True
    other = np.zeros_like(hole)
    other[30:50, 70:78] = True
    assert things_to_exclude(hole, [coat]) is None
    found = things_to_exclude(hole, [coat, other])
    assert found is not None
    assert not found[coat].any()
    assert found[other].all()


@pytest.mark.parametrize(("share", "kept"), [(0.5, True), (0.7, False)])
def test_things_are_avoided_only_while_enough_is_left(share: float, kept: bool) -> None:
    ground = np.ones((10, 100), bool)
    things = np.zeros_like(ground)
    things[:, : int(100 * share)] = True
    assert excludable(things, ground).any() == kept


def test_no_pixel_of_a_fill_comes_from_a_thing(photograph: NDArray[Any]) -> None:
    below = np.ascontiguousarray(photograph[150:300, 200:400])
    mask = np.zeros(below.shape[:2], np.uint8)
    mask[60:90, 80:110] = 255
    things = np.zeros(below.shape[:2], bool)
    things[40:110, 120:150] = True

    def drawn_from_things(fill_input: FillInput) -> float:
        shares = []
        for patch in engine_for(Method.WEAVE).fill(fill_input):
            assert patch.offsets is not None
            y, x = np.nonzero(patch.alpha)
            dx, dy = patch.offsets[y, x].T
            shares.append(things[y + patch.box.y + dy, x + patch.box.x + dx].mean())
        return float(np.max(shares))

    assert drawn_from_things(FillInput(below=below, mask=mask)) > 0, "what is beside the hole would be copied"
    assert drawn_from_things(FillInput(below=below, mask=mask, sources=Sources(things=things))) == 0
