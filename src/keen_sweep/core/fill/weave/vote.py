"""Voting: every patch that covers a pixel of the hole says what should be there (Wexler et al. 2007)."""

from __future__ import annotations

from typing import Any

import numba
import numpy as np


@numba.njit(cache=True, nogil=True)
def vote(features: Any, hole: Any, targets: Any, field: Any, cost: Any, reach: int, spread: float) -> None:
    """Replace the hole's features by weighted means of what the patches over each pixel propose.

    Weights fall with the patches' distances, exp(-cost / (2 spread)); spread is a distance typical of good
    matches (Newson et al. 2014 take the 75th percentile).
    """
    height, width, channels = features.shape
    sums = np.zeros(channels, np.float64)
    for t in range(len(targets)):
        y, x = targets[t, 0], targets[t, 1]
        if not hole[y, x]:
            continue
        total = 0.0
        sums[:] = 0.0
        least = cost[y, x]
        for qy in range(max(y - reach, 0), min(y + reach, height - 1) + 1):
            for qx in range(max(x - reach, 0), min(x + reach, width - 1) + 1):
                if cost[qy, qx] >= 0:
                    least = min(least, cost[qy, qx])
        for qy in range(max(y - reach, 0), min(y + reach, height - 1) + 1):
            for qx in range(max(x - reach, 0), min(x + reach, width - 1) + 1):
                if cost[qy, qx] < 0:
                    continue
                weight = np.exp(-(cost[qy, qx] - least) / (2.0 * spread))
                sy, sx = field[qy, qx, 0] + (y - qy), field[qy, qx, 1] + (x - qx)
                total += weight
                for c in range(channels):
                    sums[c] += weight * features[sy, sx, c]
        for c in range(channels):
            features[y, x, c] = np.uint8(sums[c] / total + 0.5)
