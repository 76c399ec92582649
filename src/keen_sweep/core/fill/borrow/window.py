"""Where to look when borrowing: a hole with its surroundings, at full size and smaller."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Matrix, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.series.projected_view import reduce_pixels

# Margin around a hole in which motion is measured, share of the hole's longer side.
MARGIN_SHARE = 0.6
MIN_MARGIN_PX = 80
MAX_MARGIN_PX = 600
# Longer side of the window at working size, pixels.
WORKING_SIDE_PX = 900


@dataclass(frozen=True)
class Window:
    """A hole and its surroundings.

    Attributes
    ----------
    box : Box
        The box in the picture.
    pixels : (h, w, 3) uint8 or uint16
        Its pixels.
    hole : (h, w) bool
        The hole.
    small : (h', w', 3) uint8
        The pixels at working size.
    """

    box: Box
    pixels: Pixels
    hole: Bools
    small: EightBit

    @property
    def size(self) -> tuple[int, int]:
        """Of what is looked at: width, height."""
        return self.small.shape[1], self.small.shape[0]

    @property
    def scale(self) -> float:
        """Pixels of what is looked at to one of the picture."""
        return float(self.small.shape[1] / self.box.width)

    @property
    def grey(self) -> EightBit:
        return np.asarray(cv2.cvtColor(self.small, cv2.COLOR_RGB2GRAY), np.uint8)

    def reduced(self, plane: Bools) -> Bools:
        """Where any of a plane (h, w) of full size is true, at the size that is looked at."""
        share = cv2.resize(plane.astype(np.float32), self.size, interpolation=cv2.INTER_AREA)
        return np.asarray(share) > 0

    def places(self, small: Matrix) -> Matrix:
        """Places (n, 2) of what is looked at as places of the picture."""
        across, down = self.box.width / self.size[0], self.box.height / self.size[1]
        return np.asarray((small + 0.5) * (across, down) - 0.5 + (self.box.x, self.box.y), np.float64)

    def every(self, within: Box) -> Matrix:
        """Every place of a box of the picture, (n, 2), row by row."""
        x, y = np.meshgrid(np.arange(within.x, within.right), np.arange(within.y, within.bottom))
        return np.stack([x.ravel(), y.ravel()], axis=1).astype(np.float64)


def window_of(below: Pixels, hole: Bools) -> Window:
    """Read the surroundings of a hole.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture.
    hole : (H, W) bool
        The hole.

    Returns
    -------
    Window
        The window.
    """
    tight = box_of(hole)
    box = tight.grow(
        int(np.clip(MARGIN_SHARE * max(tight.width, tight.height), MIN_MARGIN_PX, MAX_MARGIN_PX)), whole(below)
    )
    scale = min(1.0, WORKING_SIDE_PX / max(box.width, box.height))
    size = (max(round(box.width * scale), 8), max(round(box.height * scale), 8))
    pixels = np.ascontiguousarray(below[box.slices])
    return Window(box, pixels, np.ascontiguousarray(hole[box.slices]), reduce_pixels(pixels, size))
