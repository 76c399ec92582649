"""Which of several begun weaves go on, and in which order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.fill.weave.features import STEPS
from keen_sweep.core.fill.weave.looking import look_at_begun
from keen_sweep.core.fill.weave.scene import Scene
from keen_sweep.core.fill.weave.synthesis import Begun

# Mean difference of two fills at half resolution, in L*a*b*, below which a photographer would hardly tell them apart.
ALIKE = 1.6
# A fill whose badness is higher by this is plainly worse.
PLAINLY = 0.35
# How many starts of one kind are looked at for their worst place: those whose patches fit best.
OF_A_KIND = 2


@dataclass(frozen=True)
class Judged:
    """A begun weave and how bad it looks, its kind's toll included."""

    begun: Begun
    bad: float


def queue_of(scene: Scene, begun: list[Begun]) -> list[Judged]:
    """The begun weaves that are worth finishing, in that order.

    Within a kind the fit of the patches tells which are good, across kinds how bad they look. The first is the least bad
    one. The next is the best that differs from those before it, and not plainly worse than the first.
    What is left, alike or plainly worse, stands at the end.
    """
    seen: dict[str, int] = {}
    judged: list[Judged] = []
    rest: list[Judged] = []
    for each in sorted(begun, key=lambda one: one.energy):
        seen[each.kind.name] = seen.get(each.kind.name, 0) + 1
        if seen[each.kind.name] <= OF_A_KIND:
            judged.append(Judged(each, look_at_begun(scene, each).badness + each.kind.toll))
        else:
            rest.append(Judged(each, np.inf))
    ranked = sorted(judged, key=lambda one: one.bad)
    chosen: list[Judged] = []
    alike: list[Judged] = []
    worse: list[Judged] = []
    for one in ranked:
        if one.bad > ranked[0].bad + PLAINLY:
            worse.append(one)
        elif any(difference(one.begun, other.begun) < ALIKE for other in chosen):
            alike.append(one)
        else:
            chosen.append(one)
    return chosen + alike + worse + rest


def difference(a: Begun, b: Begun) -> float:
    """Mean absolute difference of L*, a*, b* between two fills of the same hole."""
    return float(np.abs(a.filled[:, :3].astype(np.int32) - b.filled[:, :3]).mean() / STEPS)
