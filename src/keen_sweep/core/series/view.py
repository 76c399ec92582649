"""What is looked at of a frame when it is aligned: the picture at a size that tells enough."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Doubles, EightBit, Pixels
from keen_sweep.core.photo.channels import to_eight_bit

# Longer side of a view, pixels.
VIEW_SIDE_PX = 1280


@dataclass(frozen=True)
class View:
    """A frame reduced for comparison.

    Attributes
    ----------
    pixels : (h, w, 3) uint8
        The reduced pixels.
    width : int
        Width of the frame, pixels.
    height : int
        Height of the frame, pixels.
    """

    pixels: EightBit
    width: int
    height: int

    @property
    def scale(self) -> float:
        """Pixels of the view to one of the frame."""
        return float(self.pixels.shape[1] / self.width)

    @property
    def grey(self) -> EightBit:
        """Luma, (h, w)."""
        return np.asarray(cv2.cvtColor(self.pixels, cv2.COLOR_RGB2GRAY), np.uint8)

    @property
    def to_frame(self) -> Doubles:
        """(3, 3): places of the view, pixel centres at whole numbers, to those of the frame."""
        across, down = self.width / self.pixels.shape[1], self.height / self.pixels.shape[0]
        return np.array([[across, 0, (across - 1) / 2], [0, down, (down - 1) / 2], [0, 0, 1]])


def view_of(pixels: Pixels, width: int | None = None, height: int | None = None) -> View:
    """Reduce a frame for comparison.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        Pixels of the frame, or of a smaller level of its pyramid.
    width : int or None, optional
        Width of the frame, pixels; None for that of the pixels.
    height : int or None, optional
        Height of the frame, pixels; None for that of the pixels.

    Returns
    -------
    View
        The view.
    """
    small = to_eight_bit(pixels)
    scale = VIEW_SIDE_PX / max(small.shape[:2])
    if scale < 1:
        size = (max(round(small.shape[1] * scale), 1), max(round(small.shape[0] * scale), 1))
        small = np.asarray(cv2.resize(small, size, interpolation=cv2.INTER_AREA), np.uint8)
    return View(np.ascontiguousarray(small), width or int(pixels.shape[1]), height or int(pixels.shape[0]))
