"""Bars that a hole interrupts go on: across it, to what their family ends at, to a frame of their own colour."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.fill.weave.bars import bar_bridges, bars_of
from keen_sweep.core.fill.weave.bridges import Bridge, bridges_of
from keen_sweep.core.fill.weave.ends import ends_of

SILL = 150


def planes_of(pixels: NDArray[Any]) -> Floats:
    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    return np.dstack([lab, np.zeros(lab.shape[:2], np.float32)])


def window(lean: float, transom: bool = False) -> NDArray[Any]:
    """Glazing bars, fanned by lean, on a sill, dark glass between."""
    out = np.full((220, 320, 3), 50, np.uint8)
    out[SILL:] = (120, 60, 40)
    if transom:
        cv2.line(out, (0, 75), (319, 75), (215, 215, 210), 5, cv2.LINE_AA)
    for x in range(10, 320, 30):
        cv2.line(out, (round(x + lean * (x - 160)), 0), (x, SILL), (215, 215, 210), 5, cv2.LINE_AA)
    out[SILL - 3 : SILL + 4] = (215, 215, 210)
    return out


def bridges_in(pixels: NDArray[Any], hole: Bools) -> tuple[list[Bridge], list[Bridge]]:
    planes = planes_of(np.where(hole[..., None], 128, pixels).astype(np.uint8))
    edges = bridges_of(ends_of(planes, hole, ~hole), hole)
    return edges, bar_bridges(planes, edges, hole, ~hole)


@pytest.mark.parametrize("lean", [0.0, 0.12, -0.1])
def test_bars_whose_foot_is_hidden_go_down_to_the_sill(lean: float) -> None:
    pixels = window(lean)
    hole = np.zeros(pixels.shape[:2], np.bool_)
    hole[60:190, 112:208] = True
    _, bars = bridges_in(pixels, hole)
    upright = [bar for bar in bars if abs(bar.first.inwards[1]) > 0.9]
    feet = sorted(float(max(bar.points[[0, -1]], key=lambda point: point[1])[0]) for bar in upright)
    truth = [x for x in range(10, 320, 30) if 118 < x < 202]
    assert len(feet) == len(truth)
    assert np.allclose(feet, truth, atol=2.5)
    assert all(SILL - 6 <= bar.points[:, 1].max() <= SILL + 6 for bar in upright)


def test_a_transom_goes_on_across_and_bars_go_on_behind_it() -> None:
    pixels = window(0.0, transom=True)
    hole = np.zeros(pixels.shape[:2], np.bool_)
    hole[50:190, 122:198] = True
    _, bars = bridges_in(pixels, hole)
    level = [bar for bar in bars if abs(bar.first.inwards[0]) > 0.95 and abs(bar.points[:, 1].mean() - 75) < 2]
    assert max(float(np.ptp(bar.points[:, 0])) for bar in level) > 70
    for x in (130, 160, 190):
        below = [bar for bar in bars if abs(bar.points[-1][0] - x) < 3 and bar.points[:, 1].max() > SILL - 7]
        assert below, f"the bar at {x} ends above the sill"


def test_a_rail_that_runs_out_at_a_post_of_its_colour() -> None:
    pixels = np.full((160, 240, 3), 60, np.uint8)
    pixels[:, 180:205] = 210
    pixels[78:84, :181] = 210
    hole = np.zeros(pixels.shape[:2], np.bool_)
    hole[50:120, 110:180] = True
    _, bars = bridges_in(pixels, hole)
    assert any(abs(bar.points[:, 1].mean() - 80.5) < 1.5 and np.ptp(bar.points[:, 0]) > 65 for bar in bars)


def test_a_bar_that_ends_before_the_hole_is_left_alone() -> None:
    pixels = np.full((160, 240, 3), 60, np.uint8)
    pixels[78:84, :70] = 210
    hole = np.zeros(pixels.shape[:2], np.bool_)
    hole[50:120, 110:180] = True
    assert bridges_in(pixels, hole)[1] == []


def test_ground_has_no_bars(gravel: NDArray[Any]) -> None:
    hole = np.zeros(gravel.shape[:2], np.bool_)
    hole[180:320, 200:300] = True
    assert len(bridges_in(gravel, hole)[1]) <= 1


def test_a_bar_knows_its_width_and_colour() -> None:
    pixels = np.full((120, 200, 3), 40, np.uint8)
    pixels[:, 96:103] = (200, 40, 40)
    (bar,) = bars_of(planes_of(pixels), np.ones(pixels.shape[:2], np.bool_))
    assert bar.width == pytest.approx(7, abs=1.0)
    assert abs(bar.along[1]) > 0.999
    assert bar.one[0] == pytest.approx(99, abs=1.0)
    red = cv2.cvtColor(np.array([[[200, 40, 40]]], np.float32) / 255, cv2.COLOR_RGB2LAB)[0, 0]
    assert np.linalg.norm(bar.colour - red) < 3
