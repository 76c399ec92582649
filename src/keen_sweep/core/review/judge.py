"""The whole second look at one fill."""

from __future__ import annotations

from collections.abc import Callable

from keen_sweep.core.review.rank import rank
from keen_sweep.core.review.review import GoOn, always, review, with_visibility
from keen_sweep.core.review.snag import Laid, Snag

# Who looks: this process, or another machine. It asks between its checks whether to go on.
Judge = Callable[[Laid, GoOn], tuple[list[Snag], float]]


def judged(laid: Laid, go_on: GoOn = always) -> tuple[list[Snag], float]:
    """The snags of a fill, and a figure to compare the takes of one sweep by: lower is better."""
    snags = with_visibility(laid, review(laid, go_on), go_on)
    return snags, rank(laid, snags)
