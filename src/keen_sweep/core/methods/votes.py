"""Voting: every patch that covers a pixel of the hole says what should be there (Wexler et al. 2007).

A patch's vote counts the more the better it fits, exp(-D / spread) with D its distance (Newson et al. 2014 take the
75th percentile of all for the spread), and the nearer it lies to what is known: there it was matched to picture rather
than to guesses (the confidence of Wexler et al. 2007, and of Criminisi et al. 2004).
"""

from __future__ import annotations

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Features, Floats, Places

# A vote counts this many times less for each pixel away from the rim.
FADING_BASE = 1.3
# Distance from the rim at which votes stop fading, pixels.
MAX_FADING_PX = 40.0


def confidence(hole: Bools, targets: NDArray[np.int32]) -> Floats:
    """Weight of each target by its distance from the rim.

    Parameters
    ----------
    hole : (h, w) bool
        The hole.
    targets : (n, 2) int32
        Rows and columns.

    Returns
    -------
    (n,) float32
        FADING_BASE to the power of minus the distance.
    """
    framed = np.pad(hole.astype(np.uint8), 1, mode="edge")
    depth = cv2.distanceTransform(framed, cv2.DIST_L2, 5)[1:-1, 1:-1]
    if not np.isfinite(depth).all() or depth.max() > 1e6:  # all of it is hole
        depth = np.zeros_like(depth)
    return np.asarray(FADING_BASE ** -np.minimum(depth[tuple(targets.T)], MAX_FADING_PX), np.float32)


def weights_of(cost: NDArray[np.int32], targets: NDArray[np.int32], confident: Floats, softness: float) -> Floats:
    """Weights of the votes of all patches.

    Parameters
    ----------
    cost : (h, w) int32
        Cost of the match of each patch.
    targets : (n, 2) int32
        Centres of the patches.
    confident : (n,) float32
        Weights by distance from the rim.
    softness : float
        Larger values let worse matches count more.

    Returns
    -------
    (h, w) float32
        The weights; negative where there is no patch.
    """
    distances = cost[tuple(targets.T)].astype(np.float32)
    spread = max(float(np.percentile(distances, 75)) * softness, 1.0)
    out = np.full(cost.shape, -1, np.float32)
    out[tuple(targets.T)] = np.exp(-np.minimum(distances / spread, 80)) * confident
    return out


@numba.njit(cache=True, nogil=True)
def vote(canvas: Features, features: Features, inside: Places, field: Places, weights: Floats, reach: int) -> float:
    """Replace the hole's features by the weighted mean of what the patches over each pixel propose.

    Four sums and one source position for each patch, computed beforehand, make it fast.

    Parameters
    ----------
    canvas : (h, w, 4) int16
        Features with the hole, changed in place.
    features : (H, W, 4) int16
        Features to copy from.
    inside : (n, 2) int32
        Pixels of the hole.
    field : (h, w, 2) int32
        Match of each patch.
    weights : (h, w) float32
        Weight of each patch.
    reach : int
        Radius of the patches, pixels.

    Returns
    -------
    float
        Mean change, feature steps.
    """
    height, wide = weights.shape
    width = features.shape[1]
    seen, weighed = features.reshape(-1), weights.reshape(-1)
    # By how much the places of there that a patch votes with are further on than those of here, in features.
    shift = np.empty(height * wide, np.int64)
    for y in range(height):
        for x in range(wide):
            shift[y * wide + x] = ((field[y, x, 0] - y) * width + field[y, x, 1] - x) * 4
    change = np.int64(0)
    for t in range(len(inside)):
        y, x = inside[t, 0], inside[t, 1]
        own = (np.int64(y) * width + x) * 4
        left = max(x - reach, 0)
        across = np.uint64(min(x + reach, wide - 1) + 1 - left)
        total = np.float32(0.0)
        a, b, c, d = np.float32(0.0), np.float32(0.0), np.float32(0.0), np.float32(0.0)
        for qy in range(max(y - reach, 0), min(y + reach, height - 1) + 1):
            q = np.uint64(qy * wide + left)
            for k in range(across):
                weight = weighed[q + k]
                if weight <= 0:
                    continue
                at = np.uint64(shift[q + k] + own)
                total += weight
                a += weight * np.float32(seen[at])
                b += weight * np.float32(seen[at + np.uint64(1)])
                c += weight * np.float32(seen[at + np.uint64(2)])
                d += weight * np.float32(seen[at + np.uint64(3)])
        if total > 0:
            for k, found in enumerate((a, b, c, d)):
                value = np.int16(np.rint(found / total))
                change += abs(np.int32(value) - np.int32(canvas[y, x, k]))
                canvas[y, x, k] = value
    return float(change / max(len(inside) * 4, 1))


@numba.njit(cache=True, nogil=True)
def best_over(inside: Places, field: Places, weights: Floats, reach: int, out: Places) -> None:
    """Source of each pixel according to the best patch over it.

    Parameters
    ----------
    inside : (n, 2) int32
        Pixels of the hole.
    field : (h, w, 2) int32
        Match of each patch.
    weights : (h, w) float32
        Weight of each patch.
    reach : int
        Radius of the patches, pixels.
    out : (h, w, 2) int32
        Filled in with rows and columns of the picture.
    """
    height, width = weights.shape
    for t in range(len(inside)):
        y, x = inside[t, 0], inside[t, 1]
        best, by, bx = np.float32(-1.0), y, x
        for qy in range(max(y - reach, 0), min(y + reach, height - 1) + 1):
            for qx in range(max(x - reach, 0), min(x + reach, width - 1) + 1):
                if weights[qy, qx] > best:
                    best, by, bx = weights[qy, qx], qy, qx
        out[y, x, 0], out[y, x, 1] = field[by, bx, 0] + (y - by), field[by, bx, 1] + (x - bx)
