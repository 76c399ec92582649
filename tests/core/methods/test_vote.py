"""Voting against its formula (Wexler et al. 2007), and halves against sums by hand."""

import numpy as np

from keen_sweep.core.fill.weave.halves import any_of_four, enlarged, halve_planes
from keen_sweep.core.methods.votes import FADING_BASE, best_over, confidence, vote, weights_of


def test_a_vote_is_the_weighted_mean_of_what_patches_propose() -> None:
    random = np.random.default_rng(3)
    there = random.integers(0, 1500, (20, 20, 4)).astype(np.int16)
    here = np.zeros((5, 5, 4), np.int16)
    inside = np.array([[2, 2]], np.int32)
    field = random.integers(4, 16, (5, 5, 2)).astype(np.int32)
    weights = random.random((5, 5)).astype(np.float32)
    weights[0, 0] = -1
    wanted, total = np.zeros(4), 0.0
    for y, x in np.argwhere(weights > 0):
        wanted += weights[y, x] * there[field[y, x, 0] + 2 - y, field[y, x, 1] + 2 - x]
        total += weights[y, x]
    vote(here, there, inside, field, weights, 3)
    assert np.abs(here[2, 2] - wanted / total).max() <= 0.51
    chosen = np.zeros_like(field)
    best_over(inside, field, weights, 3, chosen)
    y, x = np.unravel_index(weights.argmax(), weights.shape)
    assert tuple(chosen[2, 2]) == (field[y, x, 0] + 2 - y, field[y, x, 1] + 2 - x)


def test_votes_are_trusted_less_the_deeper_and_the_worse_they_fit() -> None:
    hole = np.zeros((9, 30), bool)
    hole[:, 3:27] = True
    targets = np.argwhere(np.ones_like(hole)).astype(np.int32)
    sure = confidence(hole, targets).reshape(hole.shape)
    assert np.all(sure[:, :3] == 1)
    assert np.isclose(sure[4, 10] / sure[4, 9], 1 / FADING_BASE, rtol=0.05)
    cost = np.full(hole.shape, 100, np.int32)
    cost[4, 5] = 300
    weights = weights_of(cost, targets, sure.ravel(), 1.0)
    assert np.isclose(weights[4, 5] / sure[4, 5], np.exp(-3), rtol=1e-3)


def test_halves_and_back() -> None:
    planes = np.arange(15, dtype=np.float32).reshape(3, 5, 1).repeat(3, axis=2)
    known = np.ones((3, 5), bool)
    known[0, 0] = False
    assert halve_planes(planes).shape == (2, 3, 3)
    assert halve_planes(planes)[0, 0, 0] == np.mean([0, 1, 5, 6])
    assert np.isclose(halve_planes(planes, known)[0, 0, 0], np.mean([1, 5, 6]))
    assert any_of_four(~known).tolist() == [[True, False, False], [False, False, False]]
    assert enlarged(any_of_four(~known), 2, (3, 5)).sum() == 4
