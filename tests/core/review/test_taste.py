"""What is learned from picks: photographers are simulated who pick by weights of their own, or at random.

Conditional logit: McFadden 1974. That its fit is the most probable one is held against SciPy's optimizer."""

import math
from collections.abc import Callable
from dataclasses import astuple
from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.review.taste import (
    DEFAULT_TERMS,
    MIN_PICKS,
    TERM_SPREAD,
    Choice,
    Terms,
    largest_difference,
    taste_of,
)

# Who does not mind softness at all, and who cannot bear anything twice.
SOFT, ONCE = Terms(1.0, 0.7, 0.65, 0.2, -0.5), Terms(0.3, 0.3, 0.2, 3.0, 1.0)


def takes(random: np.random.Generator, count: int = 3) -> list[Terms]:
    """As fills of one hole are: some holes are harder than others, and takes of one differ less."""
    fine, coarse = random.normal(3, 1), random.normal(2.5, 1)
    return [
        Terms(
            fine=fine + random.normal(0, 0.5),
            coarse=coarse + random.normal(0, 0.4),
            unlike=1 + random.normal(0, 0.4),
            repeats=max(0.0, random.normal(-0.5, 1)),
            softness=max(0.0, random.normal(-0.2, 0.3)),
        )
        for _ in range(count)
    ]


def picks(mind: Terms | None, count: int, seed: int, careless: float = 0.5) -> list[Choice]:
    """Of a photographer who picks the least bad of three, as they mind it and not always exactly; None: at random."""
    random = np.random.default_rng(seed)
    out = []
    for _ in range(count):
        offered = takes(random)
        bad = [0.0 if mind is None else each.under(mind) for each in offered]
        best = int(np.argmin(np.array(bad) - careless * random.gumbel(size=3)))
        out.append(Choice(offered[best], tuple(offered[:best] + offered[best + 1 :])))
    return out


def first_is_best(mind: Terms, order: Terms | None, seed: int) -> float:
    """How often the first of three, in an order, is the one that a photographer minds least."""
    random = np.random.default_rng(1000 + seed)
    offered = [takes(random) for _ in range(250)]
    hits = [min(each, key=mind_of(mind)) is min(each, key=mind_of(order or DEFAULT_TERMS)) for each in offered]
    return float(np.mean(hits))


def mind_of(weights: Terms) -> Callable[[Terms], float]:
    return lambda take: take.under(weights)


def test_after_fifty_picks_the_first_is_the_best_more_often() -> None:
    before = [first_is_best(ONCE, DEFAULT_TERMS, seed) for seed in range(5)]
    after = [first_is_best(ONCE, taste_of(picks(ONCE, 50, seed)), seed) for seed in range(5)]
    assert np.mean(after) > np.mean(before) + 0.06
    late = [first_is_best(SOFT, taste_of(picks(SOFT, 200, seed)), seed) for seed in range(3)]
    assert np.mean(late) > np.mean([first_is_best(SOFT, DEFAULT_TERMS, seed) for seed in range(3)]) + 0.03


def test_who_picks_at_random_or_as_we_do_changes_nothing() -> None:
    for mind in (None, DEFAULT_TERMS):
        orders = [taste_of(picks(mind, 50, seed)) for seed in range(12)]
        kept = [first_is_best(DEFAULT_TERMS, order, seed) for seed, order in enumerate(orders)]
        assert sum(order is not None for order in orders) <= 1
        assert np.mean(kept) > 0.95


def test_few_picks_say_nothing() -> None:
    decided = picks(ONCE, MIN_PICKS - 1, 3, careless=0.0)
    assert taste_of(decided) is None
    assert taste_of([]) is None


def test_what_is_minded_more_or_less_is_named() -> None:
    weights = taste_of(picks(ONCE, 120, 1))
    assert weights is not None
    assert largest_difference(weights) == ("repeats", True)
    assert largest_difference(Terms(1.0, 0.7, 0.65, 0.2, 0.0)) == ("softness", False)


def test_the_weights_are_the_most_probable_ones() -> None:
    made = picks(ONCE, 60, 2)
    made[0] = Choice(made[0].picked, made[0].others[:1])
    ours, spread = np.array(astuple(DEFAULT_TERMS)), np.array(astuple(TERM_SPREAD))

    def against(at: NDArray[Any]) -> float:
        total = 0.0
        for choice in made:
            bad = [float(np.dot(astuple(each), at)) for each in (choice.picked, *choice.others)]
            total += bad[0] + math.log(sum(math.exp(-each) for each in bad))
        return total + float((((at - ours) / spread) ** 2).sum()) / 2

    found = taste_of(made)
    assert found is not None
    best = scipy.optimize.minimize(against, ours, method="BFGS").x
    assert astuple(found) == pytest.approx(best, abs=2e-3)


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10_000), st.floats(0.5, 4.0))
def test_what_all_takes_share_says_nothing(seed: int, more: float) -> None:
    """A harder hole, in which every take is worse by as much, is picked in alike."""
    made = picks(ONCE, 30, seed)

    def harder(take: Terms) -> Terms:
        return Terms(take.fine + more, take.coarse, take.unlike + more, take.repeats, take.softness)

    moved = [Choice(harder(each.picked), tuple(harder(other) for other in each.others)) for each in made]
    one, other = taste_of(made), taste_of(moved)
    assert (one is None) == (other is None)
    if one is not None and other is not None:
        assert astuple(one) == pytest.approx(astuple(other), rel=1e-4, abs=1e-4)
