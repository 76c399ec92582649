"""Backdrops of a series: what lies beyond the paper is found anew in each frame, since every frame ends elsewhere."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.scout.backdrop import BEYOND_NAME, find_backdrop
from keen_sweep.document.stack import Sweep
from keen_sweep.studio.open_frame import OpenFrame

# What surrounds the paper covers this share of the picture's outermost pixels.
MIN_BORDER_SHARE = 0.4


def is_beyond(sweep: Sweep, mask: Mask, picture: Box) -> bool:
    """Whether a sweep takes off what lies all round a backdrop: its mask covers much of the picture's edge."""
    if sweep.method is not Method.BACKDROP:
        return False
    full = mask.full(picture.width, picture.height) > 0
    edge = np.concatenate([full[0], full[-1], full[:, 0], full[:, -1]])
    return float(edge.mean()) > MIN_BORDER_SHARE


def beyond_in(current: OpenFrame, other: OpenFrame) -> Mask | None:
    """What lies beyond the backdrop of another frame, and on it if such things go from this one too; None where no
    backdrop is to be told."""
    found = find_backdrop(np.asarray(other.pyramid.level(0)), other.guard)
    if not any(each.name == BEYOND_NAME for each in found):
        return None
    things = sum(sweep.method is Method.BACKDROP for sweep in current.stack.sweeps) > 1
    full = np.zeros((other.frame.height, other.frame.width), np.uint8)
    for each in found:
        if things or each.name == BEYOND_NAME:
            np.maximum(full[each.mask.box.slices], each.mask.pixels, out=full[each.mask.box.slices])
    box = box_of(full)
    return Mask(box, full[box.slices])
