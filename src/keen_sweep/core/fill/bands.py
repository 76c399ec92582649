"""Grain matched by band: what copying and blending took from the finest detail of a fill is given back.

Two bands, picture less its Gaussian mean of .8 pixels, and that less the one of 1.6. In each the fill's local
strength is brought up to that of its surroundings; it is never turned down, and never up by more than a third.
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats

SIGMAS = (0.8, 1.6)
MOST = 1.35
# Strong edges are not grain: what exceeds so many medians counts as so many.
CLIP = 3.0
STEP = 4
THIRDS = np.full((1, 3), 1 / 3, np.float32)


def matched(pixels: Floats, hole: Bools, known: Bools, radius: float) -> None:
    """Raise the bands of the hole (h, w) of pixels (h, w, 3) float32, in place, to those of the known pixels.

    radius: of the largest disc in the hole, pixels; the strengths are compared over that distance.
    """
    if not (known & ~hole).any():
        return
    smooth = [cv2.GaussianBlur(pixels, (0, 0), sigma) for sigma in SIGMAS]
    bands = (pixels - smooth[0], smooth[0] - smooth[1])
    # A band next to the hole's rim mixes both sides.
    rim = cv2.dilate(hole.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    outside = known & ~rim
    if not outside.any():
        return
    spread = max(8.0, radius)
    for band in bands:
        strength = np.asarray(cv2.transform(np.abs(band), THIRDS), np.float32)
        gain = np.clip(_local(strength, outside, spread) / np.maximum(_local(strength, hole, spread), 1e-3), 1.0, MOST)
        gain -= 1
        gain[~hole] = 0
        pixels += cv2.merge([gain, gain, gain]) * band


def _local(strength: Floats, where: Bools, spread: float) -> Floats:
    """The mean strength of the places near by, clipped; (h, w) everywhere."""
    clipped = np.minimum(strength, CLIP * float(np.median(strength[where])))
    height, width = where.shape
    size = (-(-width // STEP), -(-height // STEP))
    weight = cv2.resize(where.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    total = cv2.resize(clipped * where, size, interpolation=cv2.INTER_AREA)
    sigma = spread / STEP
    mean = cv2.GaussianBlur(total, (0, 0), sigma) / np.maximum(cv2.GaussianBlur(weight, (0, 0), sigma), 1e-6)
    return np.asarray(cv2.resize(mean, (width, height), interpolation=cv2.INTER_LINEAR), np.float32)
