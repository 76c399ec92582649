"""Which of several begun weaves go on: those that fit best, and that a photographer would tell apart."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.fill.weave.synthesis import Begun

# Mean difference of two fills at half resolution, in 8-bit steps of L*a*b*, below which they count as one.
ALIKE = 2.0


def choose(begun: list[Begun], takes: int) -> list[Begun]:
    """So many of the begun weaves, best first; one that looks like a better one goes to the end of the queue."""
    ranked = sorted(begun, key=lambda each: each.energy)
    chosen: list[Begun] = []
    alike: list[Begun] = []
    for each in ranked:
        same = any(difference(each, other) < ALIKE for other in chosen)
        (alike if same else chosen).append(each)
    return (chosen + alike)[:takes]


def difference(a: Begun, b: Begun) -> float:
    """Mean absolute difference of L*, a*, b* between two fills of the same hole."""
    return float(np.abs(a.filled[:, :3].astype(np.int16) - b.filled[:, :3]).mean())
