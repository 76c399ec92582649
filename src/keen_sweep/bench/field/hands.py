"""Hands that mark a thing in a hurry, and that put right what a mask got wrong."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.bench.scribbles import box_round, outline_round, scribble_over
from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.box import box_of
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke

Random = np.random.Generator
Shape = Stroke | Outline
# A click is a dab of this width, share of the picture's longer side.
CLICK_SHARE = 0.012


def through(truth: Bools, random: Random) -> Stroke:
    """One stroke along the middle of a thing, from a tenth of its length to nine tenths, a little unsteady."""
    box = box_of(truth)
    upright = box.height >= box.width
    inside = truth[box.slices] if upright else truth[box.slices].T
    depth = _depth(inside)
    low, high = random.uniform(0.04, 0.2), random.uniform(0.8, 0.96)
    points = []
    for share in np.linspace(low, high, 6):
        y = int(share * (inside.shape[0] - 1))
        x = float(depth[y].argmax()) + 0.5 + random.normal(0, 0.1) * float(depth[y].max())
        points.append((box.x + x, box.y + y + 0.5) if upright else (box.x + y + 0.5, box.y + x))
    size = max(float(depth.max()) * random.uniform(0.4, 0.8), 2.0)
    return Stroke(points=tuple(points), size=size)


def click(truth: Bools, random: Random) -> Stroke:
    """One dab well inside a thing."""
    depth = _depth(truth)
    rows, columns = np.nonzero(depth >= 0.6 * depth.max())
    at = int(random.integers(len(rows)))
    return Stroke(points=((columns[at] + 0.5, rows[at] + 0.5),), size=max(CLICK_SHARE * max(truth.shape), 2.0))


def correction(wrong: Bools) -> Stroke:
    """A stroke along the largest part of what is wrong, as wide as that is."""
    labels, stats = cv2.connectedComponentsWithStats(wrong.astype(np.uint8), connectivity=8)[1:3]
    part = labels == 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())
    box = box_of(part)
    upright = box.height >= box.width
    inside = part[box.slices] if upright else part[box.slices].T
    depth = _depth(inside)
    points = []
    for y in np.unique(np.linspace(0.05, 0.95, 8) * (inside.shape[0] - 1)).astype(int):
        x = float(depth[y].argmax()) + 0.5
        points.append((box.x + x, box.y + y + 0.5) if upright else (box.x + y + 0.5, box.y + x))
    return Stroke(points=tuple(points), size=max(1.6 * float(depth.max()), 2.0))


GESTURES_BY_HAND: dict[str, tuple[How, Callable[[Bools, Random], Shape]]] = {
    "zigzag": ("scribble", scribble_over),
    "stroke": ("scribble", through),
    "outline": ("outline", outline_round),
    "box": ("outline", box_round),
    "click": ("click", click),
}


def _depth(inside: Bools) -> Floats:
    padded = np.pad(inside.astype(np.uint8), 1)
    return np.asarray(cv2.distanceTransform(padded, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)[1:-1, 1:-1], np.float32)
