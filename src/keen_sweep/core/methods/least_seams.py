"""One of several pictures for each place, so that where two meet they look alike.

Sequential tree-reweighted message passing (Kolmogorov 2006) on the grid of places. What a change from one picture to
another costs is how much they differ on both sides of it, as in graphcut textures (Kwatra et al. 2003).
"""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats

# Forward and backward passes: more change something only between solutions of nearly the same cost.
PASS_COUNT = 12
# Where a message comes from.
FROM_ABOVE, FROM_LEFT, FROM_BELOW, FROM_RIGHT = range(4)
MESSAGE_STEPS = ((-1, 0), (0, -1), (1, 0), (0, 1))


def least_seams(costs: Floats, shown: Floats, where: Bools, weight: float, change: float) -> NDArray[np.int32]:
    """Choose one of several pictures at each place so that the costs and the seams are cheapest.

    Parameters
    ----------
    costs : (n, h, w) float32
        Cost of taking each picture at each place.
    shown : (n, h, w, 3) float32
        What the pictures show, in units of the costs.
    where : (h, w) bool
        Places that are decided.
    weight : float
        Cost of a seam per unit of difference.
    change : float
        Cost of each change besides.

    Returns
    -------
    (h, w) int32
        Index of the picture taken; 0 where nothing is decided.
    """
    costs = np.ascontiguousarray(costs.transpose(1, 2, 0), np.float32)
    shown = np.ascontiguousarray(shown.transpose(1, 2, 0, 3), np.float32)
    differences, more = _apart(shown, where) * np.float32(weight / 2), np.float32(change)
    messages = np.zeros((4, *costs.shape), np.float32)
    taken = np.zeros(where.shape, np.int32)
    for _ in range(PASS_COUNT):
        _pass(costs, differences, where, more, messages, True)
        _pass(costs, differences, where, more, messages, False)
    _take(costs, differences, where, more, messages, taken)
    return taken


@numba.njit(cache=True, nogil=True)
def _apart(shown: Floats, where: Bools) -> Floats:
    """How much the pictures differ at each place, (h, w, n, n)."""
    height, width, count, _ = shown.shape
    out = np.zeros((height, width, count, count), np.float32)
    for y in range(height):
        for x in range(width):
            if not where[y, x]:
                continue
            for a in range(count):
                for b in range(a):
                    square = np.float32(0.0)
                    for k in range(3):
                        step = shown[y, x, a, k] - shown[y, x, b, k]
                        square += step * step
                    out[y, x, a, b] = out[y, x, b, a] = np.sqrt(square)
    return out


@numba.njit(cache=True, nogil=True)
def _counts(where: Bools, y: int, x: int, way: int) -> bool:
    """Whether there is a neighbour in a way."""
    v, u = y + MESSAGE_STEPS[way][0], x + MESSAGE_STEPS[way][1]
    return v >= 0 and v < where.shape[0] and u >= 0 and u < where.shape[1] and where[v, u]


@numba.njit(cache=True, nogil=True)
def _pass(costs: Floats, differences: Floats, where: Bools, change: np.float32, messages: Floats, forth: bool) -> None:
    """Tell the neighbours that come later what each picture at them costs, place by place; told (4, h, w, n)."""
    height, width, count = costs.shape
    whole = np.empty(count, np.float32)
    for row in range(height):
        y = row if forth else height - 1 - row
        for column in range(width):
            x = column if forth else width - 1 - column
            if not where[y, x]:
                continue
            earlier = _counts(where, y, x, FROM_ABOVE) + _counts(where, y, x, FROM_LEFT)
            later = _counts(where, y, x, FROM_BELOW) + _counts(where, y, x, FROM_RIGHT)
            share = np.float32(1.0 / max(earlier, later, 1))
            for a in range(count):
                whole[a] = share * (
                    costs[y, x, a]
                    + messages[0, y, x, a]
                    + messages[1, y, x, a]
                    + messages[2, y, x, a]
                    + messages[3, y, x, a]
                )
            for way in (FROM_BELOW, FROM_RIGHT) if forth else (FROM_ABOVE, FROM_LEFT):
                if not _counts(where, y, x, way):
                    continue
                v, u = y + MESSAGE_STEPS[way][0], x + MESSAGE_STEPS[way][1]
                back = (way + 2) % 4
                lowest = np.float32(np.inf)
                for b in range(count):
                    best = whole[b] - messages[way, y, x, b]
                    for a in range(count):
                        less = whole[a] - messages[way, y, x, a]
                        # What is dearer already without the seam is not looked at.
                        if a != b and less + change < best:
                            best = min(best, less + differences[y, x, a, b] + differences[v, u, a, b] + change)
                    messages[back, v, u, b] = best
                    lowest = min(lowest, best)
                for b in range(count):
                    messages[back, v, u, b] -= lowest


@numba.njit(cache=True, nogil=True)
def _take(
    costs: Floats, differences: Floats, where: Bools, change: np.float32, messages: Floats, taken: NDArray[np.int32]
) -> None:
    """Take a picture at each place, given those that were taken above and left of it."""
    height, width, count = costs.shape
    for y in range(height):
        for x in range(width):
            if not where[y, x]:
                continue
            least = np.float32(np.inf)
            for a in range(count):
                cost = costs[y, x, a] + messages[FROM_BELOW, y, x, a] + messages[FROM_RIGHT, y, x, a]
                for way in (FROM_ABOVE, FROM_LEFT):
                    if _counts(where, y, x, way):
                        v, u = y + MESSAGE_STEPS[way][0], x + MESSAGE_STEPS[way][1]
                        b = taken[v, u]
                        cost += (
                            differences[y, x, a, b] + differences[v, u, a, b] + (change if a != b else np.float32(0.0))
                        )
                if cost < least:
                    least, taken[y, x] = cost, a
