"""What happens to a weave on its way to pixels: grain matched, likeness told."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.fill.bands import MAX_GAIN, match_grain
from keen_sweep.core.fill.weave.dissimilarity import dissimilarity


def noise(shape: tuple[int, ...], strength: float, seed: int = 0) -> NDArray[Any]:
    return (120 + strength * np.random.default_rng(seed).normal(size=shape)).astype(np.float32)


def hole_in(shape: tuple[int, int]) -> NDArray[Any]:
    hole = np.zeros(shape, bool)
    hole[40:80, 50:100] = True
    return hole


def test_grain_comes_back_where_it_was_lost_and_nowhere_else() -> None:
    pixels = noise((120, 150, 3), 8)
    hole = hole_in((120, 150))
    before = pixels.copy()
    pixels[hole] = (120 + 0.8 * (before - 120))[hole]
    soft = pixels.copy()
    match_grain(pixels, hole, ~hole, 20)
    assert np.array_equal(pixels[~hole], before[~hole])
    core = np.zeros_like(hole)
    core[48:72, 58:92] = True

    def fine(picture: NDArray[Any]) -> float:
        return float(np.abs(picture - cv2.GaussianBlur(picture, (0, 0), 0.8))[core].mean())

    assert fine(soft) == pytest.approx(0.8 * fine(before), rel=0.02)
    assert fine(pixels) == pytest.approx(fine(before), rel=0.06)


def test_grain_is_raised_by_a_limited_amount_and_never_turned_down() -> None:
    hole = hole_in((120, 150))
    for factor in (0.0, 0.3, 2.0):
        pixels = noise((120, 150, 3), 8)
        pixels[hole] = (120 + factor * (pixels - 120))[hole]
        given = pixels.copy()
        match_grain(pixels, hole, ~hole, 20)
        change = np.abs(pixels - given)[hole]
        if factor == 2.0:
            assert change.max() < 1.5  # the rim only, where both sides meet
        assert np.abs(pixels[hole] - 120).mean() <= MAX_GAIN**2 * np.abs(given[hole] - 120).mean() + 0.5
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
        name: dissimilarity(np.where(hole[..., None], fill, surroundings), hole, ~hole) for name, fill in fills.items()
    }
    assert found["same"] < found["soft"]
    assert found["same"] < found["dark"]
    everywhere = np.ones((20, 20), bool)
    assert dissimilarity(surroundings[:20, :20], everywhere, ~everywhere) == 0
