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
    """The surroundings of a mark.

    Attributes
    ----------
    box : Box
        The box in the picture.
    full : (H, W, 3) uint8
        Its pixels at full size.
    pixels : (h, w, 3) uint8
        Its pixels at working size.
    lab : (h, w, 3) float32
        L*a*b* at working size.
    near : (h, w) bool
        The mark at working size.
    barred : (h, w) bool
        Guarded pixels at working size.
    """

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
    """Read the surroundings of a mark at working size.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    near : (H, W) bool
        The mark.
    guard : (H, W) bool or None
        Guarded pixels.
    box : Box
        The box to read.

    Returns
    -------
    Surroundings
        The surroundings.
    """
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
