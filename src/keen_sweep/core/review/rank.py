"""What is held against a fill when the takes of a sweep are put in order (docs/review.md)."""

from __future__ import annotations

from collections.abc import Sequence

from keen_sweep.core.fill.weave.mismatch import DISSIMILARITY_WEIGHT
from keen_sweep.core.review.odd import judge_half_size
from keen_sweep.core.review.snag import Laid, Snag
from keen_sweep.core.review.taste import Terms

SURROUNDINGS_PX = 150


def terms_of(laid: Laid, snags: Sequence[Snag]) -> Terms:
    """Measure the terms by which a take is ranked.

    Parameters
    ----------
    laid : Laid
        The fill.
    snags : sequence of Snag
        Its snags.

    Returns
    -------
    Terms
        Badness, repetition and softness.
    """
    near, _ = laid.around(SURROUNDINGS_PX)
    seen = judge_half_size(near)
    fine, coarse = (*seen.logs, 0.0, 0.0)[:2]
    return Terms(
        fine=fine,
        coarse=coarse,
        # Where nothing else can be told of a hole it stands for everything.
        unlike=seen.unlike if seen.logs else seen.unlike / DISSIMILARITY_WEIGHT,
        repeats=sum(snag.strength for snag in snags if snag.kind == "repeat"),
        softness=max((snag.strength for snag in snags if snag.kind == "softness"), default=0.0),
    )
