"""The first guess at the coarsest scale: from the rim inwards, each pixel from the patch that fits best what
is known round it (in the manner of Efros & Leung 1999). Each seed sees a different half of the sources, so
that takes set out in different directions."""

from __future__ import annotations

from typing import Any

import numba
import numpy as np

from keen_sweep.core.fill.weave.nearest import FAR, _random


@numba.njit(cache=True, nogil=True)
def peel_inwards(features: Any, known: Any, layers: Any, sources: Any, field: Any, reach: int, state: Any) -> None:
    """Fill features (H, W, 4) in place at layers (n, 2), rim first; known (H, W) bool grows along.

    field (H, W, 2) receives where each pixel came from. About 3000 sources are tried for each pixel.
    """
    height, width, channels = features.shape
    count = len(sources)
    stride = max(count // 3000, 1)
    for i in range(len(layers)):
        y, x = layers[i, 0], layers[i, 1]
        best, best_y, best_x = FAR, sources[0, 0], sources[0, 1]
        s = np.int64(_random(state) % np.uint64(stride))
        while s < count:
            sy, sx = sources[s, 0], sources[s, 1]
            s += stride
            if _random(state) & np.uint64(1):
                continue
            total: Any = 0
            for dy in range(max(-reach, -y), min(reach, height - 1 - y) + 1):
                for dx in range(max(-reach, -x), min(reach, width - 1 - x) + 1):
                    if known[y + dy, x + dx]:
                        for c in range(channels):
                            d = np.int32(features[y + dy, x + dx, c]) - np.int32(features[sy + dy, sx + dx, c])
                            total += d * d
                if total >= best:
                    break
            if total < best:
                best, best_y, best_x = total, sy, sx
        for c in range(channels):
            features[y, x, c] = features[best_y, best_x, c]
        known[y, x] = True
        field[y, x, 0], field[y, x, 1] = best_y, best_x
