"""How a mask serves a removal: what it leaves of a thing, what it takes beyond, and how many strokes that takes."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.box import box_of

# Outlines are right to so many pixels: what is left out this near the mask does not count.
RIM = 2.0
# What is taken within this share of the thing's longer side round it is a margin, at least so many pixels.
ROOM = 0.04
LEAST_ROOM = 4.0
# From where on a mask is ready to be filled.
LEFT_OUT = 0.02
TOO_MUCH = 0.35


@dataclass(frozen=True)
class Removal:
    """left_out: the share of the thing that the mask misses. too_much: what it takes beyond the thing's margin and what
    belongs to it, over the thing's area."""

    left_out: float
    too_much: float

    @property
    def ready(self) -> bool:
        return self.left_out <= LEFT_OUT and self.too_much <= TOO_MUCH


def missed(mask: Bools, truth: Bools) -> Bools:
    """What of a thing (h, w) a mask (h, w) misses, its rim aside."""
    return truth & (_away(mask) > RIM)


def beyond(mask: Bools, truth: Bools, belongs: Bools) -> Bools:
    """What a mask takes that neither is the thing with its margin nor belongs to it."""
    box = box_of(truth)
    room = max(ROOM * max(box.width, box.height), LEAST_ROOM)
    return mask & (_away(truth) > room) & ~belongs


def removal(mask: Bools, truth: Bools, belongs: Bools) -> Removal:
    area = int(truth.sum())
    return Removal(int(missed(mask, truth).sum()) / area, int(beyond(mask, truth, belongs).sum()) / area)


def _away(mask: Bools) -> Floats:
    if not mask.any():
        return np.full(mask.shape, np.inf, np.float32)
    return np.asarray(cv2.distanceTransform((~mask).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE), np.float32)
