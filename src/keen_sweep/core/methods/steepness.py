"""How steep edges are where pixels are copied from: what is out of focus has no steep ones.

Steps are taken of the picture under a small Gaussian, so that noise is none (Canny 1986 measures edges so).
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box

# Standard deviation of the Gaussian, pixels.
SMOOTHING_SIGMA_PX = 1.0
# Slope of a sharp edge after this Gaussian, as a share of its height.
SHARP_EDGE_SLOPE = 0.4
# No slope is taken this close to excluded places, pixels.
EXCLUDED_MARGIN_PX = 4


def steepness(
    picture: Pixels, hole: Bools, offsets: NDArray[np.int32], top: int, left: int, ground: Box, reach: int
) -> Floats:
    """Steepest step between neighbouring pixels near the source of each pixel of a hole.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    hole : (h, w) bool
        The hole in a window.
    offsets : (h, w, 2) int32
        dx and dy from each pixel of the hole to its source.
    top : int
        Row of the window in the picture.
    left : int
        Column of the window in the picture.
    ground : Box
        Part of the picture that is read, except the hole.
    reach : int
        Radius around the source, pixels.

    Returns
    -------
    (h, w) float32
        The step in the picture's units; infinite for sources outside the ground.
    """
    out = np.full(hole.shape, np.inf, np.float32)
    y, x = np.nonzero(hole)
    v, u = y + top + offsets[y, x, 1], x + left + offsets[y, x, 0]
    near = (v >= ground.y) & (u >= ground.x) & (v < ground.bottom) & (u < ground.right)
    y, x, v, u = y[near], x[near], v[near], u[near]
    if not len(y):
        return out
    places = Box(x=int(u.min()), y=int(v.min()), width=int(np.ptp(u)) + 1, height=int(np.ptp(v)) + 1)
    box = places.grow(reach + EXCLUDED_MARGIN_PX, ground)
    step = np.zeros((box.height, box.width), np.float32)
    for channel in range(3):
        soft = cv2.GaussianBlur(picture[box.slices][..., channel].astype(np.float32), (0, 0), SMOOTHING_SIGMA_PX)
        np.maximum(step[:-1], cv2.absdiff(soft[1:], soft[:-1]), out=step[:-1])
        np.maximum(step[:, :-1], cv2.absdiff(soft[:, 1:], soft[:, :-1]), out=step[:, :-1])
    window = Box(x=left, y=top, width=hole.shape[1], height=hole.shape[0])
    common = window.intersect(box)
    if not common.empty:
        gone = np.zeros(step.shape, np.uint8)
        gone[common.relative_to(box).slices] = hole[common.relative_to(window).slices]
        step[cv2.dilate(gone, np.ones((2 * EXCLUDED_MARGIN_PX + 1,) * 2, np.uint8)) > 0] = 0
    steepest = cv2.dilate(step, np.ones((2 * reach + 1,) * 2, np.uint8))
    out[y, x] = steepest[v - box.y, u - box.x]
    return out
