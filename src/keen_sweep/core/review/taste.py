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
from keen_sweep.core.fill.weave.mismatch import DISSIMILARITY_WEIGHT, SCALE_WEIGHTS


@dataclass(frozen=True)
class Terms:
    """Measures of a take by which takes are ranked, larger is worse; or the weights of these measures.

    Attributes
    ----------
    fine : float
        Logarithm of the mismatch of the worst places at half size.
    coarse : float
        The same at quarter size.
    unlike : float
        Dissimilarity of the patches to those around the hole.
    repeats : float
        Sum of the strengths of repeated motifs.
    softness : float
        Softness, 0 to 1.
    """

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
    """A choice between several takes.

    Attributes
    ----------
    picked : Terms
        Terms of the take that was picked.
    others : tuple of Terms
        Terms of the other takes, at least one.
    """

    picked: Terms
    others: tuple[Terms, ...]


# Default weights. Repeats and softness count beside badness, which a smear keeps low (docs/review.md).
DEFAULT_TERMS = Terms(
    fine=SCALE_WEIGHTS[0], coarse=SCALE_WEIGHTS[1], unlike=DISSIMILARITY_WEIGHT, repeats=0.2, softness=3.0
)
# Prior standard deviation of the weights around the default.
TERM_SPREAD = Terms(fine=1.0, coarse=0.7, unlike=0.65, repeats=1.0, softness=3.0)
_DEFAULT_WEIGHTS = np.array(astuple(DEFAULT_TERMS))
_WEIGHT_SPREAD = np.array(astuple(TERM_SPREAD))
# Fewer picks say nothing.
MIN_PICKS = 12
# Log likelihood gain on unseen picks from which on learned weights are used.
MIN_LOG_GAIN = 3.0
FOLD_COUNT = 5
# Bounds of the Newton iteration: number of steps, and size of the last one.
MAX_NEWTON_STEPS = 30
MIN_NEWTON_STEP = 1e-6


def taste_of(choices: Sequence[Choice]) -> Terms | None:
    """Learn the weights that predict a photographer's picks.

    Parameters
    ----------
    choices : sequence of Choice
        The choices.

    Returns
    -------
    Terms or None
        The weights; None where the default ones predict them as well.
    """
    if len(choices) < MIN_PICKS:
        return None
    gaps = _gaps(choices)
    fold = np.arange(len(gaps)) % FOLD_COUNT
    gain = 0.0
    for k in range(FOLD_COUNT):
        theirs = _most_probable(gaps[fold != k], np.diag(_WEIGHT_SPREAD))
        # Ours, as decided or as careless as these picks are.
        ours = _most_probable(gaps[fold != k], _DEFAULT_WEIGHTS[None])
        gain += float((_likelihood(theirs, gaps[fold == k]) - _likelihood(ours, gaps[fold == k])).sum())
    if gain < MIN_LOG_GAIN:
        return None
    return Terms(*(float(each) for each in _most_probable(gaps, np.diag(_WEIGHT_SPREAD))))


def largest_difference(weights: Terms) -> tuple[str, bool]:
    """The term whose weight differs most from the default, as a share of the total.

    Parameters
    ----------
    weights : Terms
        The weights.

    Returns
    -------
    tuple of (str, bool)
        Name of the term, and whether it counts more than by default.
    """
    theirs = np.array(astuple(weights)) / _WEIGHT_SPREAD
    ours = _DEFAULT_WEIGHTS / _WEIGHT_SPREAD
    differences = theirs / np.linalg.norm(theirs) - ours / np.linalg.norm(ours)
    most = int(np.abs(differences).argmax())
    return fields(Terms)[most].name, bool(differences[most] > 0)


def _gaps(choices: Sequence[Choice]) -> Doubles:
    """What every other take has beyond the one that was picked: (choices, most others, terms), not a
    number where there are fewer others."""
    most = max(len(choice.others) for choice in choices)
    out = np.full((len(choices), most, len(_DEFAULT_WEIGHTS)), np.nan)
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
        return float(_likelihood(_DEFAULT_WEIGHTS + at @ moves, gaps).sum() - at @ at / 2)

    for _ in range(MAX_NEWTON_STEPS):
        weights = _DEFAULT_WEIGHTS + at @ moves
        # The probability of each take that was not picked.
        share = np.exp(np.nan_to_num(-(gaps @ weights), nan=-np.inf) + _likelihood(weights, gaps)[:, None])
        mean = np.einsum("nm,nmk->nk", share, along)
        slope = mean.sum(axis=0) - at
        bend = np.einsum("nm,nmk,nml->kl", share, along, along) - mean.T @ mean + np.eye(len(at))
        step = np.linalg.solve(bend, slope)
        while goodness(at + step) < goodness(at) and np.abs(step).max() > MIN_NEWTON_STEP:
            step = step / 2
        at = at + step
        if np.abs(step).max() <= MIN_NEWTON_STEP:
            break
    return np.asarray(_DEFAULT_WEIGHTS + at @ moves)
