"""Voting: every patch that covers a pixel of the hole says what should be there (Wexler et al. 2007).

A patch's vote counts the more the better it fits, exp(-D / spread) with D its distance (Newson et al. 2014 take the
75th percentile of all for the spread), and the nearer it lies to what is known: there it was matched to picture rather
than to guesses (the confidence of Wexler et al. 2007, and of Criminisi et al. 2004).
"""

from __future__ import annotations

from typing import Any

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

# What a pixel farther from the rim takes from a vote, and how far that goes on.
FADING, FARTHEST = 1.3, 40.0


def confidence(hole: NDArray[np.bool_], targets: NDArray[np.int32]) -> NDArray[np.float32]:
    """FADING to the power of minus the distance of each target (n, 2) from what is not hole (h, w); (n,) float32."""
    framed = np.pad(hole.astype(np.uint8), 1, mode="edge")
    depth = cv2.distanceTransform(framed, cv2.DIST_L2, 5)[1:-1, 1:-1]
    if not np.isfinite(depth).all() or depth.max() > 1e6:  # all of it is hole
        depth = np.zeros_like(depth)
    return np.asarray(FADING ** -np.minimum(depth[tuple(targets.T)], FARTHEST), np.float32)


def weights_of(
    cost: NDArray[np.int32], targets: NDArray[np.int32], confident: NDArray[np.float32], softness: float
) -> NDArray[np.float32]:
    """What the vote of each patch weighs, (h, w) float32, negative where there is none."""
    apart = cost[tuple(targets.T)].astype(np.float32)
    spread = max(float(np.percentile(apart, 75)) * softness, 1.0)
    out = np.full(cost.shape, -1, np.float32)
    out[tuple(targets.T)] = np.exp(-np.minimum(apart / spread, 80)) * confident
    return out


@numba.njit(cache=True, nogil=True)
def vote(here: Any, there: Any, inside: Any, field: Any, weights: Any, reach: int) -> float:
    """Replace the hole's features by weighted means of what the patches over each pixel propose.

    here (h, w, C) int16, changed in place; inside (n, 2) are the pixels of the hole. Returns the mean change, in
    steps.
    """
    height, width, channels = here.shape
    sums = np.zeros(channels, np.float32)
    change = 0.0
    for t in range(len(inside)):
        y, x = inside[t, 0], inside[t, 1]
        total = np.float32(0.0)
        sums[:] = 0
        for qy in range(max(y - reach, 0), min(y + reach, height - 1) + 1):
            for qx in range(max(x - reach, 0), min(x + reach, width - 1) + 1):
                weight = weights[qy, qx]
                if weight <= 0:
                    continue
                sy, sx = field[qy, qx, 0] + (y - qy), field[qy, qx, 1] + (x - qx)
                total += weight
                for c in range(channels):
                    sums[c] += weight * there[sy, sx, c]
        if total > 0:
            for c in range(channels):
                value = np.int16(np.rint(sums[c] / total))
                change += abs(np.int32(value) - np.int32(here[y, x, c]))
                here[y, x, c] = value
    return float(change / max(len(inside) * channels, 1))


@numba.njit(cache=True, nogil=True)
def best_over(inside: Any, field: Any, weights: Any, reach: int, out: Any) -> None:
    """Where the best of the patches over each pixel puts it: out (h, w, 2), rows and columns of the picture."""
    height, width = weights.shape
    for t in range(len(inside)):
        y, x = inside[t, 0], inside[t, 1]
        best, by, bx = np.float32(-1.0), y, x
        for qy in range(max(y - reach, 0), min(y + reach, height - 1) + 1):
            for qx in range(max(x - reach, 0), min(x + reach, width - 1) + 1):
                if weights[qy, qx] > best:
                    best, by, bx = weights[qy, qx], qy, qx
        out[y, x, 0], out[y, x, 1] = field[by, bx, 0] + (y - by), field[by, bx, 1] + (x - bx)
