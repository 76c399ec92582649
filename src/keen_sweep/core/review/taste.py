"""What a photographer minds in a take, learned from which of several they picked.

A conditional logit (McFadden 1974): of the takes of a sweep each is picked with a probability that falls with the
exponential of its rank, a weighted sum of terms. The weights begin at ours, which were fitted on fills whose truth is
known, and are the most probable ones after the picks, ours being what was expected (a Gaussian prior). They are
followed only where they foretell picks that they have not seen better than ours do: whoever picks at random, or as we
do, changes nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import astuple, dataclass, fields

import numpy as np

from keen_sweep.core.arrays import Doubles
from keen_sweep.core.fill.weave.mismatch import UNLIKE, WEIGHTS


@dataclass(frozen=True)
class Terms:
    """What is held against a take, each the larger the worse: fine and coarse, logarithms of how odd its worst places
    are at half and at quarter size; unlike, how unlike its patches are to those round it; repeats, the strengths of
    pieces that occur twice, summed; softness, 0 to 1. As weights: what each counts."""

    fine: float
    coarse: float
    unlike: float
    repeats: float
    softness: float

    def under(self, weights: Terms) -> float:
        """The rank of a take with these terms: lower is better."""
        return float(np.dot(astuple(self), astuple(weights)))


@dataclass(frozen=True)
class Choice:
    """Which of several takes was picked, by their terms; there is at least one other."""

    picked: Terms
    others: tuple[Terms, ...]


# What repeats and softness count beside how bad a fill looks, which a smear keeps low (docs/review.md).
OURS = Terms(fine=WEIGHTS[0], coarse=WEIGHTS[1], unlike=UNLIKE, repeats=0.2, softness=3.0)
# How far from ours weights are expected to lie, one standard deviation.
SPREAD = Terms(fine=1.0, coarse=0.7, unlike=0.65, repeats=1.0, softness=3.0)
_OURS = np.array(astuple(OURS))
_SPREAD = np.array(astuple(SPREAD))
# Fewer picks than this say nothing.
FEWEST = 12
# How much likelier picks that were not seen must be under the weights learned than under ours: natural logarithm of the
# ratio, over all of them.
CONVINCED = 3.0
FOLDS = 5
# Newton steps at most, and how small one is when it is done.
STEPS = 30
STILL = 1e-6


def taste_of(choices: Sequence[Choice]) -> Terms | None:
    """The weights that a photographer's picks speak for; None where ours foretell them as well."""
    if len(choices) < FEWEST:
        return None
    gaps = _gaps(choices)
    fold = np.arange(len(gaps)) % FOLDS
    gain = 0.0
    for k in range(FOLDS):
        theirs = _most_probable(gaps[fold != k], np.diag(_SPREAD))
        # Ours, as decided or as careless as these picks are.
        ours = _most_probable(gaps[fold != k], _OURS[None])
        gain += float((_likelihood(theirs, gaps[fold == k]) - _likelihood(ours, gaps[fold == k])).sum())
    if gain < CONVINCED:
        return None
    return Terms(*(float(each) for each in _most_probable(gaps, np.diag(_SPREAD))))


def minded(weights: Terms) -> tuple[str, bool]:
    """The term by which weights differ most from ours, as shares of the whole, and whether it counts more."""
    theirs = np.array(astuple(weights)) / _SPREAD
    ours = _OURS / _SPREAD
    apart = theirs / np.linalg.norm(theirs) - ours / np.linalg.norm(ours)
    most = int(np.abs(apart).argmax())
    return fields(Terms)[most].name, bool(apart[most] > 0)


def _gaps(choices: Sequence[Choice]) -> Doubles:
    """What every other take has beyond the one that was picked: (choices, most others, terms), not a
    number where there are fewer others."""
    most = max(len(choice.others) for choice in choices)
    out = np.full((len(choices), most, len(_OURS)), np.nan)
    for row, choice in zip(out, choices, strict=True):
        row[: len(choice.others)] = np.array([astuple(each) for each in choice.others]) - astuple(choice.picked)
    return out


def _likelihood(weights: Doubles, gaps: Doubles) -> Doubles:
    """The logarithm of the probability of each pick, (choices,)."""
    worse = np.nan_to_num(-(gaps @ weights), nan=-np.inf)
    return np.asarray(-np.logaddexp.reduce(np.pad(worse, ((0, 0), (1, 0))), axis=1))


def _most_probable(gaps: Doubles, moves: Doubles) -> Doubles:
    """The most probable weights: ours moved along some moves (m, terms), each of which is expected to be made once or
    not at all. By Newton's method; a step that leads down is halved."""
    at = np.zeros(len(moves))
    along = np.nan_to_num(gaps) @ moves.T

    def goodness(at: Doubles) -> float:
        return float(_likelihood(_OURS + at @ moves, gaps).sum() - at @ at / 2)

    for _ in range(STEPS):
        weights = _OURS + at @ moves
        # The probability of each take that was not picked.
        share = np.exp(np.nan_to_num(-(gaps @ weights), nan=-np.inf) + _likelihood(weights, gaps)[:, None])
        mean = np.einsum("nm,nmk->nk", share, along)
        slope = mean.sum(axis=0) - at
        bend = np.einsum("nm,nmk,nml->kl", share, along, along) - mean.T @ mean + np.eye(len(at))
        step = np.linalg.solve(bend, slope)
        while goodness(at + step) < goodness(at) and np.abs(step).max() > STILL:
            step = step / 2
        at = at + step
        if np.abs(step).max() <= STILL:
            break
    return np.asarray(_OURS + at @ moves)
