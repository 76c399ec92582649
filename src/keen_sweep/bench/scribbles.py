"""Things with exact truth, and marks over them as a careless hand makes them: what cling is measured on."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np

from keen_sweep.bench.cases import package_picture
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.parts import parts_of
from keen_sweep.core.mask.shape import Shape, mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.demo.shoot import clean_twin, distractions, frames
from keen_sweep.demo.shoot import mask_of as demo_mask

MIN_THING_PIXELS = 600
COMPACT_KINDS = ("person", "thing", "litter", "pole", "backdrop clutter")
GAPPY_THINGS = ("bicycle", "cross bar", "fallen leaves")
REPEATED_FRAMES = ("ov-0414", "ov-0415", "ov-0522", "ov-0523", "ov-0524", "ov-0525")
COVERED_RANGE = (0.2, 0.6)
STRAY_SHARE = 0.15


@dataclass(frozen=True)
class Thing:
    """A picture (H, W, 3) uint8, and the truth (H, W) bool of one thing in it."""

    name: str
    kind: str
    picture: EightBit
    truth: Bools


def things() -> Iterator[Thing]:
    """The demo shoot's compact things, and every third coin on a tray (scikit-image).

    Left out: wires, hoses and bars, and a bicycle, whose mask is mostly gaps: a scribble over them is mostly
    beside them. Of five studio frames with the same clutter one stands for all, of a burst the first frame.
    """
    for frame in frames():
        if frame in REPEATED_FRAMES:
            continue
        for entry in distractions(frame):
            if entry.part != "object" or entry.kind not in COMPACT_KINDS or entry.name in GAPPY_THINGS:
                continue
            truth = demo_mask(frame, entry) > 127
            if truth.sum() >= MIN_THING_PIXELS:
                yield Thing(f"{frame} {entry.name}", entry.kind, clean_twin(frame)[0], truth)
    coins = package_picture("coins.png")
    for number, part in enumerate(_coins()[::3]):
        truth = np.zeros(coins.shape[:2], bool)
        truth[part.slices] = True
        yield Thing(f"coin {3 * number + 1}", "coin", coins, truth & _coin_mask())


@cache
def _coin_mask() -> Bools:
    """Coins by watershed on the slope, from markers by tone: the way of scikit-image's own gallery."""
    from scipy import ndimage
    from skimage.filters import sobel
    from skimage.segmentation import watershed

    grey = package_picture("coins.png")[..., 0]
    markers = np.zeros(grey.shape, np.int32)
    markers[grey < 30], markers[grey > 150] = 1, 2
    return np.asarray(ndimage.binary_fill_holes(watershed(sobel(grey), markers) == 2))


def _coins() -> list[Box]:
    mask = _coin_mask().astype(np.uint8)
    return [part.box for part in parts_of(mask) if 600 < part.area < 5000]


def scribble_over(truth: Bools, random: np.random.Generator) -> Stroke:
    """A zigzag that covers 20 to 60 % of a thing, with about 15 % of itself beside it."""
    box = box_of(truth)
    inside = truth[box.slices]
    depth = cv2.distanceTransform(np.pad(inside.astype(np.uint8), 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
    goal = random.uniform(*COVERED_RANGE)
    best: tuple[float, Stroke] | None = None
    for size in np.geomspace(1.2, 0.35, 9) * max(float(depth.max()), 2.0):
        for turns in (2, 3, 4, 5, 6, 8, 10, 13):
            stroke = _zigzag(inside, box, float(max(size, 2.0)), turns, random)
            window = stroke.box.intersect(whole(truth))
            cover = stroke.cover(window) > 0
            hit = int((cover & truth[window.slices]).sum())
            covered, stray = hit / inside.sum(), 1 - hit / max(int(cover.sum()), 1)
            miss = (
                abs(covered - goal)
                + 2 * abs(stray - STRAY_SHARE)
                + 10 * max(COVERED_RANGE[0] - covered, covered - COVERED_RANGE[1], 0)
            )
            if best is None or miss < best[0]:
                best = miss, stroke
    assert best is not None
    return best[1]


def _zigzag(inside: Bools, box: Box, size: float, turns: int, random: np.random.Generator) -> Stroke:
    upright = box.height >= box.width
    rows = inside if upright else inside.T
    points = []
    for k in range(turns + 1):
        along = np.clip(0.06 + 0.88 * k / turns + random.uniform(-0.3, 0.3) / (turns + 1), 0.03, 0.97)
        at = int(along * rows.shape[0])
        across = np.flatnonzero(rows[at])
        if not across.size:
            continue
        low, high = float(across[0]), float(across[-1] + 1)
        spare = size * 0.35
        goal = (low + spare if k % 2 else high - spare) + random.normal() * 0.12 * (high - low)
        points.append((box.x + goal, box.y + at + 0.5) if upright else (box.x + at + 0.5, box.y + goal))
    if len(points) < 2:
        points = [(box.x + box.width * 0.3, box.y + box.height / 2), (box.x + box.width * 0.7, box.y + box.height / 2)]
    return Stroke(points=tuple(points), size=size)


def outline_round(truth: Bools, random: np.random.Generator) -> Outline:
    """A loose outline: the thing's hull with room of 4 to 14 % of its size, uneven."""
    rows, columns = np.nonzero(truth)
    hull = cv2.convexHull(np.stack([columns, rows], 1).astype(np.int32))[:, 0].astype(np.float64) + 0.5
    closed = np.vstack([hull, hull[:1]])
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    at = np.linspace(0, along[-1], 40, endpoint=False)
    ring = np.stack([np.interp(at, along, closed[:, k]) for k in range(2)], 1)
    middle = ring.mean(0)
    out = (ring - middle) / np.maximum(np.hypot(*(ring - middle).T), 1)[:, None]
    room = random.uniform(0.04, 0.14, len(ring)) * np.sqrt(truth.sum())
    room = cv2.blur(np.tile(room, 3)[:, None], (1, 3))[len(ring) : 2 * len(ring), 0]
    return Outline(points=tuple(map(tuple, np.round(ring + out * room[:, None], 2).tolist())))


def box_round(truth: Bools, random: np.random.Generator) -> Outline:
    """A box round a thing as a detector gives it: each side off by up to 5 % of the thing's size, more often out than
    in."""
    box = box_of(truth)
    left, right = (np.array([-0.05, 0.05]) + random.uniform(-0.05, 0.05, 2)) * box.width
    up, down = (np.array([-0.05, 0.05]) + random.uniform(-0.05, 0.05, 2)) * box.height
    x = (box.x + left, box.right + right)
    y = (box.y + up, box.bottom + down)
    return Outline(points=((x[0], y[0]), (x[1], y[0]), (x[1], y[1]), (x[0], y[1])))


def hull_of(shape: Shape, picture: Box) -> Bools:
    """The convex hull of what a shape covers, at the picture's size."""
    mask = mask_of([shape], picture)
    rows, columns = np.nonzero(mask.pixels)
    hull = cv2.convexHull(np.stack([columns + mask.box.x, rows + mask.box.y], 1).astype(np.int32))
    out = np.zeros((picture.height, picture.width), np.uint8)
    cv2.fillConvexPoly(out, hull, 1)
    return out.astype(bool)
