"""Materials in pictures: places told by their looks, the same at any size and depth, and none where there is none."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage

from keen_sweep.bench.drawn import sky
from keen_sweep.bench.two_materials import MATERIAL_BORDERS
from keen_sweep.core.fill.words.materials import MATERIAL_LOOKS, MATERIAL_WORDS, MEASURE_NAMES, OVERALL_LOOK
from keen_sweep.core.fill.words.recognise import measures_of, recognise_materials
from keen_sweep.core.fill.words.understood import interpret_hints
from tests.support.sure import sure

pytestmark = pytest.mark.scenes


def lawn(height: int = 400, width: int = 600) -> NDArray[Any]:
    """A made-up lawn below a made-up sky."""
    random = np.random.default_rng(3)
    out = sky(1, height, width).astype(float)
    blades = ndimage.gaussian_filter(random.normal(size=(height, width)), (1.6, 0.6))
    blades = blades / blades.std() * 22
    green = np.array([88.0, 120.0, 42.0]) + blades[..., None]
    out[height // 2 :] = green[height // 2 :]
    return out.clip(0, 255).astype(np.uint8)


def test_every_material_has_names_and_looks_of_known_measures() -> None:
    assert set(MATERIAL_WORDS) == set(MATERIAL_LOOKS)
    assert set(OVERALL_LOOK) == set(MEASURE_NAMES)
    for ways in MATERIAL_LOOKS.values():
        for way in ways:
            assert set(way) <= set(MEASURE_NAMES)
            assert all(spread > 0 for _, spread in way.values())


def test_sky_and_lawn_are_where_they_are() -> None:
    picture = lawn()
    ground = recognise_materials(picture, np.zeros(picture.shape[:2], bool))
    above, below = ground.where(["sky"], 0.5), ground.where(["grass"], 0.5)
    assert above[:180].mean() > 0.9
    assert above[220:].mean() < 0.02
    assert below[220:].mean() > 0.9
    assert below[:180].mean() < 0.02
    assert np.abs(ground.shares.sum(axis=1) <= 1.0001).all()


def test_depth_and_size_change_little() -> None:
    picture = lawn()
    nothing = np.zeros(picture.shape[:2], bool)
    here = recognise_materials(picture, nothing).where(["grass"], 0.5)
    deep = recognise_materials(picture.astype(np.uint16) * 257, nothing).where(["grass"], 0.5)
    assert np.array_equal(here, deep)
    large = np.kron(picture, np.ones((3, 3, 1), np.uint8))
    grown = recognise_materials(large, np.zeros(large.shape[:2], bool)).where(["grass"], 0.5)
    assert grown.shape == large.shape[:2]
    assert (grown[::3, ::3] == here).mean() > 0.93


def test_what_is_to_be_filled_does_not_shine_into_its_surroundings() -> None:
    picture = lawn()
    hole = np.zeros(picture.shape[:2], bool)
    hole[250:330, 200:320] = True
    covered = picture.copy()
    covered[hole] = (196, 40, 150)
    around = ndimage.binary_dilation(hole, iterations=25) & ~ndimage.binary_dilation(hole, iterations=3)
    assert recognise_materials(covered, hole).where(["grass"], 0.5)[around].mean() > 0.9
    found = interpret_hints(covered, hole, "grass", "")
    assert found.draw_from is not None
    assert not (found.draw_from & hole).any()
    assert found.foreign is not None
    assert not (found.foreign & (found.draw_from | hole)).any()


def test_a_picture_of_nothing_shows_no_material_that_has_a_texture() -> None:
    flat = np.full((200, 300, 3), (255, 0, 255), np.uint8)
    hole = np.zeros((200, 300), bool)
    hole[80:120, 100:150] = True
    found = interpret_hints(flat, hole, "gravel, bricks, grass and leaves", "")
    assert found.draw_from is None
    assert set(found.missing) == {"gravel", "brick", "grass", "foliage"}


def test_a_patch_near_by_is_preferred_if_there_is_enough() -> None:
    picture = lawn(600, 1200)
    hole = np.zeros(picture.shape[:2], bool)
    hole[480:520, 100:150] = True
    found = interpret_hints(picture, hole, "grass", "")
    columns = np.flatnonzero(sure(found.draw_from).any(axis=0))
    assert columns.max() < 400, "grass of the other end has another light"


def test_measures_are_what_they_say() -> None:
    flat = np.full((80, 120, 3), 128, np.uint8)
    level, upright = flat.copy(), flat.copy()
    level[::8] = 40
    upright[:, ::8] = 40
    measured = {
        name: measures_of(picture)[40, 60] for name, picture in (("flat", flat), ("level", level), ("upright", upright))
    }
    at = MEASURE_NAMES.index
    assert measured["level"][at("level")] > 0.8
    assert measured["upright"][at("level")] < -0.8
    assert measured["level"][at("lined")] > 0.8
    assert measured["flat"][at("lined")] < 0.1
    assert measured["level"][at("fine")] > measured["flat"][at("fine")] + 3
    assert measured["flat"][at("light")] == pytest.approx(53.6, abs=0.5), "L* of mid grey in sRGB (CIE 1976)"
    assert np.abs(measured["flat"][[at("red"), at("yellow")]]).max() < 0.1
    assert measures_of(flat)[0, 0, at("down")] == 0
    assert measures_of(flat)[-1, 0, at("down")] == 1


@pytest.mark.parametrize("border", MATERIAL_BORDERS, ids=lambda border: border.name)
def test_the_truth_of_the_bench_holds_two_materials_and_a_hole_between(border) -> None:  # type: ignore[no-untyped-def]
    photo, hole, truth = border.load()
    first, second = truth.values()
    assert not (first & second).any()
    assert first.mean() > 0.03
    assert second.mean() > 0.03
    assert (photo[hole] == (196, 40, 150)).all()
    assert 0.001 < hole.mean() < 0.05
