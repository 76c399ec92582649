"""Cells of a hole: what drawn lines part of it, and the ground that each of them may copy.

Lines settle where things end, grounds settle what lies on either side. A cell draws from what resembles the known
pixels beside it, or from the places that the photographer's arrows come from.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Features, Floats, Labels
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.weave.features import FEATURE_STEPS
from keen_sweep.core.fill.weave.lead_stretches import Stretch

# Smaller cells belong to their neighbour, share of the hole.
MIN_CELL_SHARE = 0.02
# Standard deviation with which features are averaged before grounds are compared, pixels.
FEATURE_SIGMA_PX = 1.5
# Known pixels beside a hole that tell a cell's ground lie this far from it, pixels.
MIN_RIM_PX = 2.0
MAX_RIM_PX = 6.0
# How far these keep from a line, pixels.
MIN_LINE_DISTANCE_PX = 8.0
# Radius around the beginning of an arrow that tells its ground, share of the hole's radius.
SAMPLE_SHARE = 0.3
# Its bounds, pixels.
MIN_SAMPLE_RADIUS_PX = 3.0
MAX_SAMPLE_RADIUS_PX = 16.0
# Samples of a ground.
MAX_SAMPLES = 300
MIN_SAMPLES = 8
# Samples that show another cell's ground are left out if they are fewer than this share.
MAX_STRAY_SHARE = 0.2
# Difference from a ground's samples up to which a place belongs to it, L*a*b* and texture.
MIN_TOLERANCE = 5.0
# The same as a multiple of how much the samples differ from each other.
TOLERANCE_RATIO = 2.0
# What differs by this many times the tolerance belongs to no ground, even amid one.
FOREIGN_RATIO = 2.0
# How much nearer another cell's ground must be for a place to belong to that, share of the tolerance.
OTHER_MARGIN_SHARE = 0.5
# A ground covers at least this share of its cell; otherwise it is told more generously.
MIN_GROUND_SHARE = 0.5
RELAXING_RATIO = 1.6
RELAXING_STEPS = 3
# Side of the window in which most pixels must belong to a ground, pixels.
SMOOTHING_SIDE_PX = 5


@dataclass(frozen=True)
class Cell:
    """A part of a hole with a ground of its own.

    Attributes
    ----------
    mask : (H, W) bool
        Its pixels, and those of the surroundings that are nearest to it.
    ground : (H, W) bool
        Places that it may copy.
    """

    mask: Bools
    ground: Bools


def cells_of(
    stretches: Sequence[Stretch], arrows: Sequence[LeadLine], features: Features, hole: Bools, known: Bools, step: int
) -> tuple[Cell, ...]:
    """Part a hole along lines, and find out what each part may copy.

    Parameters
    ----------
    stretches : sequence of Stretch
        The lines.
    arrows : sequence of LeadLine
        Lines that bring a ground.
    features : (h, w, 4) int16
        Features of the surroundings, reduced.
    hole : (H, W) bool
        The hole.
    known : (h, w) bool
        Known pixels, reduced.
    step : int
        Pixels in one of the reduced surroundings.

    Returns
    -------
    tuple of Cell
        The cells, which cover the hole and do not overlap; none where nothing is parted and no arrow leads in.
    """
    labels = _parted(stretches, hole)
    arrows = [line for line in arrows if _label_at(labels, line.points[-1])]
    count = int(labels.max())
    if count < 2 and not arrows:
        return ()
    everywhere = _nearest(labels)
    inner = _reduced(np.where(hole, labels, 0), step, known.shape)
    means = _averaged(features, known)
    near_line = _near_lines(stretches, step, known.shape)
    samples: list[NDArray[np.intp]] = []
    starts: list[list[tuple[int, int]]] = []
    for cell in range(1, count + 1):
        own = [line for line in arrows if _label_at(labels, line.points[-1]) == cell]
        starts.append([_place(line.points[0], step, known.shape) for line in own])
        samples.append(_around(starts[-1], inner, known) if own else _rim(inner, cell, known & ~near_line))
    samples = [_own_samples(means, samples, cell) for cell in range(count)]
    grounds = _grounds(means, known, samples, starts, [int((inner == cell).sum()) for cell in range(1, count + 1)])
    return tuple(
        Cell(everywhere == cell, _enlarged(ground, step, hole.shape)) for cell, ground in enumerate(grounds, start=1)
    )


def _parted(stretches: Sequence[Stretch], hole: Bools) -> Labels:
    """Number of the part that each pixel of the hole lies in, from 1; 0 outside."""
    barrier = np.zeros(hole.shape, np.uint8)
    for stretch in stretches:
        path = np.concatenate([stretch.before[:1], stretch.inside, stretch.after[:1]])
        cv2.polylines(barrier, [np.rint(path).astype(np.int32).reshape(-1, 1, 2)], False, 1, 1, cv2.LINE_8)
    count, parts = cv2.connectedComponents(np.asarray(hole & (barrier == 0), np.uint8), connectivity=4)
    areas = np.bincount(parts.ravel(), minlength=count)
    large = [part for part in range(1, count) if areas[part] >= MIN_CELL_SHARE * hole.sum()]
    numbers = np.zeros(count, np.int32)
    numbers[large] = np.arange(1, len(large) + 1)
    labels = numbers[parts]
    if not large:
        return np.asarray(hole, np.int32)
    return np.where(hole, _nearest(labels), 0).astype(np.int32)


def _nearest(labels: Labels) -> Labels:
    """The labels, and elsewhere that of the nearest labelled pixel."""
    _, index = cv2.distanceTransformWithLabels(
        (labels == 0).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    values = np.zeros(int(index.max()) + 1, np.int32)
    values[index[labels > 0]] = labels[labels > 0]
    return values[index]


def _label_at(labels: Labels, point: tuple[float, float]) -> int:
    x, y = round(point[0]), round(point[1])
    return int(labels[y, x]) if 0 <= y < labels.shape[0] and 0 <= x < labels.shape[1] else 0


def _place(point: tuple[float, float], step: int, shape: tuple[int, ...]) -> tuple[int, int]:
    """Row and column of a point in the reduced surroundings; of one beyond them, the nearest."""
    row, column = int(point[1] // step), int(point[0] // step)
    return min(max(row, 0), shape[0] - 1), min(max(column, 0), shape[1] - 1)


def _reduced(labels: Labels, step: int, shape: tuple[int, ...]) -> Labels:
    rows = np.minimum(np.arange(shape[0]) * step + step // 2, labels.shape[0] - 1)
    columns = np.minimum(np.arange(shape[1]) * step + step // 2, labels.shape[1] - 1)
    return labels[np.ix_(rows, columns)]


def _enlarged(ground: Bools, step: int, shape: tuple[int, ...]) -> Bools:
    return np.ascontiguousarray(ground.repeat(step, 0).repeat(step, 1)[: shape[0], : shape[1]])


def _averaged(features: Features, known: Bools) -> Floats:
    """Features averaged over known pixels, in L*a*b* and levels of texture."""
    weight = cv2.GaussianBlur(known.astype(np.float32), (0, 0), FEATURE_SIGMA_PX)
    values = np.where(known[..., None], features, 0).astype(np.float32) / FEATURE_STEPS
    return np.asarray(cv2.GaussianBlur(values, (0, 0), FEATURE_SIGMA_PX) / np.maximum(weight, 1e-3)[..., None])


def _near_lines(stretches: Sequence[Stretch], step: int, shape: tuple[int, ...]) -> Bools:
    """What lies so near to a line that it may show either side."""
    line = np.ones(shape, np.uint8)
    for stretch in stretches:
        for points in (stretch.before, stretch.inside, stretch.after):
            if len(points):
                path = np.rint(points / step).astype(np.int32).reshape(-1, 1, 2)
                cv2.polylines(line, [path], False, 0, 1, cv2.LINE_8)
    if line.all():
        return np.zeros(shape, np.bool_)
    return np.asarray(cv2.distanceTransform(line, cv2.DIST_L2, 3) * step < MIN_LINE_DISTANCE_PX + step)


def _rim(labels: Labels, cell: int, known: Bools) -> NDArray[np.intp]:
    """Known places beside a cell."""
    depth = cv2.distanceTransform((labels == 0).astype(np.uint8), cv2.DIST_L2, 5)
    band = known & (depth >= MIN_RIM_PX) & (depth <= MAX_RIM_PX) & (_nearest(labels) == cell)
    return _some(np.argwhere(band))


def _around(starts: Sequence[tuple[int, int]], labels: Labels, known: Bools) -> NDArray[np.intp]:
    """Known places around the beginnings of arrows."""
    depth = cv2.distanceTransform(np.pad((labels > 0).astype(np.uint8), 1), cv2.DIST_L2, 5)
    radius = float(np.clip(SAMPLE_SHARE * depth.max(), MIN_SAMPLE_RADIUS_PX, MAX_SAMPLE_RADIUS_PX))
    rows, columns = np.indices(known.shape)
    near = np.zeros(known.shape, np.bool_)
    for row, column in starts:
        near |= (rows - row) ** 2 + (columns - column) ** 2 <= radius**2
    return _some(np.argwhere(near & known))


def _own_samples(means: Floats, samples: list[NDArray[np.intp]], cell: int) -> NDArray[np.intp]:
    """The samples of a cell without those few that show the ground of another one: a line that grazes the rim leaves
    some of what is beyond it on the wrong side."""
    from scipy.spatial import cKDTree  # not loaded when the server starts

    own = samples[cell]
    others = [each for k, each in enumerate(samples) if k != cell and len(each)]
    if not len(own) or not others:
        return own
    foreign = np.concatenate(others)
    away = np.asarray(cKDTree(means[tuple(foreign.T)]).query(means[tuple(own.T)])[0])
    strays = away < MIN_TOLERANCE
    return own[~strays] if strays.mean() < MAX_STRAY_SHARE else own


def _some(places: NDArray[np.intp]) -> NDArray[np.intp]:
    """An even selection."""
    return places[:: max(-(-len(places) // MAX_SAMPLES), 1)]


def _grounds(
    means: Floats, known: Bools, samples: list[NDArray[np.intp]], starts: list[list[tuple[int, int]]], areas: list[int]
) -> list[Bools]:
    """What each cell may copy, told from its samples; everything where those are too few."""
    from scipy.spatial import cKDTree  # not loaded when the server starts

    places = np.argwhere(known)
    values = means[tuple(places.T)]
    away: list[Doubles] = []
    tolerances: list[float] = []
    for each in samples:
        if len(each) < MIN_SAMPLES:
            away.append(np.full(len(places), np.inf))
            tolerances.append(0.0)
            continue
        shown = means[tuple(each.T)]
        tree = cKDTree(shown)
        between = np.asarray(tree.query(shown, k=2)[0])[:, 1]
        tolerances.append(max(MIN_TOLERANCE, TOLERANCE_RATIO * float(np.percentile(between, 90))))
        away.append(np.asarray(tree.query(values)[0]))
    out = []
    for cell, (own, tolerance) in enumerate(zip(away, tolerances, strict=True)):
        if not tolerance:
            out.append(known.copy())
            continue
        others = [other for k, other in enumerate(away) if k != cell]
        nearest = np.min(others, axis=0) if others else np.full(len(places), np.inf)
        for step in range(RELAXING_STEPS + 1):
            bound = tolerance * RELAXING_RATIO**step
            belongs = (own <= bound) & (own <= nearest + OTHER_MARGIN_SHARE * bound)
            # A hose on the lawn is none of the lawn, however thin it is.
            foreign = own > FOREIGN_RATIO * bound
            ground = _joined(belongs, foreign, places, known, starts[cell])
            if ground.sum() >= MIN_GROUND_SHARE * areas[cell]:
                break
        out.append(ground)
    return out


def _joined(
    belongs: Bools, foreign: Bools, places: NDArray[np.intp], known: Bools, starts: Sequence[tuple[int, int]]
) -> Bools:
    """A ground without specks and holes; of one that an arrow comes from, what is connected with its beginning."""
    votes = np.zeros(known.shape, np.float32)
    votes[tuple(places[belongs].T)] = 1
    size = (SMOOTHING_SIDE_PX, SMOOTHING_SIDE_PX)
    most = cv2.blur(votes, size) > 0.5 * cv2.blur(known.astype(np.float32), size)
    ground = np.asarray(most & known)
    ground[tuple(places[foreign].T)] = False
    if not starts:
        return ground
    _, parts = cv2.connectedComponents(ground.astype(np.uint8), connectivity=4)
    # An arrow may begin on a speck: what is nearest to it counts.
    around = _nearest(np.asarray(parts, np.int32)) if ground.any() else parts
    return np.isin(parts, [around[start] for start in starts]) & ground
