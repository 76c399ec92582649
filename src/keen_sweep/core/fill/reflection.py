"""Reflection: what a pane of glass added is taken off; what is behind it stays where it is."""

from __future__ import annotations

import time
from collections.abc import Iterator

import numpy as np

from keen_sweep.core.box import box_of
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.method import MadeBy, Quality
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.fill.separation import GRADIENT_THRESHOLDS, added_light
from keen_sweep.core.sentences import sentence

QUALITY_REASONS = {
    Quality.FAST: sentence("soft reflected light is removed, quick version"),
    Quality.FINE: sentence("soft reflected light is removed"),
}


class ReflectionEngine:
    """Engine of the method reflection. The mask may cover the whole picture."""

    name = "reflection"

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield takes, which differ in how soft a gradient has to be to count as reflected; see Engine."""
        clock = time.perf_counter()
        inside = hole_of(given, may_be_all=True)
        box = box_of(inside)
        filled = inside[box.slices]
        top = np.float32(np.iinfo(given.below.dtype).max)
        picture = given.below[box.slices].astype(np.float32) / top
        report = PartReport(MadeBy.REFLECTION, QUALITY_REASONS[given.quality], box, int(filled.sum()))
        for number in range(given.takes):
            given.progress(
                number / given.takes, sentence("take {number} of {takes}", number=number + 1, takes=given.takes)
            )
            threshold = GRADIENT_THRESHOLDS[(given.seed + number) % len(GRADIENT_THRESHOLDS)]
            clean = picture - added_light(picture, given.quality == "fine", threshold)
            pixels = np.rint(clean * top).clip(0, top).astype(given.below.dtype)
            yield Patch(
                box=box,
                pixels=np.where(filled[..., None], pixels, given.below[box.slices]),
                alpha=np.where(filled, given.mask[box.slices], 0).astype(np.uint8),
                method=MadeBy.REFLECTION,
                seed=given.seed + number,
                energy=float(number),
                seconds=time.perf_counter() - clock,
                parts=(report,),
                provenance=Provenance(quality=given.quality, threshold=threshold),
            )
