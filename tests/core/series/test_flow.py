"""Dense motion against shifts that are known, and how much of it is believed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import shift as shifted
from skimage import data

from keen_sweep.core.series.flow import (
    by_cells,
    consistent_flow,
    continue_cells,
    flow,
    local_similarity,
    texture_strength,
    warp_by,
)

GREY = data.camera()[100:356, 100:400]


@pytest.mark.parametrize(("across", "down"), [(0.0, 0.0), (1.5, -0.75), (4.0, 2.0)])
def test_a_shift_is_found_to_a_part_of_a_pixel(across: float, down: float) -> None:
    # scipy moves content towards higher numbers: what was at x is then at x + across.
    there = np.clip(shifted(GREY.astype(float), (down, across), order=3, mode="nearest"), 0, 255).astype(np.uint8)
    motion, same = consistent_flow(GREY, there, np.zeros((*GREY.shape, 2), np.float32), finest=0)
    tells = texture_strength(GREY) > 0.7
    off = np.hypot(motion[..., 0] - across, motion[..., 1] - down)[tells & same]
    assert np.quantile(off, 0.8) < 0.35
    assert same[tells].mean() > 0.8


def test_a_first_guess_reaches_what_flow_alone_does_not() -> None:
    far = np.roll(GREY, 70, axis=1)
    guess = np.zeros((*GREY.shape, 2), np.float32)
    guess[..., 0] = 69
    inside = (slice(20, -20), slice(20, -100))
    guided = consistent_flow(GREY, far, guess)[0][inside]
    assert np.median(np.abs(guided[..., 0] - 70)) < 0.3
    assert np.median(np.abs(flow(GREY, far)[inside][..., 0] - 70)) > 5


def test_pictures_are_alike_where_they_are() -> None:
    other = GREY.copy()
    other[60:120, 60:160] = np.random.default_rng(1).integers(0, 256, (60, 100))
    share = local_similarity(GREY, other)
    assert share[150:].min() > 0.99
    assert share[75:105, 75:145].mean() < 0.2
    # Brighter by a step is still alike.
    assert local_similarity(GREY // 2 + 20, GREY // 2 + 50).min() > 0.95
    plain = np.full((60, 60), 90, np.uint8)
    assert local_similarity(plain, plain).min() > 0.99


def test_plain_ground_tells_nothing_of_its_motion() -> None:
    picture = np.full((80, 80), 120, np.uint8)
    picture[40:, 40:] = 200
    tells = texture_strength(picture)
    assert tells[10, 10] < 0.02
    assert tells[40, 40] > 0.9
    assert tells[70, 40] < tells[40, 40]


@given(dx=st.floats(-9, 9), dy=st.floats(-9, 9), seed=st.integers(0, 50))
def test_a_motion_is_drawn_on_over_what_does_not_tell(dx: float, dy: float, seed: int) -> None:
    weight = (np.random.default_rng(seed).random((12, 15)) < 0.1).astype(np.float32)
    weight[3, 4] = 1
    mean = np.where(weight[..., None] > 0, np.array([dx, dy], np.float32), np.float32(99)).astype(np.float32)
    assert np.abs(continue_cells(weight, mean) - (dx, dy)).max() < 1e-3


def test_cells_hold_what_most_of_them_say() -> None:
    motion = np.zeros((64, 64, 2), np.float32)
    motion[:, 32:] = (4, 0)
    cells = by_cells(motion, np.ones((64, 64), np.float32), 8)
    assert cells.shape == (8, 8, 2)
    assert abs(cells[4, 0, 0]) < 0.1
    assert abs(cells[4, 7, 0] - 4) < 0.1
    ramp = np.mgrid[0:64, 0:64].astype(np.float32)[::-1].transpose(1, 2, 0)
    assert np.allclose(warp_by(ramp, motion)[:, :32], ramp[:, :32])
    assert np.allclose(warp_by(ramp, motion)[:, 32:60, 0], ramp[:, 36:, 0])
