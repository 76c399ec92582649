"""What happens to a weave on its way to pixels: joints settled, grain matched, takes ranked."""

import cv2
import numpy as np
import pytest

from keen_sweep.core.fill.bands import MOST, matched
from keen_sweep.core.fill.weave.likeness import unlikeness
from keen_sweep.core.fill.weave.nearest import FAR, patch_distance
from keen_sweep.core.fill.weave.scene import REACH
from keen_sweep.core.fill.weave.settle import settle


def noise(shape: tuple[int, ...], strength: float, seed: int = 0) -> np.ndarray:
    return (120 + strength * np.random.default_rng(seed).normal(size=shape)).astype(np.float32)


def hole_in(shape: tuple[int, int]) -> np.ndarray:
    hole = np.zeros(shape, bool)
    hole[40:80, 50:100] = True
    return hole


def test_grain_comes_back_where_it_was_lost_and_nowhere_else() -> None:
    pixels = noise((120, 150, 3), 8)
    hole = hole_in((120, 150))
    before = pixels.copy()
    pixels[hole] = (120 + 0.8 * (before - 120))[hole]
    soft = pixels.copy()
    matched(pixels, hole, ~hole, 20)
    assert np.array_equal(pixels[~hole], before[~hole])
    core = np.zeros_like(hole)
    core[48:72, 58:92] = True

    def fine(picture: np.ndarray) -> float:
        return float(np.abs(picture - cv2.GaussianBlur(picture, (0, 0), 0.8))[core].mean())

    assert fine(soft) == pytest.approx(0.8 * fine(before), rel=0.02)
    assert fine(pixels) == pytest.approx(fine(before), rel=0.06)


def test_grain_is_raised_by_a_limited_amount_and_never_turned_down() -> None:
    hole = hole_in((120, 150))
    for factor in (0.0, 0.3, 2.0):
        pixels = noise((120, 150, 3), 8)
        pixels[hole] = (120 + factor * (pixels - 120))[hole]
        given = pixels.copy()
        matched(pixels, hole, ~hole, 20)
        change = np.abs(pixels - given)[hole]
        if factor == 2.0:
            assert change.max() < 1.5  # the rim only, where both sides meet
        assert np.abs(pixels[hole] - 120).mean() <= MOST**2 * np.abs(given[hole] - 120).mean() + 0.5
        assert np.isfinite(pixels).all()


def test_a_fill_like_its_surroundings_ranks_before_one_that_is_not() -> None:
    surroundings = noise((120, 150, 3), 10)
    hole = hole_in((120, 150))
    fills = {
        "same": noise((120, 150, 3), 10, seed=1),
        "soft": cv2.GaussianBlur(noise((120, 150, 3), 10, seed=1), (0, 0), 1.5),
        "dark": noise((120, 150, 3), 10, seed=1) - 25,
    }
    found = {
        name: unlikeness(np.where(hole[..., None], fill, surroundings), hole, ~hole) for name, fill in fills.items()
    }
    assert found["same"] < found["soft"]
    assert found["same"] < found["dark"]
    everywhere = np.ones((20, 20), bool)
    assert unlikeness(surroundings[:20, :20], everywhere, ~everywhere) == 0


def test_settling_joins_whole_pieces_and_lowers_its_own_cost(photograph: np.ndarray) -> None:
    picture = np.ascontiguousarray(photograph[200:300, 60:180])
    features = np.dstack([picture, np.zeros(picture.shape[:2], np.uint8)])
    hole = np.zeros(picture.shape[:2], bool)
    hole[40:58, 50:70] = True
    reach = cv2.dilate(hole.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
    targets = np.argwhere(reach).astype(np.int32)
    allowed = ~(cv2.dilate(hole.astype(np.uint8), np.ones((13, 13), np.uint8)) > 0)
    allowed[:4], allowed[-4:], allowed[:, :4], allowed[:, -4:] = False, False, False, False
    sources = np.argwhere(allowed)
    random = np.random.default_rng(3)
    # Two offsets that suit and, here and there, a wild one.
    field = np.zeros((*hole.shape, 2), np.int32)
    cost = np.full(hole.shape, -1, np.int32)
    for y, x in targets:
        near = (y, x - 40) if x < 60 else (y, x + 40)
        field[y, x] = near if allowed[near] and random.random() > 0.3 else sources[random.integers(len(sources))]
        cost[y, x] = patch_distance(features, y, x, *field[y, x], REACH, FAR)

    def joints(at: np.ndarray) -> int:
        offsets = at - np.moveaxis(np.indices(hole.shape), 0, 2)
        both = hole[:, 1:] & hole[:, :-1]
        return int((offsets[:, 1:] != offsets[:, :-1]).any(2)[both].sum())

    before = joints(field)
    settle(features, hole, allowed, targets, field, cost, REACH, 4, 0.3)
    assert joints(field) < 0.5 * before
    assert allowed[tuple(field[hole].T)].all()
    for y, x in targets[::7]:
        assert cost[y, x] == patch_distance(features, y, x, *field[y, x], REACH, FAR)
