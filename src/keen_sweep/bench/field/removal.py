"""How a mask serves a removal: what it leaves of a thing, what it takes beyond, and how many strokes that takes."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.box import box_of

# Outlines are exact to this many pixels: what is left out this close to the mask does not count.
OUTLINE_TOLERANCE_PX = 2.0
# What lies this close around a thing is margin and not too much, share of its longer side.
MARGIN_SHARE = 0.04
# Smallest such margin, pixels.
MIN_MARGIN_PX = 4.0
# Limits up to which a mask is ready to be filled.
MAX_LEFT_OUT = 0.02
MAX_TOO_MUCH = 0.35


@dataclass(frozen=True)
class Removal:
    """left_out: the share of the thing that the mask misses. too_much: what it takes beyond the thing's margin and what
    belongs to it, over the thing's area."""

    left_out: float
    too_much: float

    @property
    def ready(self) -> bool:
        return self.left_out <= MAX_LEFT_OUT and self.too_much <= MAX_TOO_MUCH


def missed(mask: Bools, truth: Bools) -> Bools:
    """What of a thing (h, w) a mask (h, w) misses, its rim aside."""
    return truth & (_away(mask) > OUTLINE_TOLERANCE_PX)


def beyond(mask: Bools, truth: Bools, belongs: Bools) -> Bools:
    """What a mask takes that neither is the thing with its margin nor belongs to it."""
    box = box_of(truth)
    room = max(MARGIN_SHARE * max(box.width, box.height), MIN_MARGIN_PX)
    return mask & (_away(truth) > room) & ~belongs


def removal(mask: Bools, truth: Bools, belongs: Bools) -> Removal:
    area = int(truth.sum())
    return Removal(int(missed(mask, truth).sum()) / area, int(beyond(mask, truth, belongs).sum()) / area)


def _away(mask: Bools) -> Floats:
    if not mask.any():
        return np.full(mask.shape, np.inf, np.float32)
    return np.asarray(cv2.distanceTransform((~mask).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE), np.float32)
