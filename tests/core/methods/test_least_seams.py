"""Pictures joined along dear seams, against trying every labelling of small grids."""

from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.methods.least_seams import least_seams


def _spent(taken: NDArray[np.int32], costs: Floats, shown: Floats, where: Bools, weight: float, change: float) -> float:
    """What a labelling costs, by the definition."""
    y, x = np.nonzero(where)
    total = float(costs[taken[y, x], y, x].sum())
    for v, u in zip(y, x, strict=True):
        for t, s in ((v + 1, u), (v, u + 1)):
            if t < where.shape[0] and s < where.shape[1] and where[t, s] and taken[v, u] != taken[t, s]:
                a, b = taken[v, u], taken[t, s]
                apart = [np.linalg.norm(shown[a, q, p] - shown[b, q, p]) for q, p in ((v, u), (t, s))]
                total += weight / 2 * float(sum(apart)) + change
    return total


@pytest.mark.parametrize(("shape", "over"), [((1, 7), 1.0), ((3, 3), 1.03)])
@given(seed=st.integers(0, 10_000), weight=st.sampled_from([0.0, 0.5, 2.0]), change=st.sampled_from([0.0, 1.0]))
def test_next_to_no_labelling_is_cheaper(
    shape: tuple[int, int], over: float, seed: int, weight: float, change: float
) -> None:
    """On a row, which is a tree, none is; on a grid the method is no exact one."""
    random = np.random.default_rng(seed)
    costs = random.uniform(0, 10, (2, *shape)).astype(np.float32)
    shown = random.uniform(0, 10, (2, *shape, 3)).astype(np.float32)
    where = random.random(shape) < 0.9
    found = least_seams(costs, shown, where, weight, change)
    every = (np.reshape(each, shape).astype(np.int32) for each in product(range(2), repeat=shape[0] * shape[1]))
    least = min(_spent(each, costs, shown, where, weight, change) for each in every)
    assert _spent(found, costs, shown, where, weight, change) <= over * least + 1e-3


def test_a_seam_runs_where_two_pictures_are_alike() -> None:
    """Two pictures that differ in a winding band; one is wanted left of a line through it and one right of that: they
    are joined beside the band, though that costs."""
    shown = np.zeros((2, 24, 40, 3), np.float32)
    middle = np.round(20 + 4 * np.sin(np.arange(24) / 4)).astype(int)
    beside = np.zeros((24, 40), np.int32)
    for y, x in enumerate(middle):
        shown[1, y, x - 3 : x + 4] = 60
        beside[y, x - 4 :] = 1
    costs = np.zeros((2, 24, 40), np.float32)
    costs[0, :, 17:] = costs[1, :, :17] = 1
    where = np.ones((24, 40), np.bool_)
    found = least_seams(costs, shown, where, 1.0, 0.5)
    straight = (costs[0] > costs[1]).astype(np.int32)
    least = _spent(beside, costs, shown, where, 1.0, 0.5)
    assert least < 0.2 * _spent(straight, costs, shown, where, 1.0, 0.5)
    assert _spent(found, costs, shown, where, 1.0, 0.5) <= 1.1 * least


def test_nothing_is_told_beyond_the_places_that_count() -> None:
    costs = np.ones((2, 8, 8), np.float32)
    costs[1] = 0
    where = np.zeros((8, 8), np.bool_)
    where[2:5, 2:5] = True
    found = least_seams(costs, np.zeros((2, 8, 8, 3), np.float32), where, 1.0, 1.0)
    assert np.array_equal(found, where.astype(np.int32))
