"""Long clusters woven section by section, each on top of the last."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from keen_sweep.core.box import whole
from keen_sweep.core.fill.local.laying_out import put_values, stages_of
from keen_sweep.core.fill.local.plan import STAGE_LENGTH_PX, Plan, scene_of
from keen_sweep.core.fill.local.pool import Finished
from keen_sweep.core.fill.local.seeds import start_seed
from keen_sweep.core.fill.weave.kinds import SOFT_KIND
from keen_sweep.core.fill.weave.synthesis import begin, finish
from keen_sweep.core.progress import Tick


def fill_in_stages(plan: Plan, number: int, tick: Tick) -> list[tuple[Finished, int]]:
    """Fill the staged clusters of a take, using the better of two starts for each section.

    Only the true picture is copied, never what earlier sections made.

    Parameters
    ----------
    plan : Plan
        The plan.
    number : int
        Index of the take.
    tick : Tick
        Called with the share that is done.

    Returns
    -------
    list of tuple of (Finished, int)
        The finished sections with their areas, pixels.
    """
    given = plan.given
    out = []
    for k, cluster in enumerate(plan.staged):
        seed = start_seed(given.seed, len(plan.clusters) + k, 8 * number)
        below = plan.below.copy()
        left = ~plan.known
        slivers = left & ~plan.hole
        made = np.zeros_like(left) if given.sources.barred is None else given.sources.barred.copy()
        stages = stages_of(cluster, STAGE_LENGTH_PX)
        for n, stage in enumerate(stages):

            def section(share: float, done: int = n, of: int = len(stages), k: int = k) -> None:
                tick((k + (done + 0.5 * share) / of) / len(plan.staged))

            scene = scene_of(replace(given, sources=replace(given.sources, barred=made)), below, left, slivers, stage)
            begun = min(
                (begin(scene, SOFT_KIND, seed + 2 * n + m, given.quality, section) for m in range(2)),
                key=lambda each: each.energy,
            )
            woven = finish(scene, begun, given.quality, section)
            out.append((Finished(woven, begun.energy), stage.area))
            put_values(below, whole(below), woven.window, woven.pixels, woven.hole)
            filled = stage.box.slices
            left[filled] &= ~stage.inside
            made[filled] |= stage.inside
    return out
