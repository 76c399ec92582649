"""The offsets at which a picture repeats itself (He & Sun 2012), against a direct search."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.methods.offsets import best_shifts, blur, repeats, shifts_of


def mean_difference(planes: NDArray[Any], known: NDArray[Any], dy: int, dx: int) -> float:
    """The mean squared difference between known pixels and those at an offset, pixel by pixel."""
    height, width = known.shape
    a = (slice(max(-dy, 0), min(height - dy, height)), slice(max(-dx, 0), min(width - dx, width)))
    b = (slice(max(dy, 0), min(height + dy, height)), slice(max(dx, 0), min(width + dx, width)))
    both = known[a] & known[b]
    return float(((planes[a].astype(float) - planes[b]) ** 2).sum(2)[both].mean())


def test_a_pattern_repeats_at_its_period() -> None:
    tile = np.random.default_rng(2).integers(0, 255, (12, 17, 3), dtype=np.uint8).astype(np.int16)
    planes = np.tile(tile, (8, 7, 1))
    known = np.ones(planes.shape[:2], bool)
    known[40:60, 50:80] = False
    found = repeats(planes, known, 6.0)
    assert all(dy % 12 == 0 and dx % 17 == 0 for dy, dx in found[:8])
    for dy, dx in found[:8]:
        assert mean_difference(planes, known, dy, dx) == 0


def test_the_best_offset_of_a_brick_wall_is_the_best_there_is() -> None:
    planes = np.repeat(data.brick()[:160:2, :200:2, None], 3, axis=2).astype(np.int16)
    known = np.ones(planes.shape[:2], bool)
    known[30:50, 40:60] = False
    best = tuple(repeats(planes, known, 6.0)[0])
    # Every offset that leaves a fifth of the overlap, one by one.
    overlap = known.sum()
    direct = {}
    for dy in range(-40, 41, 1):
        for dx in range(-50, 51, 1):
            shared = (80 - abs(dy)) * (100 - abs(dx))
            if np.hypot(dy, dx) >= 6 and shared > 0.35 * overlap:
                direct[dy, dx] = mean_difference(planes, known, dy, dx)
    least = min(direct.values())
    assert mean_difference(planes, known, *best) <= least * 1.02


def test_a_start_carries_the_pattern_on() -> None:
    tile = np.random.default_rng(2).integers(0, 255, (12, 17, 3), dtype=np.uint8).astype(np.int16)
    planes = np.tile(tile, (10, 9, 1))
    hole = np.zeros(planes.shape[:2], bool)
    hole[50:75, 60:95] = True
    allowed = ~hole
    found = shifts_of(planes, hole, ~hole, allowed)
    assert found is not None
    assert not np.isfinite(found.misfit).all()
    moved = best_shifts(found, np.random.default_rng(0))
    assert np.isfinite(moved).all()
    sources = np.argwhere(hole) + moved.astype(int)
    assert allowed[tuple(sources.T)].all()
    assert np.mean(planes[tuple(sources.T)] == planes[hole]) > 0.95


@pytest.mark.parametrize("sigma", [3.0, 12.0, 20.0, 40.0])
def test_a_mean_over_a_wide_window_is_as_good_as_opencvs(sigma: float) -> None:
    plane = data.gravel().astype(np.float32)[:300, :411] * (np.indices((300, 411)).sum(axis=0) % 7 < 3)
    exact = cv2.GaussianBlur(plane, (0, 0), sigma)
    assert np.abs(blur(plane, sigma) - exact).max() < 0.02 * exact.max()
