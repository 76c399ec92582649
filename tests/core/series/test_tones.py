"""Tones between two frames: curves that rise, and give one frame's numbers the other's."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage import data
from skimage.exposure import match_histograms

from keen_sweep.core.series.tones import IDENTITY_TONES, tones_between


def _pixels(picture: NDArray[Any]) -> NDArray[Any]:
    return picture.reshape(-1, 3).astype(np.float32) / np.float32(255)


@given(stops=st.floats(-1, 1), red=st.floats(0.85, 1.15), seed=st.integers(0, 99))
def test_an_exposure_is_taken_back(stops: float, red: float, seed: int) -> None:
    random = np.random.default_rng(seed)
    like = random.beta(2, 3, (4_000, 3)).astype(np.float32)
    light = like**2.2 * 2**stops * np.array([red, 1, 1 / red])
    pixels = (np.clip(light, 0, 1) ** (1 / 2.2)).astype(np.float32)
    found = tones_between(pixels, like).applied(pixels)
    told = pixels.max(axis=1) < 0.99
    assert np.abs(found - like)[told].mean() < 0.012


@given(few=st.integers(1, 400), bent=st.floats(0.2, 5), seed=st.integers(0, 99))
def test_curves_never_fall(few: int, bent: float, seed: int) -> None:
    """However few different values there are, and whatever the other frame shows."""
    random = np.random.default_rng(seed)
    pixels = random.choice(random.random(few) ** bent, (600, 3)).astype(np.float32)
    like = random.random(pixels.shape).astype(np.float32)
    every = np.repeat(np.linspace(0, 1, 64, dtype=np.float32)[:, None], 3, axis=1)
    assert (np.diff(tones_between(pixels, like).applied(every), axis=0) >= -1e-6).all()


def test_it_is_histogram_matching() -> None:
    """Against scikit-image's, which matches every value rather than some quantiles."""
    one, other = data.astronaut(), data.coffee()[:, :, :3]
    own = tones_between(_pixels(one), _pixels(other)).laid_on(one).astype(float)
    theirs = match_histograms(one, other, channel_axis=-1)
    assert np.abs(own - theirs).mean() < 2.5


def test_a_few_places_that_differ_do_not_matter() -> None:
    like = _pixels(data.coffee())
    pixels = like.copy()
    pixels[: len(pixels) // 50] = (1, 0, 1)
    assert np.abs(tones_between(pixels, like).applied(like) - like).mean() < 0.02


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_both_depths_are_served(dtype: type) -> None:
    top = np.iinfo(dtype).max
    pixels = (data.coffee().astype(np.float64) / 255 * top).astype(dtype)
    assert np.array_equal(IDENTITY_TONES.laid_on(pixels), pixels)
    darker = tones_between(_pixels(data.coffee()), _pixels(data.coffee() // 2)).laid_on(pixels)
    assert darker.dtype == dtype
    assert abs(darker.mean() / pixels.mean() - 0.5) < 0.02


def test_too_little_tells_nothing() -> None:
    assert tones_between(np.zeros((20, 3), np.float32), np.ones((20, 3), np.float32)) is IDENTITY_TONES
