"""Which colours occur where."""

from __future__ import annotations

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Bools, Doubles, EightBit, Floats, Numbers

BINS_PER_CHANNEL = 10


def lab_of(pixels: EightBit) -> Floats:
    """Convert a picture to L*a*b* without its finest grain.

    Parameters
    ----------
    pixels : (h, w, 3) uint8
        sRGB.

    Returns
    -------
    (h, w, 3) float32
        L*a*b*.
    """
    blurred = cv2.GaussianBlur(pixels, (0, 0), 0.6).astype(np.float32) / 255
    return np.asarray(cv2.cvtColor(blurred, cv2.COLOR_RGB2LAB), np.float32)


class Colours:
    """Histograms of the L*a*b* colours of a picture in weighted areas.

    Parameters
    ----------
    lab : (h, w, 3) float32
        L*a*b* of the picture.
    """

    def __init__(self, lab: Floats) -> None:
        low, span = np.array([0.0, -50.0, -50.0], np.float32), np.float32(100)
        steps = np.clip((lab - low) / span * BINS_PER_CHANNEL, 0, BINS_PER_CHANNEL - 1).astype(np.int64)
        self.bins = (steps[..., 0] * BINS_PER_CHANNEL + steps[..., 1]) * BINS_PER_CHANNEL + steps[..., 2]

    def share(self, weight: Numbers | Bools) -> Doubles:
        """(BINS_PER_CHANNEL^3): the smoothed share of each colour in an area given as weights (h, w)."""
        count = np.bincount(self.bins.ravel(), np.asarray(weight, np.float64).ravel(), minlength=BINS_PER_CHANNEL**3)
        smooth = scipy.ndimage.gaussian_filter(
            count.reshape(BINS_PER_CHANNEL, BINS_PER_CHANNEL, BINS_PER_CHANNEL), 0.6, mode="nearest"
        )
        return np.asarray(smooth.ravel() / max(float(smooth.sum()), 1e-9) + 1e-5, np.float64)
