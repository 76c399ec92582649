"""Settle the field before pixels are copied: whole pieces of picture, joined where they agree.

The nearest-neighbour field may send every pixel somewhere else, and the mean of many places is soft. Here each
pixel may take over a neighbour's offset if its patch still fits and the seam between the two costs less: the
seam cost of Kwatra et al. 2003, minimised by iterated conditional modes (Besag 1986).
"""

from __future__ import annotations

from typing import Any

import numba
import numpy as np

from keen_sweep.core.fill.weave.nearest import patch_distance


@numba.njit(cache=True, nogil=True, inline="always")
def _difference(features: Any, ay: int, ax: int, by: int, bx: int) -> Any:
    total: Any = 0.0
    for c in range(3):
        d = np.float32(features[ay, ax, c]) - np.float32(features[by, bx, c])
        total += d * d
    return total


@numba.njit(cache=True, nogil=True)
def _seams(features: Any, hole: Any, field: Any, y: int, x: int, sy: int, sx: int) -> float:
    """What the joints of pixel (y, x) with its four neighbours cost if it comes from (sy, sx)."""
    height, width = hole.shape
    total = 0.0
    for k in range(4):
        dy = (-1, 1, 0, 0)[k]
        dx = (0, 0, -1, 1)[k]
        qy, qx = y + dy, x + dx
        if not (0 <= qy < height and 0 <= qx < width):
            continue
        ny, nx = sy + dy, sx + dx
        if not (0 <= ny < height and 0 <= nx < width):
            continue
        if not hole[qy, qx]:
            total += 2.0 * _difference(features, qy, qx, ny, nx)
            continue
        ty, tx = field[qy, qx, 0], field[qy, qx, 1]
        if ty == ny and tx == nx:
            continue
        total += _difference(features, ty, tx, ny, nx)
        by, bx = ty - dy, tx - dx
        if 0 <= by < height and 0 <= bx < width:
            total += _difference(features, by, bx, sy, sx)
    return total


@numba.njit(cache=True, nogil=True)
def settle(
    features: Any, hole: Any, allowed: Any, targets: Any, field: Any, cost: Any, reach: int, sweeps: int, weight: float
) -> None:
    """Improve field (H, W, 2) and cost (H, W) in place at the hole's pixels among the targets (n, 2).

    weight: how much a unit of squared difference in a seam counts against one in a patch's mean.
    """
    height, width = hole.shape
    share = 1.0 / (2 * reach + 1) ** 2
    count = len(targets)
    for turn in range(sweeps):
        for i in range(count):
            t = i if turn % 2 == 0 else count - 1 - i
            y, x = targets[t, 0], targets[t, 1]
            if not hole[y, x]:
                continue
            best_y, best_x, best_cost = field[y, x, 0], field[y, x, 1], cost[y, x]
            best = best_cost * share + weight * _seams(features, hole, field, y, x, best_y, best_x)
            for k in range(8):
                dy = (-1, 1, 0, 0, -1, -1, 1, 1)[k]
                dx = (0, 0, -1, 1, -1, 1, -1, 1)[k]
                qy, qx = y + dy, x + dx
                if not (0 <= qy < height and 0 <= qx < width) or not hole[qy, qx]:
                    continue
                sy, sx = field[qy, qx, 0] - dy, field[qy, qx, 1] - dx
                if not (0 <= sy < height and 0 <= sx < width) or not allowed[sy, sx]:
                    continue
                if sy == best_y and sx == best_x:
                    continue
                joints = weight * _seams(features, hole, field, y, x, sy, sx)
                if joints >= best:
                    continue
                limit: Any = min((best - joints) / share + 1.0, 2.0e9)
                d = patch_distance(features, y, x, sy, sx, reach, int(limit))
                total = d * share + joints
                if total < best:
                    best, best_y, best_x, best_cost = total, sy, sx, d
            field[y, x, 0], field[y, x, 1], cost[y, x] = best_y, best_x, best_cost
