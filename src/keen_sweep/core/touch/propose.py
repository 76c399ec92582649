"""Where a heal may copy from when nobody says so: ground near by that looks the same round the stroke."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.sentences import sentence
from keen_sweep.core.touch.dab import Source

DIRECTION_COUNT = 24
# Distances of the source in sizes of the stroke at right angles to it.
DISTANCE_RATIOS = (1.15, 1.6, 2.3, 3.2)
RING_WIDTH_PX = 3
MAX_POINTS = 1500


def propose(stroke: Stroke, pixels: Pixels, barred: Bools | None = None) -> Source:
    """Propose a source for a stroke.

    Of all places around, the one whose surroundings differ least after the mean difference is removed, and
    that is no busier inside than they are.

    Parameters
    ----------
    stroke : Stroke
        The stroke.
    pixels : (H, W, 3) uint8 or uint16
        The picture.
    barred : (H, W) bool or None, optional
        Pixels that must not be copied.

    Returns
    -------
    Source
        The source.

    Raises
    ------
    BadRequest
        The stroke lies outside the picture or there is no room around it.
    """
    picture = Box(x=0, y=0, width=pixels.shape[1], height=pixels.shape[0])
    box = stroke.box.grow(RING_WIDTH_PX, picture)
    hole = stroke.cover(box) > 0 if not box.empty else np.zeros((0, 0), np.bool_)
    if not hole.any():
        raise BadRequest(sentence("This stroke lies outside the picture."))
    ring = cv2.dilate(hole.astype(np.uint8), np.ones((2 * RING_WIDTH_PX + 1,) * 2, np.uint8)).astype(bool) & ~hole
    if not ring.any():
        raise BadRequest(sentence("There is nothing around this stroke to copy from."))
    around, inside = _points(ring, box), _points(hole, box)
    width = _width(hole)
    own_ring = pixels[around[:, 1], around[:, 0]].astype(np.float32)
    busy = own_ring.std(axis=0).mean() + 1e-3
    best: tuple[float, tuple[int, int]] | None = None
    for away in DISTANCE_RATIOS:
        for angle in np.arange(DIRECTION_COUNT) * (2 * np.pi / DIRECTION_COUNT):
            shift = np.rint([np.cos(angle) * away * width, np.sin(angle) * away * width]).astype(int)
            ring_there, inside_there = around + shift, inside + shift
            if not (_within(ring_there, picture) and _within(inside_there, picture)):
                continue
            if _share(inside_there, hole, box) > 0.1:
                continue
            if barred is not None and barred[inside_there[:, 1], inside_there[:, 0]].any():
                continue
            source_ring = pixels[ring_there[:, 1], ring_there[:, 0]].astype(np.float32)
            difference = source_ring - own_ring
            unlike = np.abs(difference - difference.mean(axis=0)).mean()
            busier = pixels[inside_there[:, 1], inside_there[:, 0]].astype(np.float32).std(axis=0).mean()
            cost = float(unlike + max(0.0, busier - 1.3 * busy)) * (1 + 0.02 * away)
            if best is None or cost < best[0]:
                best = cost, (int(shift[0]), int(shift[1]))
    if best is None:
        raise BadRequest(sentence("There is no suitable source nearby: set one, or make a smaller stroke."))
    x, y = stroke.points[0]
    return Source(at=(x + best[1][0], y + best[1][1]), to=(x, y))


def _points(where: Bools, box: Box) -> NDArray[np.intp]:
    """(n, 2): columns and rows in the picture, every so manieth."""
    rows, columns = np.nonzero(where)
    step = max(1, len(rows) // MAX_POINTS)
    return np.column_stack([columns[::step] + box.x, rows[::step] + box.y])


def _width(hole: Bools) -> float:
    """How wide the stroke is where it is widest, pixels."""
    distance = cv2.distanceTransform(np.pad(hole.astype(np.uint8), 1), cv2.DIST_L2, 3)
    return max(2 * float(distance.max()), 6.0)


def _within(points: NDArray[np.intp], picture: Box) -> bool:
    return bool((points >= 0).all() and (points < (picture.width, picture.height)).all())


def _share(points: NDArray[np.intp], hole: Bools, box: Box) -> float:
    """How much of a place lies under the stroke itself."""
    x, y = points[:, 0] - box.x, points[:, 1] - box.y
    inside = (x >= 0) & (y >= 0) & (x < box.width) & (y < box.height)
    return float(hole[y[inside], x[inside]].sum()) / len(points)
