"""What scouts found under a place of the picture: people and things come before whatever a click might mean there."""

from __future__ import annotations

from keen_sweep.core.mask.mask import Mask
from keen_sweep.document.mark import Mark
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.found.rows import shapes_of_find
from keen_sweep.studio.open_frame import OpenFrame

# Share of a dab that must lie on a find.
MIN_DAB_SHARE = 0.8


def find_under(current: OpenFrame, dab: Mask) -> Mask | None:
    """The smallest of the people and things that scouts found under a dab; None where there is none."""
    best: Mask | None = None
    for row in open_finds(current):
        if not row.kind.stands_by_itself:
            continue
        mask = current.mask_of(Mark(shapes=shapes_of_find(row)))
        common = mask.box.intersect(dab.box)
        if common.empty or (best is not None and mask.box.area >= best.box.area):
            continue
        covered = mask.pixels[common.relative_to(mask.box).slices] > 0
        on = (covered & (dab.pixels[common.relative_to(dab.box).slices] > 0)).sum()
        if on >= MIN_DAB_SHARE * (dab.pixels > 0).sum():
            best = mask
    return best
