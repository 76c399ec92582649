"""The seam solver against SciPy's direct solution and against a harmonic function known in closed form."""

import numpy as np
import pytest
from scipy import ndimage, sparse
from scipy.sparse.linalg import spsolve

from keen_sweep.core.methods.multigrid import Domain
from keen_sweep.core.methods.seam import correction, membrane


def holes(kind: str) -> np.ndarray:
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


def direct(hole: np.ndarray, b: np.ndarray, inside: np.ndarray) -> np.ndarray:
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
