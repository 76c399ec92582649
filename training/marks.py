"""Marks over a thing as a careless hand makes them, and boxes as a detector gives them: for training pictures."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray
from things import Bytes, Random

from keen_sweep.core.mask.mark_kind import How


def scribble(random: Random, truth: NDArray[np.bool_]) -> Bytes:
    """A few strokes over a thing, some of them beside it, (h, w) of 0 and 1."""
    rows, columns = np.nonzero(truth)
    if random.random() < 0.5:
        return _zigzag(random, truth)
    best = truth.astype(np.uint8)
    depth = cv2.distanceTransform(np.pad(truth.astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    goal = random.uniform(0.12, 0.65)
    miss = np.inf
    upright = np.ptp(rows) >= np.ptp(columns)
    for _ in range(6):
        many = int(random.integers(2, 12))
        at = np.sort(random.integers(0, len(rows), many)) if upright else random.integers(0, len(rows), many)
        if not upright:
            at = at[np.argsort(columns[at])]
        spread = random.normal(0, 0.25 * max(float(depth.max()), 2), (many, 2))
        points = np.stack([columns[at], rows[at]], 1) + spread
        size = max(float(depth.max()) * np.exp(random.uniform(np.log(0.3), np.log(1.6))), 2.0)
        mark = np.zeros(truth.shape, np.uint8)
        cv2.polylines(mark, [points.astype(np.int32)], False, 1, max(round(size), 1))
        inside = mark[truth].sum()
        covered, stray = inside / truth.sum(), 1 - inside / max(int(mark.sum()), 1)
        off = abs(covered - goal) + 2 * max(stray - 0.2, 0)
        if inside and off < miss:
            best, miss = mark, off
    return best


def _zigzag(random: Random, truth: NDArray[np.bool_]) -> Bytes:
    """One stroke to and fro along a thing."""
    upright = np.ptp(np.nonzero(truth.any(1))) >= np.ptp(np.nonzero(truth.any(0)))
    rows = truth if upright else truth.T
    depth = float(cv2.distanceTransform(np.pad(truth.astype(np.uint8), 1), cv2.DIST_L2, 3).max())
    held = np.flatnonzero(rows.any(1))
    goal, best, miss = random.uniform(0.15, 0.65), truth.astype(np.uint8), np.inf
    for _ in range(6):
        turns = int(random.integers(1, 14))
        along = np.clip((np.arange(turns + 1) + random.uniform(-0.3, 0.3, turns + 1)) / turns, 0.02, 0.98)
        size = max(depth * random.uniform(0.35, 1.5), 1.5)
        points = []
        for k, share in enumerate(along):
            at = held[int(share * (len(held) - 1))]
            across = np.flatnonzero(rows[at])
            end = across[0] + 0.35 * size if k % 2 else across[-1] - 0.35 * size
            points.append((end + random.normal(0, 0.12) * np.ptp(across), at))
        mark = np.zeros(rows.shape, np.uint8)
        cv2.polylines(mark, [np.rint(np.array(points)).astype(np.int32)], False, 1, max(round(size), 1))
        inside = int(mark[rows].sum())
        off = abs(inside / rows.sum() - goal) + 2 * abs(1 - inside / max(int(mark.sum()), 1) - 0.12)
        if inside and off < miss:
            best, miss = mark if upright else np.ascontiguousarray(mark.T), off
    return best


def through(random: Random, truth: NDArray[np.bool_]) -> Bytes:
    """One stroke along the middle of a thing."""
    upright = np.ptp(np.nonzero(truth.any(1))) >= np.ptp(np.nonzero(truth.any(0)))
    rows = truth if upright else truth.T
    depth = cv2.distanceTransform(np.pad(rows.astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    held = np.flatnonzero(rows.any(1))
    low, high = random.uniform(0.02, 0.3), random.uniform(0.7, 0.98)
    at = held[(np.linspace(low, high, int(random.integers(2, 6))) * (len(held) - 1)).astype(int)]
    points = np.array([(int(depth[y].argmax()), y) for y in at])
    points = points + random.normal(0, 0.15 * max(float(depth.max()), 2), points.shape)
    mark = np.zeros(rows.shape, np.uint8)
    thick = max(float(depth.max()) * np.exp(random.uniform(np.log(0.15), np.log(0.9))), 1.5)
    cv2.polylines(mark, [np.rint(points).astype(np.int32)], False, 1, max(round(thick), 1))
    return mark if upright else np.ascontiguousarray(mark.T)


def dot(random: Random, truth: NDArray[np.bool_]) -> Bytes:
    """One dab somewhere on a thing, more often near its middle."""
    depth = cv2.distanceTransform(np.pad(truth.astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    likely = (depth / max(float(depth.max()), 1e-6)).ravel() ** 2
    y, x = divmod(int(random.choice(likely.size, p=likely / likely.sum())), truth.shape[1])
    mark = np.zeros(truth.shape, np.uint8)
    cv2.circle(mark, (x, y), max(round(float(depth.max()) * random.uniform(0.2, 0.8)), 1), 1, -1)
    return mark


def box_about(random: Random, truth: NDArray[np.bool_]) -> Bytes:
    """What a box that a detector gives round a thing holds, (h, w) of 0 and 1: every side off by itself."""
    rows, columns = np.flatnonzero(truth.any(1)), np.flatnonzero(truth.any(0))
    tall, wide = np.ptp(rows) + 1, np.ptp(columns) + 1
    top, low = rows[0] - random.uniform(-0.02, 0.12) * tall, rows[-1] + 1 + random.uniform(-0.02, 0.12) * tall
    left, right = columns[0] - random.uniform(-0.02, 0.12) * wide, columns[-1] + 1 + random.uniform(-0.02, 0.12) * wide
    mark = np.zeros(truth.shape, np.uint8)
    mark[max(round(top), 0) : round(low), max(round(left), 0) : round(right)] = 1
    return mark


def outline(random: Random, truth: NDArray[np.bool_]) -> Bytes:
    """What a loose outline round a thing holds, (h, w) of 0 and 1."""
    rows, columns = np.nonzero(truth)
    hull = cv2.convexHull(np.stack([columns, rows], 1).astype(np.int32))[:, 0].astype(np.float64)
    closed = np.vstack([hull, hull[:1]])
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    at = np.linspace(0, along[-1], 32, endpoint=False)
    ring = np.stack([np.interp(at, along, closed[:, k]) for k in range(2)], 1)
    middle = ring.mean(0)
    out = (ring - middle) / np.maximum(np.hypot(*(ring - middle).T), 1)[:, None]
    room = random.uniform(0.02, random.uniform(0.06, 0.22), 32) * np.sqrt(truth.sum())
    room = cv2.blur(np.tile(room, 3)[:, None], (1, 3))[32:64, 0]
    mark = np.zeros(truth.shape, np.uint8)
    cv2.fillPoly(mark, [np.rint(ring + out * room[:, None]).astype(np.int32)], 1)
    return mark


# The kinds of marks, each with how often it is made.
Maker = Callable[[Random, NDArray[np.bool_]], Bytes]
OFTEN: dict[Maker, tuple[How, int]] = {
    scribble: ("scribble", 4),
    through: ("scribble", 2),
    dot: ("scribble", 1),
    outline: ("outline", 2),
    box_about: ("outline", 1),
}
MAKERS = tuple((how, maker) for maker, (how, often) in OFTEN.items() for _ in range(often))
