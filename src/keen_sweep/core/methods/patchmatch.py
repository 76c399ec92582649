"""The nearest-neighbour field: for each patch that touches the hole, the most similar patch to draw from.

PatchMatch (Barnes, Shechtman, Finkelstein, Goldman 2009): propagation along scan order, random search in windows that
halve. Distances are sums of squared differences of 16-bit features over a square patch; where a patch to be matched
leaves the picture, only what lies inside counts. To them comes what it costs to leave one setting for another.

What is to be filled and what is drawn from are two arrays: here (h, w, C), a window of the picture whose corner is at
(top, left), with the hole as it stands, and there (H, W, C), the picture. A field (h, w, 2) int32 holds rows and
columns of the picture; a cost (h, w) int32 is negative where nothing is to be matched.
"""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Features, Places
from keen_sweep.core.methods.setting import ContextFeatures, context_cost

NO_BOUND = 2**31 - 1


@numba.njit(cache=True, nogil=True, inline="always")
def _random(state: NDArray[np.uint64]) -> np.uint64:
    """xorshift64* (Vigna 2016), 32 bits at a time."""
    x = state[0]
    x ^= x >> np.uint64(12)
    x ^= x << np.uint64(25)
    x ^= x >> np.uint64(27)
    state[0] = x
    return np.uint64((x * np.uint64(2685821657736338717)) >> np.uint64(33))


@numba.njit(cache=True, nogil=True)
def distance(
    canvas: Features, features: Features, height: int, wide: int, width: int, channels: int,
    ty: int, tx: int, sy: int, sx: int, reach: int, limit: int,
) -> np.int32:  # fmt: skip
    """Squared distance of two patches of flat arrays.

    Unsigned positions save the compiler the test for negative indices, without which it cannot vectorise;
    neither can it where the row length is a constant or the sum has more than 32 bits.

    Parameters
    ----------
    canvas : flat int16
        The first array, (height, wide, channels).
    features : flat int16
        The second array, with `width` columns.
    height : int
        Rows of the first array.
    wide : int
        Columns of the first array.
    width : int
        Columns of the second array.
    channels : int
        Channels of both arrays.
    ty : int
        Row of the patch in the first array.
    tx : int
        Column of the patch in the first array.
    sy : int
        Row of the patch in the second array.
    sx : int
        Column of the patch in the second array.
    reach : int
        Radius of the patches, pixels.
    limit : int
        The sum may stop above this value.

    Returns
    -------
    np.int32
        The squared distance.
    """
    top, bottom = max(-reach, -ty), min(reach, height - 1 - ty)
    left, right = max(-reach, -tx), min(reach, wide - 1 - tx)
    total = np.int32(0)
    length = np.uint64(channels * (right - left + 1))
    for dy in range(top, bottom + 1):
        a = np.uint64(((ty + dy) * wide + tx + left) * channels)
        b = np.uint64(((sy + dy) * width + sx + left) * channels)
        for k in range(length):
            d = np.int16(canvas[a + np.uint64(k)] - features[b + np.uint64(k)])
            total = np.int32(total + np.int32(np.int32(d) * np.int32(d)))
        if total >= limit:
            return total
    return total


@numba.njit(cache=True, nogil=True)
def patch_distance(
    canvas: Features, features: Features, ty: int, tx: int, sy: int, sx: int, reach: int, limit: int
) -> np.int32:
    """Squared distance of two patches, see `distance`.

    Parameters
    ----------
    canvas : (h, w, C) int16
        The first array.
    features : (H, W, C) int16
        The second array.
    ty : int
        Row of the patch in the first array.
    tx : int
        Column of the patch in the first array.
    sy : int
        Row of the patch in the second array.
    sx : int
        Column of the patch in the second array.
    reach : int
        Radius of the patches, pixels.
    limit : int
        The sum may stop above this value.

    Returns
    -------
    np.int32
        The squared distance.
    """
    height, wide, channels = canvas.shape
    flat_here, flat_there = canvas.reshape(-1), features.reshape(-1)
    return distance(flat_here, flat_there, height, wide, features.shape[1], channels, ty, tx, sy, sx, reach, limit)


@numba.njit(cache=True, nogil=True)
def measure(
    canvas: Features,
    features: Features,
    targets: Places,
    field: Places,
    cost: Places,
    reach: int,
    setting: ContextFeatures,
) -> None:
    """Compute the cost of a match field at its targets.

    Parameters
    ----------
    canvas : (h, w, C) int16
        Features with the hole.
    features : (H, W, C) int16
        Features to copy from.
    targets : (n, 2) int32
        Rows and columns in `canvas`.
    field : (h, w, 2) int32
        Rows and columns in `features`.
    cost : (h, w) int32
        Filled in at the targets.
    reach : int
        Radius of the patches, pixels.
    setting : ContextFeatures
        Features of the context.
    """
    height, wide, channels = canvas.shape
    flat_here, flat_there, width = canvas.reshape(-1), features.reshape(-1), features.shape[1]
    for t in range(len(targets)):
        y, x = targets[t, 0], targets[t, 1]
        cost[y, x] = distance(
            flat_here, flat_there, height, wide, width, channels, y, x, field[y, x, 0], field[y, x, 1], reach, NO_BOUND
        ) + context_cost(setting, y, x, field[y, x, 0], field[y, x, 1])


@numba.njit(cache=True, nogil=True)
def scatter(targets: Places, sources: Places, field: Places, state: NDArray[np.uint64]) -> None:
    """Initialise a match field with random sources.

    Parameters
    ----------
    targets : (n, 2) int32
        Rows and columns of the field.
    sources : (m, 2) int32
        Rows and columns to choose from.
    field : (h, w, 2) int32
        Changed in place.
    state : (1,) uint64
        State of the random generator.
    """
    for t in range(len(targets)):
        s = _random(state) % np.uint64(len(sources))
        field[targets[t, 0], targets[t, 1], 0] = sources[s, 0]
        field[targets[t, 0], targets[t, 1], 1] = sources[s, 1]


@numba.njit(cache=True, nogil=True)
def search(
    canvas: Features,
    features: Features,
    allowed: Bools,
    targets: Places,
    field: Places,
    cost: Places,
    reach: int,
    passes: int,
    span: int,
    state: NDArray[np.uint64],
    setting: ContextFeatures,
) -> None:
    """Improve a match field in place by propagation and random search.

    Parameters
    ----------
    canvas : (h, w, C) int16
        Features with the hole.
    features : (H, W, C) int16
        Features to copy from.
    allowed : (H, W) bool
        Patch centres that may be used.
    targets : (n, 2) int32
        Rows and columns in `canvas`.
    field : (h, w, 2) int32
        A valid match for every target.
    cost : (h, w) int32
        Its cost; negative outside the targets.
    reach : int
        Radius of the patches, pixels.
    passes : int
        Number of passes, alternately forward and backward.
    span : int
        Radius of the random search, pixels.
    state : (1,) uint64
        State of the random generator.
    setting : ContextFeatures
        Features of the context.

    References
    ----------
    Barnes et al. 2009, "PatchMatch".
    """
    height, wide, channels = canvas.shape
    tall, width = allowed.shape
    flat_here, flat_there = canvas.reshape(-1), features.reshape(-1)
    for turn in range(passes):
        step = 1 if turn % 2 == 0 else -1
        count = len(targets)
        for i in range(count):
            t = i if step == 1 else count - 1 - i
            y, x = targets[t, 0], targets[t, 1]
            best_y, best_x, best = field[y, x, 0], field[y, x, 1], cost[y, x]
            for k in range(2):
                ny = y - step if k == 0 else y
                nx = x if k == 0 else x - step
                if not (0 <= ny < height and 0 <= nx < wide) or cost[ny, nx] < 0:
                    continue
                cy, cx = field[ny, nx, 0] + (y - ny), field[ny, nx, 1] + (x - nx)
                if not (0 <= cy < tall and 0 <= cx < width) or not allowed[cy, cx]:
                    continue
                if cy == best_y and cx == best_x:
                    continue
                d = context_cost(setting, y, x, cy, cx)
                if d < best:
                    d += distance(flat_here, flat_there, height, wide, width, channels, y, x, cy, cx, reach, best - d)
                if d < best:
                    best_y, best_x, best = cy, cx, d
            radius = span
            while radius >= 1 and best > 0:
                side = np.uint64(2 * radius + 1)
                cy = best_y - radius + np.int64(_random(state) % side)
                cx = best_x - radius + np.int64(_random(state) % side)
                radius //= 2
                if not (0 <= cy < tall and 0 <= cx < width) or not allowed[cy, cx]:
                    continue
                d = context_cost(setting, y, x, cy, cx)
                if d < best:
                    d += distance(flat_here, flat_there, height, wide, width, channels, y, x, cy, cx, reach, best - d)
                if d < best:
                    best_y, best_x, best = cy, cx, d
            field[y, x, 0], field[y, x, 1], cost[y, x] = best_y, best_x, best
