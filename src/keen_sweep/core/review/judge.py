"""The whole second look at one fill."""

from __future__ import annotations

from collections.abc import Callable

from keen_sweep.core.review.rank import terms_of
from keen_sweep.core.review.review import GoOn, no_check, review, with_gradings, with_visibility
from keen_sweep.core.review.snag import Laid, Snag
from keen_sweep.core.review.taste import Terms

# Who looks: this process, or another machine. It asks between its checks whether to go on.
Judge = Callable[[Laid, GoOn], tuple[list[Snag], Terms]]


def review_and_rank(laid: Laid, go_on: GoOn = no_check) -> tuple[list[Snag], Terms]:
    """Review a fill and measure the terms by which takes are ranked.

    Parameters
    ----------
    laid : Laid
        The fill.
    go_on : GoOn, optional
        Raises when the review should stop.

    Returns
    -------
    tuple of (list of Snag, Terms)
        Snags, those that show only after grading last, and terms.
    """
    snags = with_visibility(laid, review(laid, go_on), go_on)
    return with_gradings(laid, snags, go_on), terms_of(laid, snags)
