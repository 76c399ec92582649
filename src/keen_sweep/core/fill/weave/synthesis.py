"""One weave of one part: from the coarsest scale to a field of offsets at full resolution."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.fill.protocol import Quality
from keen_sweep.core.fill.seam import correction
from keen_sweep.core.fill.weave.nearest import measure, scatter, search
from keen_sweep.core.fill.weave.scene import REACH, Level, Scene, hole_window
from keen_sweep.core.fill.weave.start import peel_inwards
from keen_sweep.core.fill.weave.vote import vote

Field = NDArray[np.int32]
Cost = NDArray[np.int32]
# Rounds of search-and-vote at the coarsest level, between, and at full resolution.
ROUNDS: dict[Quality, tuple[int, int, int]] = {"fast": (6, 2, 1), "fine": (12, 4, 1)}


@dataclass(frozen=True)
class Woven:
    """Filled pixels (h, w, 3) float32 of a window of the picture, hole (h, w) there, offsets, and the energy."""

    window: Box
    hole: NDArray[np.bool_]
    pixels: NDArray[np.float32]
    offsets: NDArray[np.int32]
    energy: float


def weave(scene: Scene, seed: int, quality: Quality, tick: Callable[[float], None]) -> Woven:
    """Fill a scene. The same scene, seed and quality give the same result to the bit.

    tick is called with the share done, 0 to 1, and may raise to stop the work.
    """
    state = np.array([(seed * 2 + 1) * 0x9E3779B97F4A7C15 % 2**64], np.uint64)
    first, between, last = ROUNDS[quality]
    coarsest = len(scene.levels) - 1
    total = sum(level.hole.sum() for level in scene.levels) * 1.3
    done = 0.0
    features = field = cost = None
    for number in range(coarsest, -1, -1):
        level = scene.levels[number]
        features = level.features.copy()
        if field is None:
            field = _first_guess(level, features, state)
            rounds = first
        else:
            field = _finer(field, level, state)
            rounds = between if number else last
        cost = np.full(level.hole.shape, -1, np.int32)
        # A level that starts from a coarser one knows its matches but not yet its pixels: vote them in.
        cost[tuple(level.targets.T)] = 0
        vote(features, level.hole, level.targets, field, cost, REACH, 1.0)
        span = max(level.hole.shape) if number == coarsest else max(max(level.hole.shape) // 8, 8)
        for turn in range(rounds):
            measure(features, level.targets, field, cost, REACH)
            search(features, level.allowed, level.targets, field, cost, REACH, 2, span, state)
            tick((done + level.hole.sum() * (turn + 1) / rounds) / total)
            if number or turn + 1 < rounds:
                vote(features, level.hole, level.targets, field, cost, REACH, _spread(cost, level))
        done += level.hole.sum()
    assert field is not None
    assert cost is not None
    woven = _lay(scene, field, _energy(cost, scene.levels[0]))
    tick(1.0)
    return woven


def _first_guess(level: Level, features: NDArray[np.uint8], state: NDArray[np.uint64]) -> Field:
    field = np.zeros((*level.hole.shape, 2), np.int32)
    scatter(level.targets, level.sources, field, state)
    framed = np.pad(level.hole.astype(np.uint8), 1, mode="edge")
    depth = cv2.distanceTransform(framed, cv2.DIST_L1, 3)[1:-1, 1:-1]
    inside = np.argwhere(level.hole)
    layers = inside[np.argsort(depth[tuple(inside.T)], kind="stable")].astype(np.int32)
    peel_inwards(features, ~level.hole, layers, level.sources, field, REACH, state)
    return field


def _finer(field: Field, level: Level, state: NDArray[np.uint64]) -> Field:
    """Matches of a coarser level, doubled; those that are not allowed here start at random."""
    height, width = level.hole.shape
    fine = np.zeros((height, width, 2), np.int32)
    scatter(level.targets, level.sources, fine, state)
    y, x = level.targets.T
    coarse = field[y // 2, x // 2]
    candidate = 2 * coarse + np.stack([y % 2, x % 2], axis=1)
    candidate[:, 0] = np.clip(candidate[:, 0], 0, height - 1)
    candidate[:, 1] = np.clip(candidate[:, 1], 0, width - 1)
    good = level.allowed[tuple(candidate.T)]
    fine[y[good], x[good]] = candidate[good]
    return fine


def _spread(cost: Cost, level: Level) -> float:
    return max(float(np.percentile(cost[tuple(level.targets.T)], 75)), 1.0)


def _energy(cost: Cost, level: Level) -> float:
    """ln(mean sqrt D) + ln(P75(D) + .02 mean D), D the patch distances: lower is better."""
    distances = cost[tuple(level.targets.T)].astype(np.float64)
    return float(
        np.log(np.mean(np.sqrt(distances)) + 1e-6)
        + np.log(np.percentile(distances, 75) + 0.02 * distances.mean() + 1e-6)
    )


@numba.njit(cache=True, nogil=True)
def _copy(pixels: Any, hole: NDArray[np.bool_], offsets: Field, top: int, left: int) -> NDArray[np.float32]:
    out = np.zeros((hole.shape[0], hole.shape[1], 3), np.float32)
    for i in range(hole.shape[0]):
        for j in range(hole.shape[1]):
            if hole[i, j]:
                for c in range(3):
                    out[i, j, c] = pixels[i + top + offsets[i, j, 1], j + left + offsets[i, j, 0], c]
    return out


def _lay(scene: Scene, field: Field, energy: float) -> Woven:
    window = hole_window(scene.hole)
    rows, columns = window.slices
    hole = np.ascontiguousarray(scene.hole[rows, columns])
    y, x = np.mgrid[rows, columns]
    offsets = np.stack([field[rows, columns, 1] - x, field[rows, columns, 0] - y], axis=2).astype(np.int32)
    offsets[~hole] = 0
    pixels = _copy(scene.pixels, hole, offsets, window.y, window.x)
    pixels += correction(scene.pixels, hole, offsets, window.y, window.x)
    place = Box(x=window.x + scene.box.x, y=window.y + scene.box.y, width=window.width, height=window.height)
    return Woven(window=place, hole=hole, pixels=pixels, offsets=offsets, energy=energy)
