"""Grain by band and tone, on ground whose noise is known."""

from __future__ import annotations

import numpy as np
import pytest

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.fill.bands import MAX_GAIN, match_grain


def ground(noise: tuple[float, float], hole: Bools, inside: float) -> Floats:
    """Dark above, light below, each with noise of its own; in the hole it has only this share of it."""
    random = np.random.default_rng(4)
    tone, strength = (np.interp(np.arange(200), (85, 115), ends)[:, None, None] for ends in ((30.0, 180.0), noise))
    grain = random.normal(0, 1, (200, 240, 3)) * strength
    return np.asarray(tone + grain * np.where(hole, inside, 1.0)[..., None], np.float32)


def strength(pixels: Floats, rows: slice) -> float:
    return float(pixels[rows, 90:150].std())


@pytest.fixture
def hole() -> Bools:
    out = np.zeros((200, 240), np.bool_)
    out[40:160, 80:160] = True
    return out


def test_lost_grain_comes_back_to_what_its_own_tone_has(hole: Bools) -> None:
    """Little noise in the dark, much in the light: each gets its own, though both lie within reach of each other."""
    pixels = ground((2.0, 12.0), hole, 0.8)
    before = pixels.copy()
    match_grain(pixels, hole, ~hole, 40)
    for rows, wanted in ((slice(44, 80), 2.0), (slice(120, 156), 12.0)):
        assert strength(before, rows) == pytest.approx(0.8 * wanted, rel=0.05)
        assert strength(pixels, rows) == pytest.approx(wanted, rel=0.12)
    assert np.array_equal(pixels[~hole], before[~hole])


def test_grain_is_not_turned_down_and_not_up_by_more_than_a_third(hole: Bools) -> None:
    for inside, gain in ((2.0, 1.0), (0.2, MAX_GAIN)):
        pixels = ground((6.0, 6.0), hole, inside)
        before = strength(pixels, slice(44, 80))
        match_grain(pixels, hole, ~hole, 40)
        assert strength(pixels, slice(44, 80)) / before == pytest.approx(gain, rel=0.06)


def test_where_nothing_is_known_or_nothing_is_missing_all_stays(hole: Bools) -> None:
    pixels = ground((6.0, 6.0), hole, 0.5)
    before = pixels.copy()
    match_grain(pixels, hole, np.zeros_like(hole), 40)
    match_grain(pixels, np.zeros_like(hole), ~hole, 40)
    assert np.array_equal(pixels, before)
