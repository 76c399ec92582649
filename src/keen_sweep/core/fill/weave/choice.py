"""Which of several begun weaves go on, and in which order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.fill.weave.assessment import judge_begun
from keen_sweep.core.fill.weave.features import FEATURE_STEPS
from keen_sweep.core.fill.weave.scene import Scene
from keen_sweep.core.fill.weave.synthesis import Begun

# Mean difference of two fills at half resolution below which they look the same, L*a*b*.
MIN_DIFFERENCE = 1.6
# A fill whose badness is higher by this is plainly worse.
PLAINLY_WORSE = 0.8
# A kind whose badness says little is offered while it is worse by no more than this.
FAR_WORSE = 1.6
# Starts of one kind that compete with the other kinds: those whose patches fit best.
MAX_COMPETING = 2
# Latest place at which a kind that is always offered appears.
LATEST_PLACE = 3


@dataclass(frozen=True, eq=False)
class Judged:
    """A begun weave and its badness.

    Attributes
    ----------
    begun : Begun
        The weave.
    bad : float
        Its badness, with its kind's toll.
    scene : Scene
        Its scene.
    """

    begun: Begun
    bad: float
    scene: Scene


def judge_start(scene: Scene, begun: Begun) -> Judged:
    """Judge a begun weave.

    Parameters
    ----------
    scene : Scene
        The scene.
    begun : Begun
        The weave.

    Returns
    -------
    Judged
        The weave and its badness.
    """
    return Judged(begun, judge_begun(scene, begun).badness + begun.kind.toll, scene)


def queue_of(begun: list[Judged]) -> list[Judged]:
    """Order begun weaves by whether they are worth finishing.

    Within a kind the fit of the patches decides, across kinds the badness. The best comes first, then the
    best of each other kind that differs and is not plainly worse, then what else differs. A kind that is
    always offered is among the first three unless it is far worse.

    Parameters
    ----------
    begun : list of Judged
        The weaves.

    Returns
    -------
    list of Judged
        All weaves in that order.
    """
    seen: dict[str, int] = {}
    fitting: list[Judged] = []
    rest: list[Judged] = []
    for each in sorted(begun, key=lambda one: one.begun.energy):
        name = each.begun.kind.name
        seen[name] = seen.get(name, 0) + 1
        (fitting if seen[name] <= MAX_COMPETING else rest).append(each)
    ranked = sorted(fitting, key=lambda one: one.bad)
    chosen: list[Judged] = []
    good = [one for one in ranked if one.bad <= ranked[0].bad + PLAINLY_WORSE]
    # First one of each kind, then what differs from those, then what hardly does.
    for new_kind in (True, False):
        for one in good:
            known = [other.begun for other in chosen]
            if one in chosen or (new_kind and one.begun.kind in [other.kind for other in known]):
                continue
            if all(difference(one.begun, other) >= MIN_DIFFERENCE for other in known):
                chosen.append(one)
    queue = chosen + [one for one in [*ranked, *rest] if one not in chosen]
    return _with_all_sorts(queue, ranked)


def _with_all_sorts(queue: list[Judged], ranked: list[Judged]) -> list[Judged]:
    """A queue with the best of every kind that is always offered among its first, at their end, unless far worse."""
    best: dict[str, Judged] = {}
    for one in ranked:
        if one.begun.kind.always and one.bad <= ranked[0].bad + FAR_WORSE:
            best.setdefault(one.begun.kind.name, one)
    best.pop(queue[0].begun.kind.name, None)
    must = list(best.values())[: LATEST_PLACE - 1]
    others = [one for one in queue[1:] if one not in must]
    free = LATEST_PLACE - 1 - len(must)
    return [queue[0], *others[:free], *must, *others[free:]]


def difference(a: Begun, b: Begun) -> float:
    """Mean absolute difference of two fills of the same hole, L*a*b*.

    Parameters
    ----------
    a : Begun
        The first fill.
    b : Begun
        The second fill.

    Returns
    -------
    float
        The difference.
    """
    return float(np.abs(a.filled[:, :3].astype(np.int32) - b.filled[:, :3]).mean() / FEATURE_STEPS)
