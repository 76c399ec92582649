"""The order in which takes are offered: how unlike its surroundings a fill looks, and what is wrong with it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from keen_sweep.core.fill.weave.likeness import unlikeness
from keen_sweep.core.review.snag import Scene, Snag, SnagKind, lab

# What a snag of full strength weighs beside the logarithm of a distance. Leftovers and orphans are the mask's fault and
# no take's.
WEIGHTS: dict[SnagKind, float] = {
    "leftover": 0.0,
    "orphan": 0.0,
    "softness": 0.3,
    "repeat": 0.1,
    "step in tone": 0.2,
    "broken line": 0.1,
}


def rank(scene: Scene, snags: Sequence[Snag]) -> float:
    """A figure to compare the takes of one sweep by: lower is better."""
    near, _ = scene.around(40)
    apart = unlikeness(lab(near.after), near.hole, np.ones(near.hole.shape, np.bool_))
    worst: dict[SnagKind, float] = {}
    for snag in snags:
        worst[snag.kind] = max(worst.get(snag.kind, 0.0), snag.strength)
    return apart + sum(WEIGHTS[kind] * strength for kind, strength in worst.items())
