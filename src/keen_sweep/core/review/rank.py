"""The order in which takes are offered: how unlike its surroundings a fill looks, and how much of it repeats."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from keen_sweep.core.fill.weave.likeness import unlikeness
from keen_sweep.core.review.scores import lab
from keen_sweep.core.review.snag import Scene, Snag

# What repeats and softness of full strength weigh beside the logarithm of a distance, which a smear keeps low. Other
# kinds of snags did not help to tell the better of two takes (docs/review.md).
REPEATS, SOFTNESS = 0.2, 0.3
NEAR = 40


def rank(scene: Scene, snags: Sequence[Snag]) -> float:
    """A figure to compare the takes of one sweep by: lower is better."""
    near, _ = scene.around(NEAR)
    apart = unlikeness(lab(near.after), near.hole, np.ones(near.hole.shape, np.bool_))
    repeats = sum(snag.strength for snag in snags if snag.kind == "repeat")
    soft = max((snag.strength for snag in snags if snag.kind == "softness"), default=0.0)
    return apart + REPEATS * repeats + SOFTNESS * soft
