"""What cling looks at: a mark's surroundings at a working size."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.colours import lab_of
from keen_sweep.core.photo.channels import to_eight_bit

# Number of pixels of the surroundings at working size.
WORKING_PIXELS = 320 * 320


@dataclass(frozen=True)
class Surroundings:
    """What is looked at: the box in the picture and its 8-bit pixels; at a working size 8-bit pixels, Lab (h, w, 3)
    float32, the mark, and what is guarded."""

    box: Box
    full: EightBit
    pixels: EightBit
    lab: Floats
    near: Bools
    barred: Bools

    @property
    def size(self) -> tuple[int, int]:
        """Width and height at the working size."""
        return self.near.shape[1], self.near.shape[0]


def surroundings_of(picture: Pixels, near: Bools, guard: Bools | None, box: Box) -> Surroundings:
    """A box round a mark (H, W) of a picture (H, W, 3), at the working size."""
    pixels = full = to_eight_bit(np.ascontiguousarray(picture[box.slices]))
    marked = near[box.slices].astype(np.uint8) * 255
    barred = np.zeros_like(marked) if guard is None else guard[box.slices].astype(np.uint8) * 255
    scale = min(1.0, np.sqrt(WORKING_PIXELS / box.area))
    if scale < 1:
        size = (max(round(box.width * scale), 8), max(round(box.height * scale), 8))
        pixels, marked, barred = (
            np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.uint8)
            for plane in (pixels, marked, barred)
        )
    hit = marked > 127
    if not hit.any():
        hit = marked == marked.max()
    return Surroundings(box, full, pixels, lab_of(pixels), hit, barred > 127)
