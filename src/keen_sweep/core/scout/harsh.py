"""The harsh-light view: a picture as if lit from the side, in which faint spots stand out."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.photo.channels import to_eight_bit

# Larger structures count as ground, standard deviation in picture pixels.
GROUND_SIGMA_PX = 36.0


def harsh(pixels: Pixels, threshold: float, scale: float = 1.0) -> EightBit:
    """(H, W) of a window (H, W, 3): grey where it is like its surroundings, black where it is darker than they are by
    the threshold, white where it is lighter.

    threshold: share of light, above 0 to 1. scale: size of a pixel in picture pixels, 1 at full size.
    """
    light = np.log(to_eight_bit(np.ascontiguousarray(pixels)).astype(np.float32).mean(axis=2) + 8)
    ground = cv2.GaussianBlur(light, (0, 0), max(GROUND_SIGMA_PX / scale, 2.0))
    deep = -np.log1p(-min(threshold, 0.95))
    return np.asarray((127.5 * (1 + (light - ground) / deep)).clip(0, 255), np.uint8)


def shrunk(view: EightBit, by: int) -> EightBit:
    """A harsh view (H, W) at a fraction of its size, in which dark spots of a single pixel stay dark: each pixel is the
    darkest of its block, sides are multiples of by."""
    height, width = view.shape
    return np.asarray(view.reshape(height // by, by, width // by, by).min(axis=(1, 3)), np.uint8)
