"""Line segments of a picture (von Gioi, Jakubowicz, Morel & Randall 2010, LSD), as OpenCV has them."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Doubles, EightBit


def segments_of(luma: EightBit) -> Doubles:
    """Straight segments of a picture.

    Parameters
    ----------
    luma : (h, w) uint8
        Lightness.

    Returns
    -------
    (n, 4) float64
        x and y of both ends, pixels.
    """
    found = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(luma)[0]
    return np.zeros((0, 4)) if found is None else np.asarray(found, np.float64).reshape(-1, 4)
