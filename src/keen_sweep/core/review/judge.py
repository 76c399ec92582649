"""The whole second look at one fill."""

from __future__ import annotations

from collections.abc import Callable

from keen_sweep.core.review.rank import rank
from keen_sweep.core.review.review import review, with_visibility
from keen_sweep.core.review.snag import Laid, Snag

# Who looks: this process, or another machine.
Judge = Callable[[Laid], tuple[list[Snag], float]]


def judged(laid: Laid) -> tuple[list[Snag], float]:
    """The snags of a fill, and a figure to compare the takes of one sweep by: lower is better."""
    snags = with_visibility(laid, review(laid))
    return snags, rank(laid, snags)
