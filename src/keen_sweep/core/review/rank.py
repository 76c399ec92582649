"""The order in which takes are offered: how bad a fill looks, how much of it repeats, how soft it is."""

from __future__ import annotations

from collections.abc import Sequence

from keen_sweep.core.review.odd import looked_at
from keen_sweep.core.review.snag import Laid, Snag

# What repeats and softness of full strength weigh beside how bad it looks, which a smear keeps low (docs/review.md).
REPEATS, SOFTNESS = 0.2, 3.0
NEAR = 150


def rank(laid: Laid, snags: Sequence[Snag]) -> float:
    """A figure to compare the takes of one sweep by: lower is better."""
    near, _ = laid.around(NEAR)
    repeats = sum(snag.strength for snag in snags if snag.kind == "repeat")
    soft = max((snag.strength for snag in snags if snag.kind == "softness"), default=0.0)
    return looked_at(near).badness + REPEATS * repeats + SOFTNESS * soft
