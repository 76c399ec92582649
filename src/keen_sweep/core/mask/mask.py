"""A mask: the pixels that are replaced, in a box of the picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import Box

EMPTY_BOX = Box(x=0, y=0, width=0, height=0)


@dataclass(frozen=True)
class Mask:
    """A mask in its box; outside the box nothing is masked.

    Attributes
    ----------
    box : Box
        The box in picture pixels.
    pixels : (h, w) uint8
        Coverage; 255 where the picture is replaced.
    """

    box: Box
    pixels: EightBit

    def full(self, width: int, height: int) -> EightBit:
        """The mask at the picture's size, (height, width)."""
        out = np.zeros((height, width), np.uint8)
        out[self.box.slices] = self.pixels
        return out
