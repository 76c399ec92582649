"""The harsh-light view: a picture as if lit from the side, in which faint spots stand out."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.photo.channels import to_eight_bit

# Larger structures count as ground, standard deviation in picture pixels.
GROUND_SIGMA_PX = 36.0


def harsh(pixels: Pixels, threshold: float, scale: float = 1.0) -> EightBit:
    """Show faint spots: black where a pixel is darker than its surroundings by the threshold, white where it
    is lighter, grey where it is like them.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        A window of the picture.
    threshold : float
        Share of light, above 0 to 1.
    scale : float, optional
        Size of a pixel in picture pixels; 1 at full size.

    Returns
    -------
    (H, W) uint8
        The view.
    """
    light = np.log(to_eight_bit(np.ascontiguousarray(pixels)).astype(np.float32).mean(axis=2) + 8)
    ground = cv2.GaussianBlur(light, (0, 0), max(GROUND_SIGMA_PX / scale, 2.0))
    deep = -np.log1p(-min(threshold, 0.95))
    return np.asarray((127.5 * (1 + (light - ground) / deep)).clip(0, 255), np.uint8)


def shrunk(view: EightBit, by: int) -> EightBit:
    """Reduce a harsh view so that dark spots of one pixel stay dark: each pixel is the darkest of its block.

    Parameters
    ----------
    view : (H, W) uint8
        The view; its sides are multiples of `by`.
    by : int
        Factor.

    Returns
    -------
    (H / by, W / by) uint8
        The reduced view.
    """
    height, width = view.shape
    return np.asarray(view.reshape(height // by, by, width // by, by).min(axis=(1, 3)), np.uint8)
