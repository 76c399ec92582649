"""Incoherent places of a weave, copied in larger pieces.

Where votes never agreed, neighbouring pixels come from unlike places, and joining them evens out nearly all of their
differences: a blurred cloud is left. There a few offsets that many pixels of the neighbourhood have take over, with the
cheapest seams between them (shift maps: Pritch, Kav-Venaki & Peleg 2009; He & Sun 2012).
"""

from __future__ import annotations

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Labels
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.weave.compositing import copy_along
from keen_sweep.core.methods.least_seams import least_seams

# Share of neighbours that come from unlike places, over which a place counts as incoherent.
INCOHERENT_SHARE = 0.25
# Standard deviation of the mean that takes, pixels.
SHARE_SIGMA_PX = 5.0
# Smaller incoherent places are left as they are, pixels.
MIN_PLACE_AREA_PX = 150
# Width of the ring around an incoherent place that keeps its sources and that pieces must join, pixels.
RING_PX = 4
# Offsets that compete.
MAX_OFFSETS = 12
# Offsets that are closer than this are one, pixels.
MIN_OFFSET_DISTANCE_PX = 2
# Distance from a place from which offsets are taken too, share of its longer side.
NEIGHBOURHOOD_SHARE = 0.5
# Blocks of pixels on which pieces are cut, all places of a hole together.
MAX_BLOCKS = 6_000
# Cost of a pixel that stays as it is, per share of unlike neighbours above INCOHERENT_SHARE, units of L*a*b*.
UNLIKE_COST = 40.0
# Cost of a pixel that changes its source, units of L*a*b*.
CHANGE_COST = 3.0
# Weight of the difference from the blurred fill.
LIKENESS_WEIGHT = 0.35
# Standard deviation of that blur, pixels.
BLUR_SIGMA_PX = 2.0
# Cost of what must not be, units of L*a*b*.
FORBIDDEN_COST = 1e5
SEAM_WEIGHT = 1.0
SEAM_CHANGE_COST = 1.0


def unlike_share(hole: Bools, offsets: NDArray[np.int32]) -> Floats:
    """Share of neighbours that come from another place than beside a pixel's own source.

    Parameters
    ----------
    hole : (h, w) bool
        The hole.
    offsets : (h, w, 2) int32
        dx and dy to the source of each pixel.

    Returns
    -------
    (h, w) float32
        The share, averaged over some pixels, 0 to 1; 0 outside of the hole.
    """
    differ, pairs = np.zeros(hole.shape, np.float32), np.zeros(hole.shape, np.float32)
    for first, second in (
        ((slice(None), slice(1, None)), (slice(None), slice(None, -1))),
        ((slice(1, None), slice(None)), (slice(None, -1), slice(None))),
    ):
        both = hole[first] & hole[second]
        unlike = both & (offsets[first] != offsets[second]).any(axis=2)
        for side in (first, second):
            differ[side] += unlike
            pairs[side] += both
    mean = cv2.GaussianBlur(differ, (0, 0), SHARE_SIGMA_PX)
    of = cv2.GaussianBlur(pairs, (0, 0), SHARE_SIGMA_PX)
    return np.where(hole, mean / np.maximum(of, 1e-3), np.float32(0))


def in_larger_pieces(
    colours: Floats, hole: Bools, offsets: NDArray[np.int32], allowed: Bools, corner: tuple[int, int], fixed: Bools
) -> NDArray[np.int32]:
    """Replace the sources of incoherent places by few larger pieces.

    Parameters
    ----------
    colours : (H, W, 3) float32
        L*a*b* of the picture.
    hole : (h, w) bool
        The hole in its window.
    offsets : (h, w, 2) int32
        dx and dy to the source of each pixel.
    allowed : (H, W) bool
        Pixels that may be copied.
    corner : tuple of int
        Row and column of the window in the picture.
    fixed : (h, w) bool
        Pixels that keep their sources.

    Returns
    -------
    (h, w, 2) int32
        The offsets; the same array where no place is incoherent.
    """
    share = unlike_share(hole, offsets)
    places = _places(share, hole & ~fixed)
    if not places:
        return offsets
    out = offsets.copy()
    step = int(np.ceil(np.sqrt(sum(int(place.sum()) for place in places) / MAX_BLOCKS)))
    for place in places:
        _cut(colours, hole, out, allowed, corner, fixed, share, place, step)
    return out


def _places(share: Floats, free: Bools) -> list[Bools]:
    """Incoherent places that are large enough, with some room around them."""
    odd = cv2.dilate((share > INCOHERENT_SHARE).astype(np.uint8), np.ones((2 * RING_PX + 1,) * 2, np.uint8))
    count, labels = cv2.connectedComponents(odd & free.astype(np.uint8))
    areas = np.bincount(labels[share > INCOHERENT_SHARE], minlength=count)
    return [labels == label for label in range(1, count) if areas[label] >= MIN_PLACE_AREA_PX]


def _cut(
    colours: Floats, hole: Bools, offsets: NDArray[np.int32], allowed: Bools, corner: tuple[int, int], fixed: Bools,
    share: Floats, place: Bools, step: int,
) -> None:  # fmt: skip
    """Cut one place into pieces; its offsets change in place."""
    box = box_of(place)
    reach = int(NEIGHBOURHOOD_SHARE * max(box.width, box.height))
    near = box.grow(reach, whole(hole)).slices
    candidates = _frequent(offsets[near][hole[near]])
    if not len(candidates):
        return
    around = box.grow(RING_PX * step, whole(hole))
    window, top, left = around.slices, around.y + corner[0], around.x + corner[1]
    # One layout each, so that each kernel is compiled once.
    inside, own_offsets = np.ascontiguousarray(hole[window]), np.ascontiguousarray(offsets[window])
    free = np.ascontiguousarray(place[window] & ~fixed[window])
    own = colours[top : top + around.height, left : left + around.width].copy()
    copied = copy_along(colours, inside, own_offsets, top, left)
    own[inside] = copied[inside]
    blurred = np.asarray(cv2.GaussianBlur(own, (0, 0), BLUR_SIGMA_PX), np.float32)
    stay = UNLIKE_COST * np.maximum(share[window] - INCOHERENT_SHARE, 0)
    costs, shown = _costs(colours, inside, free, allowed, own, blurred, stay, candidates, top, left, step)
    near_place = cv2.dilate(place[window].astype(np.uint8), np.ones((2 * RING_PX * step + 1,) * 2, np.uint8)) > 0
    where = np.ascontiguousarray((near_place & inside)[::step, ::step])
    taken = least_seams(costs, shown, where, SEAM_WEIGHT, SEAM_CHANGE_COST)
    wide = taken.repeat(step, 0).repeat(step, 1)[: around.height, : around.width]
    rows, columns = np.nonzero((wide > 0) & free)
    moves = candidates[wide[rows, columns] - 1]
    v, u = rows + top + moves[:, 1], columns + left + moves[:, 0]
    good = (v >= 0) & (u >= 0) & (v < allowed.shape[0]) & (u < allowed.shape[1])
    good[good] = allowed[v[good], u[good]]
    offsets[window][rows[good], columns[good]] = moves[good]


def _frequent(offsets: NDArray[np.int32]) -> NDArray[np.int32]:
    """The offsets (n, 2) that occur most often, none close to another."""
    # Sorted as single numbers, many times faster than as pairs.
    packed, counts = np.unique((offsets[:, 1].astype(np.int64) << 32) + offsets[:, 0], return_counts=True)
    packed = packed[np.argsort(-counts, kind="stable")]
    found = np.stack([(packed << 32) >> 32, (packed + (1 << 31)) >> 32], 1).astype(np.int32)
    chosen: list[NDArray[np.int32]] = []
    for each in found:
        if all(np.abs(each - other).max() >= MIN_OFFSET_DISTANCE_PX for other in chosen):
            chosen.append(each)
        if len(chosen) == MAX_OFFSETS:
            break
    return np.array(chosen, np.int32).reshape(-1, 2)


@numba.njit(cache=True, nogil=True)
def _rim_cost(colours: Floats, hole: Bools, own: Floats, i: int, j: int, v: int, u: int) -> np.float32:
    """How much what is beside the hole at (i, j) differs from what is beside a source at (v, u), units of L*a*b*."""
    cost = np.float32(0.0)
    for di, dj in ((-1, 0), (1, 0), (0, -1), (0, 1)):
        p, q, y, x = i + di, j + dj, v + di, u + dj
        if not (0 <= p < hole.shape[0] and 0 <= q < hole.shape[1]) or hole[p, q]:
            continue
        if 0 <= y < colours.shape[0] and 0 <= x < colours.shape[1]:
            for c in range(3):
                cost += abs(colours[y, x, c] - own[p, q, c])
    return cost


@numba.njit(cache=True, nogil=True)
def _costs(
    colours: Floats, hole: Bools, free: Bools, allowed: Bools, own: Floats, blurred: Floats, stay: Floats,
    candidates: Labels, top: int, left: int, step: int,
) -> tuple[Floats, Floats]:  # fmt: skip
    """Costs (1 + n, y, x) and colours (1 + n, y, x, 3) of each block of pixels as it is and along each candidate."""
    height, width = hole.shape
    count = len(candidates)
    tall, wide = -(-height // step), -(-width // step)
    costs = np.zeros((1 + count, tall, wide), np.float32)
    shown = np.zeros((1 + count, tall, wide, 3), np.float32)
    pixels = np.zeros((tall, wide), np.float32)
    for i in range(height):
        for j in range(width):
            if not hole[i, j]:
                continue
            y, x = i // step, j // step
            pixels[y, x] += 1
            costs[0, y, x] += stay[i, j]
            for c in range(3):
                shown[0, y, x, c] += own[i, j, c]
            for k in range(count):
                v, u = i + top + candidates[k, 1], j + left + candidates[k, 0]
                if not (0 <= v < allowed.shape[0] and 0 <= u < allowed.shape[1]):
                    costs[1 + k, y, x] += FORBIDDEN_COST
                    continue
                if not free[i, j] or not allowed[v, u]:
                    costs[1 + k, y, x] += FORBIDDEN_COST
                costs[1 + k, y, x] += CHANGE_COST
                for c in range(3):
                    shown[1 + k, y, x, c] += colours[v, u, c]
                    costs[1 + k, y, x] += LIKENESS_WEIGHT * abs(colours[v, u, c] - blurred[i, j, c])
                costs[1 + k, y, x] += _rim_cost(colours, hole, own, i, j, v, u)
    pixels = np.maximum(pixels, np.float32(1))
    return (costs / pixels).astype(np.float32), (shown / pixels[:, :, None]).astype(np.float32)
