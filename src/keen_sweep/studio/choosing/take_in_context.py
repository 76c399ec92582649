"""A take laid in its surroundings, as the second look sees it and mends it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.fill.patch import Patch, lay
from keen_sweep.core.review.review import review_box
from keen_sweep.store.tables import Take
from keen_sweep.studio.open_frame import OpenFrame


@dataclass(frozen=True)
class TakeInPlace:
    """A take in a window of the picture at full depth: what lies below it, what it makes of that, and where it does
    something, (h, w) uint8."""

    below: Pixels
    after: Pixels
    alpha: EightBit
    window: Box


def in_place(current: OpenFrame, take: Take, patch: Patch) -> TakeInPlace:
    """A take with as much round it as a review looks at; on top of everything if its sweep is not there any more."""
    hole = box_of(patch.alpha).relative_to(Box(x=-patch.box.x, y=-patch.box.y, width=0, height=0))
    window = review_box(hole, current.box)
    known = any(sweep.id == take.sweep_id for sweep in current.stack.sweeps)
    below = current.below(take.sweep_id, window) if known else current.seen(window)
    after = below.copy()
    lay(after, window, patch)
    alpha = np.zeros(below.shape[:2], np.uint8)
    common = patch.box.intersect(window)
    alpha[common.relative_to(window).slices] = patch.alpha[common.relative_to(patch.box).slices]
    return TakeInPlace(below, after, alpha, window)
