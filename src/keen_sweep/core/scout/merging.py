"""Whether a line runs into what crosses it: a glazing bar does, at every bar that it meets; a wire runs over it."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Doubles, EightBit, Floats, Numbers

# Colours closer than this count as the same, L*a*b* in OpenCV's 8-bit scale.
MAX_SAME_DISTANCE = 18.0
# A line that merges with what crosses it stands out elsewhere by this much.
MIN_CONTRAST = 40.0
# Number of places at which it merges.
MIN_CROSSINGS = 10
# Length of each of these places at most, in line widths.
MAX_CROSSING_WIDTHS = 4.0


def merges(pixels: EightBit, path: Doubles, width: float) -> bool:
    """Whether a line blends with what crosses it again and again, as branches do.

    Parameters
    ----------
    pixels : (H, W, 3) uint8
        The picture.
    path : (n, 2) float64
        x and y along the line.
    width : float
        Its width, pixels.

    Returns
    -------
    bool
        Whether it does.
    """
    walked = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
    at = np.arange(0.0, walked[-1])
    if len(at) < MIN_CROSSINGS:
        return False
    points = np.stack([np.interp(at, walked, path[:, k]) for k in (0, 1)], axis=1)
    along = np.gradient(points, axis=0)
    along /= np.hypot(*along.T)[:, None] + 1e-9
    aside = np.stack([-along[:, 1], along[:, 0]], axis=1)
    lab = cv2.cvtColor(pixels, cv2.COLOR_RGB2LAB).astype(np.float32)
    own, *beside = (_at(lab, points + far * aside) for far in (0.0, -width / 2 - 2.5, width / 2 + 2.5))
    off = [np.linalg.norm(each - own, axis=1) for each in beside]
    if np.median(np.minimum(*off)) < MIN_CONTRAST:
        return False
    merged = np.maximum(*off) < MAX_SAME_DISTANCE
    steps = np.flatnonzero(np.diff(np.concatenate([[0], merged.astype(np.int8), [0]])))
    lengths = steps[1::2] - steps[::2]
    lengths = lengths[lengths >= 2]
    return len(lengths) >= MIN_CROSSINGS and float(np.median(lengths)) <= MAX_CROSSING_WIDTHS * width


def _at(plane: Numbers, points: Doubles) -> Floats:
    x, y = (points[:, k].astype(np.float32)[None] for k in (0, 1))
    return np.asarray(cv2.remap(plane, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)[0], np.float32)
