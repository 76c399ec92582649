"""The nearest-neighbour field: for each patch that touches the hole, the most similar patch to draw from.

PatchMatch (Barnes, Shechtman, Finkelstein, Goldman 2009): propagation along scan order, random search in
windows that halve. Distances are sums of squared differences over 7 x 7 x 4; where a patch to be matched
leaves the picture, only what lies inside counts.
"""

from __future__ import annotations

from typing import Any

import numba
import numpy as np

FAR = 2**31 - 1


@numba.njit(cache=True, nogil=True, inline="always")
def _random(state: Any) -> Any:
    """xorshift64* (Vigna 2016), 32 bits at a time."""
    x = state[0]
    x ^= x >> np.uint64(12)
    x ^= x << np.uint64(25)
    x ^= x >> np.uint64(27)
    state[0] = x
    return (x * np.uint64(2685821657736338717)) >> np.uint64(33)


@numba.njit(cache=True, nogil=True)
def patch_distance(features: Any, ty: int, tx: int, sy: int, sx: int, reach: int, limit: int) -> Any:
    """Squared distance of the patch round (ty, tx) to the one round (sy, sx); may stop above limit."""
    height, width, _channels = features.shape
    top, bottom = max(-reach, -ty), min(reach, height - 1 - ty)
    left, right = max(-reach, -tx), min(reach, width - 1 - tx)
    total: Any = 0
    for dy in range(top, bottom + 1):
        row: Any = 0
        for dx in range(left, right + 1):
            for c in range(4):
                d = np.int32(features[ty + dy, tx + dx, c]) - np.int32(features[sy + dy, sx + dx, c])
                row += d * d
        total += row
        if total >= limit:
            return total
    return total


@numba.njit(cache=True, nogil=True)
def measure(features: Any, targets: Any, field: Any, cost: Any, reach: int) -> None:
    """Fill in cost (H, W) int32 for the field (H, W, 2) int32 of rows and columns, at the targets."""
    for t in range(len(targets)):
        y, x = targets[t, 0], targets[t, 1]
        cost[y, x] = patch_distance(features, y, x, field[y, x, 0], field[y, x, 1], reach, FAR)


@numba.njit(cache=True, nogil=True)
def scatter(targets: Any, sources: Any, field: Any, state: Any) -> None:
    """Start the field with random sources."""
    for t in range(len(targets)):
        s = _random(state) % np.uint64(len(sources))
        field[targets[t, 0], targets[t, 1], 0] = sources[s, 0]
        field[targets[t, 0], targets[t, 1], 1] = sources[s, 1]


@numba.njit(cache=True, nogil=True)
def search(
    features: Any,
    allowed: Any,
    targets: Any,
    field: Any,
    cost: Any,
    reach: int,
    rounds: int,
    span: int,
    state: Any,
) -> None:
    """Improve the field in place: rounds of propagation (to and fro) and random search within span pixels.

    field and cost must hold a valid match for every target; cost outside the targets must be negative.
    """
    height, width = allowed.shape
    for turn in range(rounds):
        step = 1 if turn % 2 == 0 else -1
        count = len(targets)
        for i in range(count):
            t = i if step == 1 else count - 1 - i
            y, x = targets[t, 0], targets[t, 1]
            best_y, best_x, best = field[y, x, 0], field[y, x, 1], cost[y, x]
            for k in range(2):
                ny = y - step if k == 0 else y
                nx = x if k == 0 else x - step
                if not (0 <= ny < height and 0 <= nx < width) or cost[ny, nx] < 0:
                    continue
                cy, cx = field[ny, nx, 0] + (y - ny), field[ny, nx, 1] + (x - nx)
                if not (0 <= cy < height and 0 <= cx < width) or not allowed[cy, cx]:
                    continue
                if cy == best_y and cx == best_x:
                    continue
                d = patch_distance(features, y, x, cy, cx, reach, best)
                if d < best:
                    best_y, best_x, best = cy, cx, d
            radius = span
            while radius >= 1 and best > 0:
                side = np.uint64(2 * radius + 1)
                cy = best_y - radius + np.int64(_random(state) % side)
                cx = best_x - radius + np.int64(_random(state) % side)
                radius //= 2
                if not (0 <= cy < height and 0 <= cx < width) or not allowed[cy, cx]:
                    continue
                d = patch_distance(features, y, x, cy, cx, reach, best)
                if d < best:
                    best_y, best_x, best = cy, cx, d
            field[y, x, 0], field[y, x, 1], cost[y, x] = best_y, best_x, best
