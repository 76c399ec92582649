"""Where drawn lines lie exactly: cut at the rim of the hole, and moved to the edges that they follow outside of it."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.core.fill.weave.lead_curve import straightened

# Distance between two places of a line, pixels.
STEP_PX = 0.5
# A line that is outside of the hole for no longer than this has not left it, pixels.
MAX_GRAZE_PX = 12.0
# Places between two drawn points at which their curve is worked out.
FINE_STEPS = 64
# Longest stretch outside the hole that is copied, pixels.
MAX_STRETCH_PX = 48.0
# A drawn stretch that is shorter than this is carried on straight to this length, pixels.
MIN_STRETCH_PX = 40.0
# How far the edge that a line follows may lie from it, pixels.
MAX_SNAP_PX = 20
# Colour difference across an edge from which a line snaps to it, L*a*b*.
MIN_SNAP_CONTRAST = 5.0
# Derivative of a Gaussian of one pixel; a sharp step of 1 between two pixels gives 1.
SLOPE_WEIGHTS = (-0.027, -0.216, -0.485, 0.0, 0.485, 0.216, 0.027)
# Loss of contrast for each pixel that an edge lies away from the drawn line, L*a*b*.
SNAP_COST = 1.0
# The same where a stretch ends, as a share: little was drawn there.
FAR_TRUST = 0.4
# Cost of a step aside from one place of a stretch to the next, L*a*b*.
TURN_COST = 2.0
# Cost of a place that is nearer to another line, L*a*b*.
OTHER_LINE_COST = 100.0
# Distance from another line up to which both are taken to meet, pixels.
MIN_APART_PX = 8.0
# Standard deviation with which the steps of an edge are smoothed, pixels.
SNAP_SMOOTHING_PX = 4.0
# Length over which colours are averaged along a line before its edge is sought, pixels.
SNAP_MEAN_PX = 8.0
# A place counts once this share of what is averaged there is known.
MIN_SEEN_SHARE = 0.3
# Shortest stretch that snaps, pixels.
MIN_SNAP_LENGTH_PX = 8.0
# Angle between two drawn pieces from which they meet in a corner; otherwise the line is smoothed there, radians.
MIN_DRAWN_CORNER_RAD = 0.7


@dataclass(frozen=True)
class Stretch:
    """The part of a drawn line that lies in the hole, and what it continues.

    Attributes
    ----------
    inside : (n, 2) float64
        x and y in the hole, half a pixel apart.
    before : (k, 2) float64
        x and y outside, from the rim outwards, at its beginning; empty where it begins in the hole.
    after : (m, 2) float64
        The same at its end.
    """

    inside: Doubles
    before: Doubles
    after: Doubles


def stretches_of(
    line: Doubles, planes: Floats, hole: Bools, known: Bools, others: Sequence[Doubles] = ()
) -> list[Stretch]:
    """Cut a drawn line at the hole's rim, and move it to the edges that it follows outside.

    Parameters
    ----------
    line : (n, 2) float64
        x and y of its points.
    planes : (H, W, C) float32
        The picture, L*a*b* first.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.
    others : sequence of (n, 2) float64, optional
        Other lines: what lies nearer to one of them is not what this one follows.

    Returns
    -------
    list of Stretch
        One for each time that it leads through the hole; none where it shows nothing outside.
    """
    points = _resampled(line)
    drawn = np.vstack([_resampled(other) for other in others]) if others else np.zeros((0, 2))
    inside = np.concatenate([[False], is_set(points, hole), [False]])
    starts, stops = np.flatnonzero(inside[1:] & ~inside[:-1]), np.flatnonzero(~inside[1:] & inside[:-1])
    # A line that grazes the rim does not leave the hole.
    leaves = (starts[1:] - stops[:-1]) * STEP_PX > MAX_GRAZE_PX
    begins, ends = np.ones(len(starts), np.bool_), np.ones(len(starts), np.bool_)
    begins[1:], ends[:-1] = leaves, leaves
    out = []
    for start, stop in zip(starts[begins], stops[ends], strict=True):
        if stop - start < 3:
            continue
        before = _outside(points[:start][::-1], points[start], points[min(start + 12, stop - 1)], known)
        after = _outside(points[stop:], points[stop - 1], points[max(stop - 13, start)], known)
        if not len(before) and not len(after):
            continue
        share = np.linspace(0, 1, stop - start)[:, None]
        before, at_start = _snapped(before, planes, known, drawn)
        after, at_end = _snapped(after, planes, known, drawn)
        # A line that ends in the hole moves as a whole, another one at each end by as much as it was off there.
        at_start, at_end = at_start if len(before) else at_end, at_end if len(after) else at_start
        inside = points[start:stop] + (1 - share) * at_start + share * at_end
        out.append(Stretch(straightened(inside, before, after), before, after))
    return out


def is_set(points: Doubles, plane: Bools) -> Bools:
    """Whether a plane is set at points; nothing is outside of it.

    Parameters
    ----------
    points : (n, 2) float64
        x and y.
    plane : (H, W) bool
        The plane.

    Returns
    -------
    (n,) bool
        Whether it is.
    """
    x, y = np.rint(points).astype(int).T
    out = (x >= 0) & (y >= 0) & (x < plane.shape[1]) & (y < plane.shape[0])
    out[out] = plane[y[out], x[out]]
    return np.asarray(out, np.bool_)


def normals_of(points: Doubles) -> Doubles:
    """Directions across a line, averaged over some pixels.

    Parameters
    ----------
    points : (n, 2) float64
        x and y, half a pixel apart.

    Returns
    -------
    (n, 2) float64
        Unit vectors to the right of the line, y pointing down.
    """
    reach = max(min(int(4 / STEP_PX), len(points) // 2), 1)
    later, sooner = np.arange(len(points)) + reach, np.arange(len(points)) - reach
    step = points[np.minimum(later, len(points) - 1)] - points[np.maximum(sooner, 0)]
    step = step / np.maximum(np.hypot(*step.T), 1e-9)[:, None]
    return np.stack([-step[:, 1], step[:, 0]], 1)


def _resampled(line: Doubles) -> Doubles:
    """Points at even distances along a smooth curve through a line's points; its corners stay corners."""
    line = line[np.concatenate([[True], np.hypot(*np.diff(line, axis=0).T) > 0])]
    steps = np.diff(line, axis=0)
    turns = np.abs(
        np.arctan2(steps[:-1, 0] * steps[1:, 1] - steps[:-1, 1] * steps[1:, 0], (steps[:-1] * steps[1:]).sum(axis=1))
    )
    cuts = [0, *(np.flatnonzero(turns > MIN_DRAWN_CORNER_RAD) + 1), len(line) - 1]
    return np.vstack([_smooth(line[a : b + 1]) for a, b in itertools.pairwise(cuts)])


def _smooth(points: Doubles) -> Doubles:
    """Points at even distances along the cubic spline through points, with centripetal parameters (Lee 1989): points
    close to each other do not make it overshoot."""
    from scipy.interpolate import CubicSpline  # not loaded when the server starts

    if len(points) < 2:
        return points
    knots = np.concatenate([[0.0], np.cumsum(np.sqrt(np.hypot(*np.diff(points, axis=0).T)))])
    fine = CubicSpline(knots, points)(np.linspace(0, float(knots[-1]), FINE_STEPS * len(points)))
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(fine, axis=0).T))])
    at = np.linspace(0, float(along[-1]), max(int(along[-1] / STEP_PX) + 1, 2))
    return np.stack([np.interp(at, along, fine[:, k]) for k in range(2)], 1)


def _outside(drawn: Doubles, rim: Doubles, ahead: Doubles, known: Bools) -> Doubles:
    """A line from the rim outwards as far as the picture is known, carried on straight where little was drawn; empty
    where it begins in the hole."""
    if not len(drawn):
        return np.zeros((0, 2))
    outwards = np.asarray((drawn[min(len(drawn) - 1, 24)] if len(drawn) > 8 else rim) - ahead, np.float64)
    length = float(np.linalg.norm(outwards))
    missing = int((MIN_STRETCH_PX - len(drawn) * STEP_PX) / STEP_PX)
    if missing > 0 and length > 0:
        steps = np.arange(1, missing + 1)[:, None] * STEP_PX
        drawn = np.vstack([drawn, drawn[-1] + steps * outwards / length])
    drawn = drawn[: int(MAX_STRETCH_PX / STEP_PX)]
    seen = is_set(drawn, known)
    # Beside the mask a few pixels may belong to other holes.
    first = int(seen.argmax()) if seen.any() else len(seen)
    last = first + int((~seen[first:]).argmax()) if (~seen[first:]).any() else len(seen)
    return drawn[first:last]


def _snapped(outside: Doubles, planes: Floats, known: Bools, others: Doubles) -> tuple[Doubles, Doubles]:
    """A stretch outside the hole moved to the edge that it follows, and by how much its place at the rim moved; others:
    points of other lines."""
    from scipy.ndimage import gaussian_filter1d, uniform_filter1d  # as above
    from scipy.spatial import cKDTree  # as above

    if len(outside) < MIN_SNAP_LENGTH_PX / STEP_PX:
        return outside, np.zeros(2)
    sides = normals_of(outside)
    side = len(SLOPE_WEIGHTS) // 2
    reach = np.arange(-MAX_SNAP_PX - side, MAX_SNAP_PX + side + 1)
    places = outside[:, None] + reach[:, None] * sides[:, None]
    seen = is_set(places.reshape(-1, 2), known).reshape(places.shape[:2])
    x = np.clip(np.rint(places[..., 0]).astype(int), 0, known.shape[1] - 1)
    y = np.clip(np.rint(places[..., 1]).astype(int), 0, known.shape[0] - 1)
    # Texture averages out along the line, an edge beside it does not.
    size, weight = int(SNAP_MEAN_PX / STEP_PX), seen.astype(np.float64)
    share = uniform_filter1d(weight, size, axis=0, mode="nearest")
    mean = uniform_filter1d(planes[y, x, :3] * weight[..., None], size, axis=0, mode="nearest")
    mean /= np.maximum(share, 1e-6)[..., None]
    seen = share > MIN_SEEN_SHARE
    across = np.lib.stride_tricks.sliding_window_view(mean, len(SLOPE_WEIGHTS), axis=1)
    contrast = np.linalg.norm(across @ np.array(SLOPE_WEIGHTS), axis=2)
    contrast[~np.lib.stride_tricks.sliding_window_view(seen, len(SLOPE_WEIGHTS), axis=1).all(axis=2)] = 0
    moves = np.arange(-MAX_SNAP_PX, MAX_SNAP_PX + 1, dtype=np.float64)
    # At the rim the drawn line counts, farther out rather the edge.
    trust = np.linspace(1, FAR_TRUST, len(outside))[:, None]
    cost = SNAP_COST * trust * np.abs(moves) - contrast
    if len(others):
        tree = cKDTree(others)
        nearer = np.asarray(tree.query(places[:, side:-side].reshape(-1, 2))[0]).reshape(cost.shape) < np.abs(moves)
        # Where lines meet, neither is nearer.
        separate = np.asarray(tree.query(outside)[0]) > MIN_APART_PX
        cost[nearer & separate[:, None]] += OTHER_LINE_COST
    path = _smoothest(cost)
    # As far as the edge can be followed.
    seen_at = uniform_filter1d(
        contrast[np.arange(len(outside)), path], int(SNAP_SMOOTHING_PX / STEP_PX), mode="nearest"
    )
    lost = (seen_at < MIN_SNAP_CONTRAST) | (np.abs(moves[path]) == MAX_SNAP_PX)
    # Beside the rim little is known yet.
    lost[: int(SNAP_MEAN_PX / STEP_PX)] = False
    followed = int(lost.argmax()) if lost.any() else len(outside)
    if followed < MIN_SNAP_LENGTH_PX / STEP_PX:
        return outside, np.zeros(2)
    outside, sides, path = outside[:followed], sides[:followed], path[:followed]
    shift = gaussian_filter1d(moves[path], SNAP_SMOOTHING_PX / STEP_PX, mode="nearest")
    return outside + shift[:, None] * sides, np.asarray(shift[0] * sides[0])


def _smoothest(cost: Doubles) -> NDArray[np.intp]:
    """Columns of the cheapest path down a cost (n, m) that moves by a column at most in each row (dynamic
    programming)."""
    total = cost.copy()
    came = np.zeros(cost.shape, np.intp)
    columns = np.arange(cost.shape[1])
    for row in range(1, len(cost)):
        padded = np.pad(total[row - 1], 1, constant_values=np.inf)
        options = np.stack([padded[1:-1], padded[:-2] + TURN_COST, padded[2:] + TURN_COST])
        best = options.argmin(axis=0)
        came[row] = columns + np.array([0, -1, 1])[best]
        total[row] += options[best, columns]
    path = np.zeros(len(cost), np.intp)
    path[-1] = total[-1].argmin()
    for row in range(len(cost) - 1, 0, -1):
        path[row - 1] = came[row, path[row]]
    return path
