"""The exact seam: a smooth correction that makes copied pixels meet their surroundings without a step.

Gradient-domain blending (Perez, Gangnet, Blake 2003), solved for the correction to the copy rather than for the
picture, so that copied detail stays as sharp as it was (solved by multigrid).
"""

from __future__ import annotations

from typing import Any

import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.methods.multigrid import Domain

# Two pieces of a copy that disagree by more than this share of the copy's mean show an edge where they meet: smoothed
# away, it would glow far into both. A share of what is copied, so that a brighter development is joined alike.
MOST = 0.4


@numba.njit(cache=True, nogil=True, inline="always")
def _held(step: Any, most: Any) -> Any:
    """A mismatch as it is up to a bound, and beyond it the less the larger it is."""
    return step if abs(step) <= most else most * (most / step)


@numba.njit(cache=True, nogil=True)
def _mismatch(
    picture: Any, hole: Any, offsets: Any, loose: Any, channel: int, top: int, left: int, out: Any, most: Any
) -> None:
    """Right side: for each neighbour, the wanted slope less the slope of the copy (0 where offsets agree).

    hole, offsets, loose and out are windows of the picture with their corner at (top, left). At loose pixels the copy
    stands as it is beside what is known. Between pieces of the copy mismatches above most count less.
    """
    height, width = hole.shape
    full_height, full_width = picture.shape[0], picture.shape[1]
    for i in range(height):
        for j in range(width):
            out[i, j] = 0.0
            if not hole[i, j]:
                continue
            y, x = i + top, j + left
            oy, ox = offsets[i, j, 1], offsets[i, j, 0]
            copied = np.float32(picture[y + oy, x + ox, channel])
            for k in range(4):
                di = (-1, 1, 0, 0)[k]
                dj = (0, 0, -1, 1)[k]
                qy, qx = y + di, x + dj
                if not (0 <= qy < full_height and 0 <= qx < full_width):
                    continue
                beyond = (
                    np.float32(picture[qy + oy, qx + ox, channel])
                    if (0 <= qy + oy < full_height and 0 <= qx + ox < full_width)
                    else copied
                )
                own = copied - beyond
                if not hole[i + di, j + dj]:
                    if loose[i, j]:
                        continue
                    out[i, j] += own - (copied - np.float32(picture[qy, qx, channel]))
                    continue
                py, px = offsets[i + di, j + dj, 1], offsets[i + di, j + dj, 0]
                if py == oy and px == ox:
                    continue
                there = np.float32(picture[qy + py, qx + px, channel])
                back = (
                    np.float32(picture[y + py, x + px, channel])
                    if (0 <= y + py < full_height and 0 <= x + px < full_width)
                    else there
                )
                out[i, j] += _held(0.5 * (own + back - there) - (copied - there), most)


def correction(
    picture: NDArray[Any],
    hole: Bools,
    offsets: NDArray[np.int32],
    top: int,
    left: int,
    tolerance: float = 1e-5,
    loose: Bools | None = None,
) -> Floats:
    """The correction (h, w, 3) float32, in the picture's units, to a copy made by offsets.

    picture: (H, W, 3), its pixels in the hole unused; hole (h, w) bool and offsets (h, w, 2) int32 (dx, dy) are a
    window of it at (top, left) that has a rim of known pixels except along the picture's edge. loose (h, w) bool:
    pixels that need not meet what is beside the hole, since it is of another kind.
    """
    height, width = hole.shape
    full_height, full_width = picture.shape[:2]
    assert top >= 0
    assert left >= 0
    assert top + height <= full_height
    assert left + width <= full_width
    # One rim of pixels beyond the picture where the window ends at its edge, so that kernels need no cases.
    rim = (
        (int(top == 0), int(top + height == full_height)),
        (int(left == 0), int(left + width == full_width)),
    )
    inside = np.pad(np.ones((height, width), bool), rim)
    domain = Domain(np.pad(hole, rim), inside)
    window = (slice(rim[0][0], rim[0][0] + height), slice(rim[1][0], rim[1][0] + width))
    out = np.zeros((height, width, 3), np.float32)
    free = np.zeros((height, width), np.bool_) if loose is None else np.ascontiguousarray(loose)
    y, x = np.nonzero(hole)
    copied = picture[y + top + offsets[y, x, 1], x + left + offsets[y, x, 0]]
    most = (MOST * copied.mean(axis=0, dtype=np.float64)).astype(np.float32) if len(y) else np.zeros(3, np.float32)
    for channel in range(3):
        b = np.zeros(inside.shape, np.float32)
        part = np.empty((height, width), np.float32)
        _mismatch(picture, hole, offsets, free, channel, top, left, part, most[channel])
        b[window] = part
        out[..., channel] = domain.solve(b, tolerance)[window]
    return out


def membrane(values: Floats, hole: Bools) -> Floats:
    """The harmonic function in the hole of an (h, w) plane that equals values on the pixels round it."""
    padded = np.pad(hole, 1)
    inside = np.pad(np.ones(hole.shape, bool), 1)
    known = np.pad(np.where(hole, np.float32(0), values).astype(np.float32), 1)
    b = known[:-2, 1:-1] + known[2:, 1:-1] + known[1:-1, :-2] + known[1:-1, 2:]
    solved = Domain(padded, inside).solve(np.pad(b, 1))[1:-1, 1:-1]
    return np.where(hole, solved, values).astype(np.float32)
