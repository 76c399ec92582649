"""The multigrid solver against SciPy's direct one, on holes of any shape."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse.linalg import spsolve

from keen_sweep.core.methods.multigrid import Domain


def direct(hole: NDArray[Any], inside: NDArray[Any], b: NDArray[Any]) -> NDArray[Any]:
    """Sum over neighbours within the picture of (x_p - x_q) = b_p in the hole, x = 0 elsewhere."""
    number = np.full(hole.shape, -1)
    number[hole] = np.arange(hole.sum())
    rows, columns, values = [], [], []
    for y, x in np.argwhere(hole):
        degree = 0
        for dy, dx in ((-1, 0), (1, 0), (0, -1), (0, 1)):
            qy, qx = y + dy, x + dx
            if not (0 <= qy < hole.shape[0] and 0 <= qx < hole.shape[1]) or not inside[qy, qx]:
                continue
            degree += 1
            if hole[qy, qx]:
                rows.append(number[y, x])
                columns.append(number[qy, qx])
                values.append(-1.0)
        rows.append(number[y, x])
        columns.append(number[y, x])
        values.append(float(degree))
    matrix = sparse.csr_matrix((values, (rows, columns)), shape=(hole.sum(),) * 2)
    out = np.zeros(hole.shape)
    out[hole] = spsolve(matrix, b[hole].astype(np.float64))
    return out


@settings(max_examples=12)
@given(st.integers(0, 2**31), st.floats(0.2, 0.8))
def test_any_hole_is_solved_as_directly(seed: int, share: float) -> None:
    random = np.random.default_rng(seed)
    hole = np.zeros((40, 50), bool)
    hole[3:-3, 3:-3] = random.random((34, 44)) < share
    inside = np.ones_like(hole)
    b = random.normal(0, 1, hole.shape).astype(np.float32)
    got = Domain(hole, inside).solve(b, 1e-6)
    expected = direct(hole, inside, b)
    assert np.abs(got - expected).max() <= 1e-3 * max(np.abs(expected).max(), 1.0)
    assert not got[~hole].any()


def test_a_hole_at_the_edge_of_the_picture_asks_for_no_slope_beyond_it() -> None:
    hole = np.zeros((30, 36), bool)
    hole[8:22, 1:20] = True
    inside = np.zeros_like(hole)
    inside[1:-1, 1:-1] = True
    b = np.random.default_rng(4).normal(0, 1, hole.shape).astype(np.float32)
    got = Domain(hole, inside).solve(b, 1e-6)
    assert np.allclose(got, direct(hole, inside, b), atol=2e-3)


def test_nothing_to_correct_takes_no_step_and_half_the_side_half_the_answer() -> None:
    hole = np.zeros((64, 64), bool)
    hole[10:54, 10:54] = True
    domain = Domain(hole, np.ones_like(hole))
    assert not domain.solve(np.zeros(hole.shape, np.float32)).any()
    b = np.where(hole, np.float32(1), np.float32(0))
    assert domain.solve(2 * b, 1e-6) == pytest.approx(2 * domain.solve(b, 1e-6), abs=1e-2)
    # Coarser and coarser, until little is left.
    sizes = [level.sum() for level, _ in domain.levels]
    assert sizes == sorted(sizes, reverse=True)
    assert sizes[-1] <= 64
