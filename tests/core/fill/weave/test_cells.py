"""Cells of a hole: parted by drawn lines, each filled from its own ground or from where an arrow comes from."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.lead import LeadLine, with_grounds
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.weave.scene import Scene, make_scene

HEIGHT, WIDTH = 200, 300
HOLE = (slice(70, 130), slice(110, 190))
# Sky above, water in the middle, pebbles below; a boat on the water beside the hole.
SHORE_ROW = 100
COLOURS = np.array([(150, 185, 225), (60, 95, 100), (150, 135, 110), (170, 40, 35)], np.float64)
SKY, WATER, PEBBLES, BOAT = range(4)
SHORE = LeadLine(points=((100.0, 100.0), (200.0, 100.0)))


def ground_labels() -> NDArray[np.int32]:
    labels = np.full((HEIGHT, WIDTH), PEBBLES, np.int32)
    labels[:SHORE_ROW] = WATER
    labels[:40] = SKY
    labels[62:96, 194:240] = BOAT
    return labels


def coast(seed: int = 0) -> Pixels:
    random = np.random.default_rng(seed)
    labels = ground_labels()
    noise = cv2.GaussianBlur(random.normal(0, 1, (HEIGHT, WIDTH)), (0, 0), 1.2) * 14
    coarse = cv2.GaussianBlur(random.normal(0, 1, (HEIGHT, WIDTH)), (0, 0), 2.5) * 60
    detail = np.where(labels == PEBBLES, coarse, np.where(labels == WATER, noise, 0.3 * noise))
    return np.asarray(np.clip(COLOURS[labels] + detail[..., None], 0, 255), np.uint8)


def hole_of_it() -> Bools:
    hole = np.zeros((HEIGHT, WIDTH), np.bool_)
    hole[HOLE] = True
    return hole


def scene_with(*lead: LeadLine) -> Scene:
    picture, hole = coast(), hole_of_it()
    nothing = np.zeros_like(hole)
    return make_scene(picture, whole(picture), hole, nothing, nothing, 30.0, lead=lead)


def filled(*lead: LeadLine, quality: Quality = Quality.FAST, takes: int = 1) -> list[Patch]:
    picture, hole = coast(), hole_of_it()
    picture[hole] = (255, 0, 255)
    mask = np.where(hole, 255, 0).astype(np.uint8)
    given_input = FillInput(below=picture, mask=mask, seed=2, takes=takes, quality=quality, lead=lead)
    return list(ByPart(Method.AUTO).fill(given_input))


def copied_grounds(patch: Patch) -> NDArray[np.int32]:
    """Label of the ground that each pixel of the hole was copied from."""
    assert patch.offsets is not None
    rows, columns = np.nonzero(hole_of_it())
    offsets = patch.offsets[rows - patch.box.y, columns - patch.box.x]
    out = np.full((HEIGHT, WIDTH), -1, np.int32)
    out[rows, columns] = ground_labels()[rows + offsets[:, 1], columns + offsets[:, 0]]
    return out


def wrong_share(patch: Patch) -> float:
    """Share of the pixels off the shore line by more than the strip along it that come from a foreign ground."""
    found, rows = copied_grounds(patch), np.arange(HEIGHT)[:, None]
    off_line = hole_of_it() & (np.abs(rows - SHORE_ROW) > 8)
    expected = np.where(rows < SHORE_ROW, WATER, PEBBLES)
    return float((found != expected)[off_line].mean())


@pytest.mark.parametrize("quality", [Quality.FAST, Quality.FINE])
def test_each_side_of_a_line_is_filled_from_its_own_ground(quality: Quality) -> None:
    for patch in filled(SHORE, quality=quality, takes=2):
        # The boat touches the rim of the upper cell: only an arrow says that it does not go on.
        found = copied_grounds(patch)
        below = hole_of_it() & (np.arange(HEIGHT)[:, None] > SHORE_ROW + 8)
        above = hole_of_it() & (np.arange(HEIGHT)[:, None] < SHORE_ROW - 8)
        assert (found[below] == PEBBLES).mean() >= 0.98
        assert (found[above] != PEBBLES).mean() >= 0.98


@pytest.mark.parametrize("quality", [Quality.FAST, Quality.FINE])
def test_an_arrow_says_which_ground_goes_on(quality: Quality) -> None:
    arrow = LeadLine(points=((60.0, 70.0), (150.0, 85.0)), brings="ground")
    for patch in filled(SHORE, arrow, quality=quality, takes=2):
        assert wrong_share(patch) <= 0.02


def test_one_arrow_without_lines_fills_all_of_the_hole() -> None:
    arrow = LeadLine(points=((60.0, 20.0), (150.0, 100.0)), brings="ground")
    (patch,) = filled(arrow)
    assert (copied_grounds(patch)[hole_of_it()] == SKY).mean() >= 0.98


def test_several_arrows_into_one_cell_bring_several_grounds() -> None:
    sky = LeadLine(points=((60.0, 20.0), (150.0, 90.0)), brings="ground")
    water = LeadLine(points=((60.0, 70.0), (150.0, 80.0)), brings="ground")
    (patch,) = filled(sky, water)
    found = copied_grounds(patch)[hole_of_it()]
    assert np.isin(found, (SKY, WATER)).mean() >= 0.98


COORDINATE = st.tuples(st.integers(60, 240), st.integers(20, 180))


@settings(max_examples=25)
@given(st.lists(COORDINATE, min_size=2, max_size=4), st.lists(st.tuples(COORDINATE, COORDINATE), max_size=2))
def test_every_pixel_lies_in_one_cell(
    points: list[tuple[int, int]], arrows: list[tuple[tuple[int, int], tuple[int, int]]]
) -> None:
    lead = [LeadLine(points=tuple(points)), *(LeadLine(points=arrow, brings="ground") for arrow in arrows)]
    scene = scene_with(*lead)
    for level in scene.levels:
        inside = np.concatenate([ground.inside for ground in level.grounds])
        targets = np.concatenate([ground.targets for ground in level.grounds])
        assert sorted(map(tuple, inside.tolist())) == sorted(map(tuple, level.inside.tolist()))
        assert sorted(map(tuple, targets.tolist())) == sorted(map(tuple, level.targets.tolist()))
        for ground in level.grounds:
            assert len(ground.sources) >= 16
            assert not (ground.allowed & ~level.allowed).any()


def test_same_seed_same_bits() -> None:
    arrow = LeadLine(points=((60.0, 70.0), (150.0, 85.0)), brings="ground")
    (first,), (second,) = filled(SHORE, arrow), filled(SHORE, arrow)
    assert np.array_equal(first.pixels, second.pixels)


def test_a_ground_far_off_is_read_too() -> None:
    picture, hole = coast(), hole_of_it()
    tight = whole(picture).model_copy(update={"x": 110, "y": 70, "width": 80, "height": 60})
    arrow = LeadLine(points=((2900.0, 30.0), (150.0, 85.0)), brings="ground")
    large = whole(np.zeros((2000, 3000), np.uint8))
    seen = with_grounds(tight, [arrow], tight, large)
    assert seen.right == 2949
    # One that ends beside the hole brings nothing into it.
    elsewhere = arrow.model_copy(update={"points": ((2900.0, 30.0), (20.0, 20.0))})
    assert with_grounds(tight, [elsewhere], tight, large) == tight
    assert hole.any()
