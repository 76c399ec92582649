"""What is odd at the rim of a copy: a pixel that differs from its neighbour in the picture by far more than those beside it.

The seam spreads a difference at the rim over the hole. Where all of a rim is lighter than the copy that is right; where one
dark joint, star or twig ends at it, it leaves a glow. Such pixels are outliers of their neighbourhood: the copy stands there
as it is. The middle of a neighbourhood is found by weights that fall with the distance from it (Cauchy's, iterated; Holland
& Welsch 1977).
"""

from __future__ import annotations

from typing import Any

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

# How far along the rim pixels are compared; a difference counts fully within SCALE of what is usual there; it is odd from
# ODD on, or from so many times what is usual. Pixels, and steps of 8 bit.
NEAR, SCALE, ODD, TIMES = 9.0, 12.0, 45.0, 4.0
ROUNDS = 4


@numba.njit(cache=True, nogil=True)
def _steps(picture: Any, hole: Any, offsets: Any, top: int, left: int, out: Any, rim: Any) -> None:
    """At every pixel of the hole beside a known one: known less what is beyond the copy, the mean over its neighbours."""
    height, width = hole.shape
    tall, wide = picture.shape[0], picture.shape[1]
    for i in range(height):
        for j in range(width):
            if not hole[i, j]:
                continue
            count = 0
            for k in range(4):
                qi, qj = i + (-1, 1, 0, 0)[k], j + (0, 0, -1, 1)[k]
                if not (0 <= qi < height and 0 <= qj < width) or hole[qi, qj]:
                    continue
                y, x = qi + top, qj + left
                sy, sx = y + offsets[i, j, 1], x + offsets[i, j, 0]
                if not (0 <= sy < tall and 0 <= sx < wide):
                    continue
                count += 1
                for c in range(3):
                    out[i, j, c] += np.float32(picture[y, x, c]) - np.float32(picture[sy, sx, c])
            if count:
                rim[i, j] = True
                for c in range(3):
                    out[i, j, c] /= count


def odd_rim(
    picture: NDArray[Any], hole: NDArray[np.bool_], offsets: NDArray[np.int32], top: int, left: int
) -> NDArray[np.bool_]:
    """The rim pixels of a copy that are odd, (h, w) bool.

    picture (H, W, 3) uint8 or uint16; hole (h, w) bool and offsets (h, w, 2) int32 (dx, dy) are its window at (top, left).
    """
    steps = np.zeros((*hole.shape, 3), np.float32)
    rim = np.zeros(hole.shape, np.bool_)
    _steps(picture, hole, offsets, top, left, steps, rim)
    steps *= np.float32(255 / np.iinfo(picture.dtype).max)
    weight = rim.astype(np.float32)
    away = np.zeros(hole.shape, np.float32)
    for _ in range(ROUNDS):
        near = np.maximum(cv2.GaussianBlur(weight, (0, 0), NEAR), 1e-6)
        usual = cv2.GaussianBlur(steps * weight[..., None], (0, 0), NEAR) / near[..., None]
        away = np.where(rim, np.linalg.norm(steps - usual, axis=2), 0).astype(np.float32)
        weight = (rim / (1 + (away / SCALE) ** 2)).astype(np.float32)
    spread = cv2.GaussianBlur(away * weight, (0, 0), NEAR) / np.maximum(cv2.GaussianBlur(weight, (0, 0), NEAR), 1e-6)
    return np.asarray(rim & (away > np.maximum(ODD, TIMES * spread)))
