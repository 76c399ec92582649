"""The seam solver against SciPy's direct solution and against a harmonic function known in closed form."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage, sparse
from scipy.sparse.linalg import spsolve

from keen_sweep.core.box import Box, whole
from keen_sweep.core.methods.multigrid import Domain
from keen_sweep.core.methods.seam import correction, membrane
from keen_sweep.core.methods.steepness import SMOOTHING_SIGMA_PX, steepness


def holes(kind: str) -> NDArray[Any]:
    hole = np.zeros((120, 150), bool)
    if kind == "disc":
        y, x = np.mgrid[:120, :150]
        hole[(y - 60) ** 2 + (x - 70) ** 2 < 45**2] = True
    elif kind == "thin":
        hole[58:61, 5:145] = True
    else:
        noise = ndimage.gaussian_filter(np.random.default_rng(2).random((120, 150)), 4)
        hole[4:-4, 4:-4] = noise[4:-4, 4:-4] > 0.495
    return hole


def direct(hole: NDArray[Any], b: NDArray[Any], inside: NDArray[Any]) -> NDArray[Any]:
    number = np.full(hole.shape, -1)
    number[hole] = np.arange(hole.sum())
    rows, columns, values = [], [], []
    for y, x in np.argwhere(hole):
        degree = 0
        for dy, dx in ((0, 1), (1, 0), (0, -1), (-1, 0)):
            if inside[y + dy, x + dx]:
                degree += 1
                if hole[y + dy, x + dx]:
                    rows.append(number[y, x])
                    columns.append(number[y + dy, x + dx])
                    values.append(-1.0)
        rows.append(number[y, x])
        columns.append(number[y, x])
        values.append(float(degree))
    matrix = sparse.csc_matrix((values, (rows, columns)))
    out = np.zeros(hole.shape)
    out[hole] = spsolve(matrix, b[hole])
    return out


@pytest.mark.parametrize("kind", ["disc", "thin", "ragged"])
def test_the_solver_agrees_with_a_direct_sparse_solution(kind: str) -> None:
    hole = holes(kind)
    inside = np.ones_like(hole)
    b = np.where(hole, np.random.default_rng(3).normal(0, 20, hole.shape), 0).astype(np.float32)
    expected = direct(hole, b, inside)
    got = Domain(hole, inside).solve(b)
    assert np.abs(got - expected).max() < 0.02 * max(1, np.abs(expected).max() / 100)
    assert not got[~hole].any()


def test_the_solver_agrees_where_the_hole_meets_the_edge_of_the_picture() -> None:
    hole = np.zeros((80, 90), bool)
    hole[1:60, 20:89] = True
    inside = np.ones_like(hole)
    inside[0] = inside[:, 89] = False
    b = np.where(hole, np.random.default_rng(3).normal(0, 5, hole.shape), 0).astype(np.float32)
    expected = direct(hole, b, inside)
    assert np.abs(Domain(hole, inside).solve(b) - expected).max() < 0.02


def test_the_membrane_is_harmonic() -> None:
    """x^2 - y^2 is harmonic, and its five-point Laplacian is exactly zero too."""
    y, x = np.mgrid[-60:60, -75:75] / 10.0
    exact = (x**2 - y**2 + 3 * x * y).astype(np.float32)
    for kind in ("disc", "thin", "ragged"):
        hole = holes(kind)
        got = membrane(np.where(hole, 0, exact).astype(np.float32), hole)
        assert np.abs(got - exact).max() < 0.01
        assert np.array_equal(got[~hole], exact[~hole])


def test_a_copy_from_a_brighter_place_is_corrected_to_its_surroundings() -> None:
    """Equal texture, 30 steps brighter at the source: the seamless fill has the texture without the step."""
    texture = ndimage.gaussian_filter(np.random.default_rng(5).normal(0, 60, (100, 100)), 1.5)
    picture = np.clip(90 + np.hstack([texture, texture + 30])[..., None] + np.zeros(3), 0, 255).astype(np.uint8)
    hole = np.zeros((60, 60), bool)
    hole[10:50, 10:50] = True
    offsets = np.zeros((60, 60, 2), np.int32)
    offsets[hole] = (100, 0)
    fixed = picture[20:80, 120:180].astype(np.float32) + correction(picture, hole, offsets, 20, 20)
    assert np.abs(fixed[hole] - picture[20:80, 20:80][hole]).max() <= 1.0


def test_offsets_that_agree_and_fit_need_no_correction() -> None:
    tile = np.random.default_rng(5).integers(0, 255, (40, 40, 3), np.uint8)
    picture = np.tile(tile, (3, 3, 1))
    hole = np.zeros((40, 40), bool)
    hole[8:30, 8:30] = True
    offsets = np.where(hole[..., None], np.array([40, 0]), 0).astype(np.int32)
    assert np.abs(correction(picture, hole, offsets, 40, 40)).max() < 1e-3


def test_a_thing_that_touches_the_hole_does_not_glow_into_it() -> None:
    """Dark ground, in it a hole that a bright thing touches all along one side; what is copied is ground: a hedge is
    not lit by a dress. Without the bound the ground beside it would be lighter by half of the difference."""
    random = np.random.default_rng(2)
    picture = (45 + random.normal(0, 3, (120, 200, 3))).clip(0, 255).astype(np.uint8)
    picture[:, 150:] = (30, 170, 190)
    hole = np.zeros((80, 80), np.bool_)
    hole[10:70, 10:70] = True  # columns 90 to 150 of the picture
    offsets = np.zeros((80, 80, 2), np.int32)
    offsets[hole] = (-75, 0)
    found = correction(picture, hole, offsets, 20, 80)
    beside = np.zeros_like(hole)
    beside[20:60, 40:66] = True
    assert np.abs(found[beside]).mean() < 4
    # A single bright line that ends at the hole is an edge like others: it is met.
    picture[:, 150:] = picture[:, 20:70]
    picture[48:51, 150:] = (30, 170, 190)
    assert np.abs(correction(picture, hole, offsets, 20, 80))[29, 69].max() > 30


@pytest.mark.parametrize("gain", [1, 3])
def test_pieces_that_disagree_by_far_keep_their_edge_and_glow_into_neither(gain: int) -> None:
    """A dark and a light field, both carried into the hole: where they meet is an edge; a faint step is smoothed."""
    spread = {}
    for step in (60, 6):
        picture = np.full((60, 140, 3), 20 * gain, np.uint8)
        picture[30:] = (20 + step) * gain
        hole = np.zeros((60, 140), bool)
        hole[10:50, 20:60] = True
        window = (slice(9, 51), slice(19, 61))
        offsets = np.zeros((42, 42, 2), np.int32)
        offsets[hole[window]] = (60, 0)
        # The lower half comes from further down: flat as well, so that no copy knows of the edge.
        offsets[:21][hole[window][:21]] = (60, -4)
        offsets[21:][hole[window][21:]] = (60, 4)
        change = correction(picture, hole[window], offsets, 9, 19)[..., 0]
        spread[step] = np.abs(change[hole[window]]).mean() / (step * gain)
    assert spread[60] < 0.5 * spread[6]
    assert spread[6] > 0.05


def joined(picture: NDArray[Any]) -> NDArray[Any]:
    """A column of a hole whose upper half is copied from the picture's top and whose lower one from its bottom."""
    hole = np.zeros((40, 40), bool)
    hole[5:35, 5:35] = True
    offsets = np.zeros((40, 40, 2), np.int32)
    offsets[:20][hole[:20]] = (60, -40)
    offsets[20:][hole[20:]] = (60, 40)
    copied = np.vstack([picture[20:40, 80:120], picture[100:120, 80:120]]).astype(np.float32)
    return (copied + correction(picture, hole, offsets, 60, 20))[5:35, 28, 0]


def test_ground_out_of_focus_gets_no_edge_where_pieces_disagree() -> None:
    """Dark above, light below, and nothing sharp anywhere: pieces of both meet without the step that they keep where
    the picture has edges in focus."""
    shade = np.interp(np.arange(160), (60, 100), (40, 140))
    soft = np.repeat(np.repeat(shade[:, None, None], 140, 1), 3, 2).astype(np.uint8)
    sharp = soft.copy()
    sharp[:, 112:116] = (200, 200, 200)
    assert np.abs(np.diff(joined(soft))).max() < 15
    assert np.abs(np.diff(joined(sharp))).max() > 30


def test_an_edge_in_one_channel_alone_is_no_edge() -> None:
    """Where a channel is nearly nought its pieces disagree by far of it and by little of what is seen."""
    picture = np.full((160, 140, 3), (180, 90, 4), np.uint8)
    picture[80:, :, 2] = 12
    picture[:, 100:104] = (60, 30, 4)
    hole = np.zeros((40, 40), bool)
    hole[5:35, 5:35] = True
    offsets = np.zeros((40, 40, 2), np.int32)
    offsets[:20][hole[:20]] = (60, -40)
    offsets[20:][hole[20:]] = (60, 40)
    blue = np.where(np.arange(40) < 20, 4.0, 12.0)[:, None] + correction(picture, hole, offsets, 60, 20)[..., 2]
    assert np.abs(np.diff(blue[5:35, 18])).max() < 3


@pytest.mark.parametrize("wide", [0.0, 3.0, 8.0])
def test_how_steep_an_edge_is_where_pixels_are_copied_from(wide: float) -> None:
    """A Gaussian edge of deviation s is steepest by height / (s sqrt(2 pi)); the hole itself is not looked at."""
    edge = ndimage.gaussian_filter1d(np.where(np.arange(200) < 100, 40.0, 200.0), wide) if wide else None
    row = np.where(np.arange(200) < 100, 40.0, 200.0) if edge is None else edge
    picture = np.repeat(np.repeat(np.rint(row)[None, :, None], 80, 0), 3, 2).astype(np.uint8)
    picture[20:40, 20:40] = np.random.default_rng(1).integers(0, 255, (20, 20, 3))
    hole = np.zeros((22, 22), bool)
    hole[1:21, 1:21] = True
    offsets = np.zeros((22, 22, 2), np.int32)
    offsets[hole] = (60, 20)  # columns 80 to 99: the edge lies within reach of some of them
    steep = steepness(picture, hole, offsets, 19, 19, whole(picture), 4)
    expected = 160 / (np.hypot(wide, SMOOTHING_SIGMA_PX) * np.sqrt(2 * np.pi))
    assert steep[10, 20] == pytest.approx(expected, rel=0.1, abs=1)
    if wide < 1:
        assert steep[10, 1] < 1
    offsets[hole] = (130, 20)
    assert steepness(picture, hole, offsets, 19, 19, whole(picture), 4)[hole].max() < 1
    beyond = Box(x=0, y=0, width=140, height=80)
    assert np.isinf(steepness(picture, hole, offsets, 19, 19, beyond, 4)[hole]).any()
