"""The first guess at the coarsest scale: from the rim inwards, each pixel from the patch that fits best what is known
round it (in the manner of Efros & Leung 1999). Each seed sees other sources, so that takes set out in different
directions."""

from __future__ import annotations

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Features, Places
from keen_sweep.core.methods.patchmatch import NO_BOUND, _random

# Number of sources tried for one pixel, at most.
TRIES_PER_PIXEL = 4_000
# Number of sources tried for all pixels together, at most.
TOTAL_TRIES = 800_000


def layers_of(hole: Bools) -> NDArray[np.int32]:
    """Pixels of a hole, from the rim inwards.

    Parameters
    ----------
    hole : (h, w) bool
        The hole.

    Returns
    -------
    (n, 2) int32
        Rows and columns.
    """
    framed = np.pad(hole.astype(np.uint8), 1, mode="edge")
    depth = cv2.distanceTransform(framed, cv2.DIST_L1, 3)[1:-1, 1:-1]
    inside = np.argwhere(hole)
    return inside[np.argsort(depth[tuple(inside.T)], kind="stable")].astype(np.int32)


@numba.njit(cache=True, nogil=True)
def peel_inwards(
    canvas: Features,
    features: Features,
    known: Bools,
    layers: Places,
    sources: Places,
    field: Places,
    reach: int,
    tries: int,
    state: NDArray[np.uint64],
) -> None:
    """Fill a hole from the rim inwards, in place, with the best of some sources for each pixel.

    Parameters
    ----------
    canvas : (h, w, C) int16
        Features with the hole, changed in place.
    features : (H, W, C) int16
        Features to copy from.
    known : (h, w) bool
        Known pixels, grown in place.
    layers : (n, 2) int32
        Pixels of the hole, rim first.
    sources : (m, 2) int32
        Possible sources.
    field : (h, w, 2) int32
        Receives the source of each pixel.
    reach : int
        Radius of the patches, pixels.
    tries : int
        Number of sources tried for each pixel.
    state : (1,) uint64
        State of the random generator.
    """
    height, width, channels = canvas.shape
    for i in range(len(layers)):
        y, x = layers[i, 0], layers[i, 1]
        best, best_y, best_x = np.int64(NO_BOUND), sources[0, 0], sources[0, 1]
        for _ in range(tries):
            s = _random(state) % np.uint64(len(sources))
            sy, sx = sources[s, 0], sources[s, 1]
            total = np.int64(0)
            for dy in range(max(-reach, -y), min(reach, height - 1 - y) + 1):
                for dx in range(max(-reach, -x), min(reach, width - 1 - x) + 1):
                    if known[y + dy, x + dx]:
                        for c in range(channels):
                            d = np.int32(canvas[y + dy, x + dx, c]) - np.int32(features[sy + dy, sx + dx, c])
                            total += d * d
                if total >= best:
                    break
            if total < best:
                best, best_y, best_x = total, sy, sx
        for c in range(channels):
            canvas[y, x, c] = features[best_y, best_x, c]
        known[y, x] = True
        field[y, x, 0], field[y, x, 1] = best_y, best_x
