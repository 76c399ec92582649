"""The exact seam: a smooth correction that makes copied pixels meet their surroundings without a step.

Gradient-domain blending (Perez, Gangnet, Blake 2003), solved for the correction to the copy rather than for the
picture, so that copied detail stays as sharp as it was (solved by multigrid).
"""

from __future__ import annotations

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Labels, Pixels, Places
from keen_sweep.core.box import Box, whole
from keen_sweep.core.methods.multigrid import Domain
from keen_sweep.core.methods.steepness import SHARP_EDGE_SLOPE, steepness

# Two pieces of a copy that differ by more than this share of the copy's mean show an edge: smoothed away, it would
# glow far into both. A share, so that a brighter development is joined alike; of the brightest channel, because an
# edge in a channel near zero is invisible.
EDGE_SHARE = 0.4
# Height of an edge in focus that must occur near the source; otherwise the bound is raised in proportion.
EDGE_HEIGHT_SHARE = 0.5
# Below this share of the bound, a slope counts as flat.
MIN_STEEPNESS_SHARE = 1e-4
# The bound of EDGE_SHARE at the rim of the hole.
RIM_EDGE_SHARE = 0.7
# The bound at the rim as a multiple of the usual difference there; the larger of the two is used.
USUAL_RATIO = 3.0
# Radius within which large differences at the rim are counted, pixels.
CONTACT_RADIUS_PX = 8
# A thing touches the hole where large differences cover this share of the rim within that radius.
MIN_CONTACT_SHARE = 0.6
# Bits of a label that number a strip; those above number a cell.
STRIP_BITS = 16
STRIP_MASK = (1 << STRIP_BITS) - 1
# Numbers of strips from this on are images: turned or mirrored, so that what lies beside a source is told by its
# neighbours' sources.
IMAGE_BIT = 1 << (STRIP_BITS - 1)


@numba.njit(cache=True, nogil=True, inline="always")
def _held(step: np.float32, most: np.float32) -> np.float32:
    """A mismatch as it is up to a bound, and beyond it the less the larger it is."""
    return step if abs(step) <= most else most * (most / step)


@numba.njit(cache=True, nogil=True, inline="always")
def _beyond(hole: Bools, offsets: Places, pieces: Labels, i: int, j: int, di: int, dj: int) -> tuple[int, int]:
    """The step from a pixel's source to what the copy would have beside it: the same as in the picture, and in an image
    as its other neighbour tells."""
    oi, oj = i - di, j - dj
    if (
        pieces[i, j] & IMAGE_BIT != 0
        and 0 <= oi < hole.shape[0]
        and 0 <= oj < hole.shape[1]
        and hole[oi, oj]
        and pieces[oi, oj] == pieces[i, j]
    ):
        return di + offsets[i, j, 1] - offsets[oi, oj, 1], dj + offsets[i, j, 0] - offsets[oi, oj, 0]
    return di, dj


@numba.njit(cache=True, nogil=True)
def _mismatch(
    picture: Pixels, hole: Bools, offsets: Places, loose: Bools, channel: int, top: int, left: int, out: Floats,
    bounds: Floats, most: np.float32, usual: np.float32, separate: Bools, ending: Floats, pieces: Labels,
) -> None:  # fmt: skip
    """Right side: for each neighbour, the wanted slope less the slope of the copy (0 where offsets agree).

    hole, offsets, loose and out are windows of the picture with their corner at (top, left). At loose pixels the copy
    stands as it is beside what is known. Between pieces of the copy mismatches above the bounds (h, w) count less, and
    at the rim, where it stands apart, those that are farther than most from the usual one. Within a strip and
    where two cells meet the copy stands as it is.
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
                by, bx = _beyond(hole, offsets, pieces, i, j, di, dj)
                by, bx = y + oy + by, x + ox + bx
                beyond = (
                    np.float32(picture[by, bx, channel]) if (0 <= by < full_height and 0 <= bx < full_width) else copied
                )
                own = copied - beyond
                if not hole[i + di, j + dj]:
                    if loose[i, j]:
                        continue
                    step = np.float32(picture[qy, qx, channel]) - beyond
                    out[i, j] += usual + _held(step - usual, most) if separate[i, j] else step - ending[i, j]
                    continue
                py, px = offsets[i + di, j + dj, 1], offsets[i + di, j + dj, 0]
                if py == oy and px == ox:
                    continue
                strip, other = pieces[i, j] & STRIP_MASK, pieces[i + di, j + dj] & STRIP_MASK
                if strip != 0 and strip == other:
                    continue
                if pieces[i, j] >> STRIP_BITS != pieces[i + di, j + dj] >> STRIP_BITS:
                    continue
                beside = np.float32(picture[qy + py, qx + px, channel])
                back = (
                    np.float32(picture[y + py, x + px, channel])
                    if (0 <= y + py < full_height and 0 <= x + px < full_width)
                    else beside
                )
                bound = min(bounds[i, j], bounds[i + di, j + dj])
                out[i, j] += _held(0.5 * (own + back - beside) - (copied - beside), bound)


@numba.njit(cache=True, nogil=True)
def _rim_steps(
    picture: Pixels, hole: Bools, offsets: Places, loose: Bools, top: int, left: int, pieces: Labels
) -> tuple[Floats, Bools]:
    """What is known beside the hole less what the copy would have there, (h, w, 3) float32, means of a pixel's
    neighbours; and which pixels of the hole have such neighbours, (h, w)."""
    height, width = hole.shape
    steps = np.zeros((height, width, 3), np.float32)
    rim = np.zeros((height, width), np.bool_)
    for i in range(height):
        for j in range(width):
            if not hole[i, j] or loose[i, j]:
                continue
            count = 0
            for k in range(4):
                di = (-1, 1, 0, 0)[k]
                dj = (0, 0, -1, 1)[k]
                qy, qx = i + top + di, j + left + dj
                if not (0 <= qy < picture.shape[0] and 0 <= qx < picture.shape[1]) or hole[i + di, j + dj]:
                    continue
                sy, sx = _beyond(hole, offsets, pieces, i, j, di, dj)
                sy, sx = i + top + offsets[i, j, 1] + sy, j + left + offsets[i, j, 0] + sx
                if not (0 <= sy < picture.shape[0] and 0 <= sx < picture.shape[1]):
                    continue
                for c in range(3):
                    steps[i, j, c] += np.float32(picture[qy, qx, c]) - np.float32(picture[sy, sx, c])
                count += 1
            if count:
                rim[i, j] = True
                steps[i, j] /= count
    return steps, rim


def _standing_apart(steps: Floats, rim: Bools, usual: Floats, most: np.float32) -> Bools:
    """Where along the rim something else than what is copied lies beside the hole, on and on: a thing that the mask
    touches. A single edge that meets the hole is none."""
    off = np.abs(steps - usual)
    bound = np.maximum(RIM_EDGE_SHARE * most, USUAL_RATIO * np.median(off[rim], axis=0)) if rim.any() else most
    odd = (rim & (off > bound).any(axis=2)).astype(np.float32)
    near = (2 * CONTACT_RADIUS_PX + 1,) * 2
    rim_count = cv2.boxFilter(rim.astype(np.float32), -1, near, normalize=False, borderType=cv2.BORDER_CONSTANT)
    found = cv2.boxFilter(odd, -1, near, normalize=False, borderType=cv2.BORDER_CONSTANT)
    return np.asarray((odd > 0) & (found >= MIN_CONTACT_SHARE * rim_count))


def _bounds(
    picture: Pixels, hole: Bools, offsets: NDArray[np.int32], top: int, left: int, ground: Box
) -> tuple[np.float32, Floats]:
    """Above which mismatch pieces of a copy keep an edge: anywhere, and (h, w) by how steep edges are where each pixel
    is copied from."""
    y, x = np.nonzero(hole)
    copied = picture[y + top + offsets[y, x, 1], x + left + offsets[y, x, 0]]
    most = np.float32(EDGE_SHARE * copied.mean(axis=0, dtype=np.float64).max()) if len(y) else np.float32(0)
    steep = steepness(picture, hole, offsets, top, left, ground, CONTACT_RADIUS_PX)
    return most, most * np.maximum(
        1, EDGE_HEIGHT_SHARE * SHARP_EDGE_SLOPE * most / np.maximum(steep, MIN_STEEPNESS_SHARE * (most + 1))
    )


def correction(
    picture: Pixels,
    hole: Bools,
    offsets: NDArray[np.int32],
    top: int,
    left: int,
    tolerance: float = 1e-5,
    loose: Bools | None = None,
    own: Floats | None = None,
    ground: Box | None = None,
    pieces: Labels | None = None,
) -> Floats:
    """Correction that joins a copy smoothly to the rim of its hole.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture; its pixels in the hole are not read.
    hole : (h, w) bool
        The hole in a window, with a rim of known pixels except along the picture's edge.
    offsets : (h, w, 2) int32
        dx and dy from each pixel of the hole to its source.
    top : int
        Row of the window in the picture.
    left : int
        Column of the window in the picture.
    tolerance : float, optional
        Relative residual of the solver.
    loose : (h, w) bool or None, optional
        Pixels that need not match what is beside the hole, because it is of another kind.
    own : (h, w, 3) float32 or None, optional
        Part of the mismatch that must not be carried through the hole.
    ground : Box or None, optional
        Part of the picture in which edges are read; None for all of it.
    pieces : (h, w) int32 or None, optional
        Numbers of strips and cells. Bits below STRIP_BITS number strips, from 1: what belongs together although its
        offsets differ a little, such as a stretch that is copied round a bend; those from IMAGE_BIT on may be
        mirrored. Bits above them number cells: what meets there is to differ.

    Returns
    -------
    (h, w, 3) float32
        The correction in the picture's units.

    References
    ----------
    Pérez, Gangnet and Blake 2003, "Poisson image editing".
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
    labels = np.zeros((height, width), np.int32) if pieces is None else np.ascontiguousarray(pieces)
    most, bounds = _bounds(picture, hole, offsets, top, left, ground or whole(picture))
    rims = np.zeros((3, height, width), np.float32) if own is None else np.ascontiguousarray(np.moveaxis(own, 2, 0))
    steps, rim_there = _rim_steps(picture, hole, offsets, free, top, left, labels)
    usual = np.median(steps[rim_there], axis=0).astype(np.float32) if rim_there.any() else np.zeros(3, np.float32)
    separate = _standing_apart(steps, rim_there, usual, most)
    for channel in range(3):
        b = np.zeros(inside.shape, np.float32)
        part = np.empty((height, width), np.float32)
        _mismatch(
            picture, hole, offsets, free, channel, top, left, part, bounds,
            most, usual[channel], separate, rims[channel], labels,
        )  # fmt: skip
        b[window] = part
        out[..., channel] = domain.solve(b, tolerance)[window]
    return out


def membrane(values: Floats, hole: Bools) -> Floats:
    """Harmonic function in a hole that equals the values around it.

    Parameters
    ----------
    values : (h, w) float32
        Values outside the hole.
    hole : (h, w) bool
        The hole.

    Returns
    -------
    (h, w) float32
        The values, continued into the hole.
    """
    padded = np.pad(hole, 1)
    inside = np.pad(np.ones(hole.shape, bool), 1)
    known = np.pad(np.where(hole, np.float32(0), values).astype(np.float32), 1)
    b = known[:-2, 1:-1] + known[2:, 1:-1] + known[1:-1, :-2] + known[1:-1, 2:]
    solved = Domain(padded, inside).solve(np.pad(b, 1))[1:-1, 1:-1]
    return np.where(hole, solved, values).astype(np.float32)
