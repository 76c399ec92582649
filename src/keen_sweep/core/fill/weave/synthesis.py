"""One weave of one part: from the coarsest scale to a field of offsets at full resolution."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.fill.protocol import Quality
from keen_sweep.core.fill.weave.laying import lay_offsets
from keen_sweep.core.fill.weave.likeness import FAR, unlikeness
from keen_sweep.core.fill.weave.nearest import measure, scatter, search
from keen_sweep.core.fill.weave.scene import REACH, Level, Scene, hole_window
from keen_sweep.core.fill.weave.settle import settle
from keen_sweep.core.fill.weave.shifts import start_from
from keen_sweep.core.fill.weave.start import peel_inwards
from keen_sweep.core.fill.weave.tone import WEIGHT, astray
from keen_sweep.core.fill.weave.vote import vote
from keen_sweep.core.photo.channels import to_eight_bit

Field = NDArray[np.int32]
Cost = NDArray[np.int32]
# Rounds of search-and-vote at the coarsest level, between, and at full resolution.
ROUNDS: dict[Quality, tuple[int, int, int]] = {"fast": (6, 2, 0), "fine": (12, 4, 1)}
SWEEPS, SEAM_WEIGHT = 4, 0.3
# Weights of votes: the best patch over a pixel counts nearly alone, or fills come out soft.
SHARPNESS = 0.05
GUIDE_COARSEST, GUIDE = 2.0, 2.0


@dataclass
class Begun:
    """A weave taken down to half resolution: its field at that level, how good it looks, what it shows there."""

    number: int
    field: Field
    energy: float
    filled: NDArray[np.uint8]
    state: NDArray[np.uint64]


@dataclass(frozen=True)
class Woven:
    """Filled pixels (h, w, 3) float32 of a window of the picture, hole (h, w) there, offsets, and the energy: how
    unlike its surroundings it looks."""

    window: Box
    hole: NDArray[np.bool_]
    pixels: NDArray[np.float32]
    offsets: NDArray[np.int32]
    energy: float
    loose: NDArray[np.bool_] | None = None


def begin(
    scene: Scene, seed: int, quality: Quality, tick: Callable[[float], None], from_repeats: bool = False
) -> Begun:
    """Weave from the coarsest level to half resolution (or to the only level there is).

    from_repeats: start from the repeats of the picture where it has any, not from the rim inwards. The same
    arguments give the same result to the bit. tick is called with the share done, 0 to 1, and may raise to stop
    the work.
    """
    state = np.array([(seed * 2 + 1) * 0x9E3779B97F4A7C15 % 2**64], np.uint64)
    coarsest, last = len(scene.levels) - 1, min(1, len(scene.levels) - 1)
    shifts = scene.shifts if from_repeats else None
    if shifts is not None:
        coarsest = scene.shift_level
    total = sum(level.hole.sum() for level in scene.levels[last:])
    done = 0.0
    field: Field | None = None
    for number in range(coarsest, last - 1, -1):
        level = scene.levels[number]
        features = level.features.copy()
        first = field is None
        if field is not None:
            field = _finer(field, level, state)
        elif shifts is not None:
            field = np.zeros((*level.hole.shape, 2), np.int32)
            scatter(level.targets, level.sources, field, state)
            start_from(shifts, level.hole, field, np.random.Generator(np.random.PCG64(seed)))
        else:
            field = _first_guess(level, features, state)
        rounds = ROUNDS[quality][0 if first and shifts is None else 1]
        share = float(level.hole.sum() / total)

        def level_tick(part: float, at: float = done, share: float = share) -> None:
            tick(at + share * part)

        _improve(level, features, field, rounds, first and shifts is None, state, level_tick)
        done += share
    assert field is not None
    where = tuple(level.targets[level.hole[tuple(level.targets.T)]].T)
    window = hole_window(level.hole, FAR).slices
    seen = features[window][..., :3].astype(np.float32)
    energy = unlikeness(seen, level.hole[window], level.known[window])
    energy += WEIGHT * astray(scene.tone, features[..., :3], level.hole, last)
    return Begun(last, field, energy, features[where], state)


def finish(scene: Scene, begun: Begun, quality: Quality, tick: Callable[[float], None]) -> Woven:
    """Take a weave from half resolution to real pixels."""
    level = scene.levels[0]
    features = level.features.copy()
    rounds = ROUNDS[quality][2]
    field, state = begun.field, begun.state.copy()
    if begun.number:
        field = _finer(field, level, state)
    cost = _improve(level, features, field, rounds, False, state, tick)
    if rounds:
        settle(features, level.hole, level.allowed, level.targets, field, cost, REACH, SWEEPS, SEAM_WEIGHT)
    woven = _lay(scene, field, quality)
    tick(1.0)
    return woven


def _improve(
    level: Level,
    features: NDArray[np.uint8],
    field: Field,
    rounds: int,
    coarsest: bool,
    state: NDArray[np.uint64],
    tick: Callable[[float], None],
) -> Cost:
    """Rounds of search and vote; field and features change in place. Returns the patches' distances."""
    cost = np.full(level.hole.shape, -1, np.int32)
    # A level that starts from a coarser one knows its matches but not yet its pixels: copy them in.
    cost[tuple(level.targets.T)] = 0
    inside = np.argwhere(level.hole)
    source = field[tuple(inside.T)]
    features[tuple(inside.T)] = level.features[tuple(source.T)]
    pull = GUIDE_COARSEST if coarsest else GUIDE
    follow_guide(level, features, pull)
    span = max(level.hole.shape) if coarsest else max(max(level.hole.shape) // 8, 8)
    for turn in range(rounds):
        measure(features, level.targets, field, cost, REACH)
        search(features, level.allowed, level.targets, field, cost, REACH, 2, span, state)
        tick((turn + 1) / rounds)
        if level.finest and turn + 1 == rounds:
            break  # what is copied are pixels, and what was matched is what the cost says
        vote(features, level.hole, level.targets, field, cost, REACH, SHARPNESS * _spread(cost, level))
        follow_guide(level, features, pull)
    return cost


def follow_guide(level: Level, features: NDArray[np.uint8], pull: float) -> None:
    """Mix the smooth continuation into the hole's colours, in place: a narrow hole knows what it leads to."""
    if level.guide is not None:
        now = features[level.hole][:, :3]
        features[level.hole, :3] = np.rint((now + pull * level.guide) / (1 + pull)).clip(0, 255).astype(np.uint8)


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


def _lay(scene: Scene, field: Field, quality: Quality) -> Woven:
    window = hole_window(scene.hole)
    rows, columns = window.slices
    hole = np.ascontiguousarray(scene.hole[rows, columns])
    y, x = np.mgrid[rows, columns]
    offsets = np.stack([field[rows, columns, 1] - x, field[rows, columns, 0] - y], axis=2).astype(np.int32)
    offsets[~hole] = 0
    loose = None if scene.loose is None else np.ascontiguousarray(scene.loose[rows, columns])
    pixels = lay_offsets(scene.pixels, scene.known, hole, offsets, window, scene.radius, quality, loose)
    around = hole_window(scene.hole, FAR)
    inner = window.relative_to(around).slices
    canvas = to_eight_bit(scene.pixels[around.slices]).copy()
    top = 255 / np.iinfo(scene.pixels.dtype).max
    canvas[inner][hole] = np.rint(pixels[hole] * top).clip(0, 255).astype(np.uint8)
    lab = cv2.cvtColor(canvas, cv2.COLOR_RGB2LAB).astype(np.float32)
    energy = unlikeness(lab, scene.hole[around.slices], scene.known[around.slices])
    filled = scene.levels[0].features[..., :3].copy()
    filled[around.slices] = lab
    energy += WEIGHT * astray(scene.tone, filled, scene.hole, 0)
    place = Box(x=window.x + scene.box.x, y=window.y + scene.box.y, width=window.width, height=window.height)
    return Woven(window=place, hole=hole, pixels=pixels, offsets=offsets, energy=energy, loose=loose)
