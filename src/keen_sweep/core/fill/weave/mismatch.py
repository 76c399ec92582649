"""What a fill looks like, told without the truth: where it looks least like anything round it.

Every patch of the hole is compared with the patch of the surroundings most like it (PatchMatch anew, colour alone), and
the distances are averaged over the neighbourhood, at two scales. A kink in a rim, half a thing, a smear between two
materials have no likeness anywhere; stuff in the right place has. Unlike a mean over the fill, the worst place does not
grow better by what is good elsewhere.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Features, Floats
from keen_sweep.core.fill.weave.dissimilarity import dissimilarity
from keen_sweep.core.fill.weave.features import FEATURE_STEPS
from keen_sweep.core.fill.weave.halves import any_of_four, halve_planes
from keen_sweep.core.methods.patchmatch import measure, scatter, search
from keen_sweep.core.methods.setting import NO_SETTING

PATCH_RADIUS_PX = 3
# Standard deviation over which mismatches are averaged, pixels.
AVERAGE_SIGMA_PX = 4.0
# Largest hole that is compared at the finer of the two scales.
MAX_FINE_PIXELS = 16_000
SEARCH_SWEEPS = 4
# Weights of the logarithms at the two scales in the badness.
SCALE_WEIGHTS = (1.0, 0.7)
# Weight of the dissimilarity of all patches in the badness.
DISSIMILARITY_WEIGHT = 0.65
# The surroundings are searched at these angles: a rim that bends has its match only where it runs the same way.
SOURCE_ANGLES_DEG = tuple(range(0, 360, 45))


@dataclass(frozen=True)
class Scale:
    """The surroundings of a hole at one scale.

    Attributes
    ----------
    level : int
        Halvings from full size.
    there : (H, W, 4) int16
        Colours.
    hole : (H, W) bool
        The hole.
    allowed : (H, W) bool
        Patch centres that may be compared with.
    sources : (k, 2) int32
        Their rows and columns.
    targets : (n, 2) int32
        Patch centres that are judged.
    """

    level: int
    there: Features
    hole: Bools
    allowed: Bools
    sources: NDArray[np.int32]
    targets: NDArray[np.int32]


@dataclass(frozen=True)
class Unlike:
    """Mismatch of a fill with its surroundings at one scale.

    Attributes
    ----------
    level : int
        Halvings from full size.
    at : (H, W) float32
        Squared L*a*b* per pixel at each place; 0 outside the hole.
    worst : float
        Its maximum.
    bad : float
        Its 95th percentile.
    """

    level: int
    at: Floats
    worst: float
    bad: float


@dataclass(frozen=True)
class Seen:
    """Judgement of a fill.

    Attributes
    ----------
    scales : tuple of Unlike
        Mismatch at two scales, the finer first.
    unlike : float
        Dissimilarity of its patches to those around it.
    """

    scales: tuple[Unlike, ...]
    unlike: float

    @property
    def badness(self) -> float:
        """A figure to compare fills of one hole by: lower is better. The weights were fitted on fills made for it, on
        photographs that no benchmark shows (training/judge_fills.py)."""
        logs = self.logs
        return (
            float(np.dot(SCALE_WEIGHTS[: len(logs)], logs) + DISSIMILARITY_WEIGHT * self.unlike)
            if logs
            else self.unlike
        )

    @property
    def logs(self) -> tuple[float, ...]:
        """How odd the worst places are, scale by scale."""
        return tuple(float(np.log(each.bad + 1)) for each in self.scales)

    @property
    def worst(self) -> Unlike | None:
        """The scale at which the worst place is worst."""
        return max(self.scales, key=lambda each: each.worst, default=None)


class Judge:
    """Judges fills of one hole.

    Parameters
    ----------
    colours : (H, W, 3) float32
        L*a*b* of the surroundings.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.
    """

    def __init__(self, colours: Floats, hole: Bools, known: Bools) -> None:
        self.hole, self.known = hole, known
        self.scales: list[Scale] = []
        level = 0
        while len(self.scales) < 2:
            if hole.sum() <= MAX_FINE_PIXELS or min(hole.shape) < 64:
                self.scales.append(_scale(level, colours, hole, known))
            if min(hole.shape) < 32:
                break
            colours, hole, known = halve_planes(colours, known), any_of_four(hole), ~any_of_four(~known)
            level += 1
            if not known.any():
                break

    def look(self, colours: Floats) -> Seen:
        """What a fill looks like: colours (H, W, 3) float32 of the whole, the hole filled."""
        unlike = dissimilarity(colours, self.hole, self.known)
        found: list[Unlike] = []
        level = 0
        for scale in self.scales:
            while level < scale.level:
                colours = halve_planes(colours)
                level += 1
            found.append(_look(scale, colours))
        return Seen(tuple(found), unlike)


def _scale(level: int, colours: Floats, hole: Bools, known: Bools) -> Scale:
    square = np.ones((2 * PATCH_RADIUS_PX + 1,) * 2, np.uint8)
    allowed = cv2.erode(known.astype(np.uint8), square, borderType=cv2.BORDER_CONSTANT, borderValue=0) > 0
    allowed[:PATCH_RADIUS_PX] = allowed[-PATCH_RADIUS_PX:] = False
    allowed[:, :PATCH_RADIUS_PX] = allowed[:, -PATCH_RADIUS_PX:] = False
    touched = cv2.dilate(hole.astype(np.uint8), square) > 0
    features, allowed = _turned(colours, allowed)
    return Scale(
        level=level,
        there=_steps(features),
        hole=hole,
        allowed=allowed,
        sources=np.argwhere(allowed).astype(np.int32),
        targets=np.argwhere(touched).astype(np.int32),
    )


def _turned(colours: Floats, allowed: Bools) -> tuple[Floats, Bools]:
    """A picture and its allowed patch centres, and beside it the same turned by every angle that is looked at."""
    height, width = allowed.shape
    side = int(np.ceil(np.hypot(height, width)))
    planes, places = [], []
    for angle in SOURCE_ANGLES_DEG:
        size = (width, height) if angle == 0 else (side, side)
        turn = cv2.getRotationMatrix2D(((width - 1) / 2, (height - 1) / 2), angle, 1.0)
        turn[:, 2] += (np.array(size) - np.array([width, height])) / 2
        planes.append(np.pad(cv2.warpAffine(colours, turn, size), ((0, side - size[1]), (0, 0), (0, 0))))
        seen = cv2.warpAffine(allowed.astype(np.uint8), turn, size, flags=cv2.INTER_NEAREST)
        # A patch that is turned has corners that stuck out.
        seen = seen if angle == 0 else cv2.erode(seen, np.ones((5, 5), np.uint8), borderValue=0)
        seen[:PATCH_RADIUS_PX] = seen[-PATCH_RADIUS_PX:] = 0
        seen[:, :PATCH_RADIUS_PX] = seen[:, -PATCH_RADIUS_PX:] = 0
        places.append(np.pad(seen, ((0, side - size[1]), (0, 0))) > 0)
    return np.hstack(planes), np.hstack(places)


def _look(scale: Scale, colours: Floats) -> Unlike:
    distances = np.zeros(scale.hole.shape, np.float32)
    if not len(scale.sources):
        return Unlike(scale.level, distances, 0.0, 0.0)
    stepped = _steps(colours)
    field = np.zeros((*scale.hole.shape, 2), np.int32)
    cost = np.full(scale.hole.shape, -1, np.int32)
    state = np.array([0x9E3779B97F4A7C15], np.uint64)
    scatter(scale.targets, scale.sources, field, state)
    measure(stepped, scale.there, scale.targets, field, cost, PATCH_RADIUS_PX, NO_SETTING)
    search(
        stepped,
        scale.there,
        scale.allowed,
        scale.targets,
        field,
        cost,
        PATCH_RADIUS_PX,
        SEARCH_SWEEPS,
        max(scale.allowed.shape) // 2,
        state,
        NO_SETTING,
    )
    distances[tuple(scale.targets.T)] = cost[tuple(scale.targets.T)] / np.float32(
        FEATURE_STEPS**2 * (2 * PATCH_RADIUS_PX + 1) ** 2
    )
    weight = np.zeros_like(distances)
    weight[tuple(scale.targets.T)] = 1
    mean = cv2.GaussianBlur(distances, (0, 0), AVERAGE_SIGMA_PX) / np.maximum(
        cv2.GaussianBlur(weight, (0, 0), AVERAGE_SIGMA_PX), 1e-3
    )
    mean = np.asarray(np.where(scale.hole, mean, 0), np.float32)
    bad = float(np.percentile(mean[scale.hole], 95))
    return Unlike(scale.level, mean.astype(np.float32), float(mean.max()), bad)


def _steps(colours: Floats) -> Features:
    out = np.zeros((*colours.shape[:2], 4), np.int16)
    out[..., :3] = np.rint(colours * FEATURE_STEPS)
    return out
