"""Bridges over a hole: edges that end at its rim on one side and carry on at the other, joined by a line, an arc, or
two lines that meet in a corner.

Two ends belong together when the same colours lie on the same sides of both and one curve runs through both. A circle
through two points leaves the chord between them at the same angle at both ends, so the two angles may differ but
little.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Bools, Doubles
from keen_sweep.core.fill.weave.ends import End

# Largest difference between the angles at the two ends, radians.
MAX_ANGLE_DIFFERENCE_RAD = 0.30
# Largest sum of both angles, radians.
MAX_TOTAL_TURN_RAD = 1.9
# Largest colour distance on the more alike side, L*a*b*.
MAX_COLOUR_DISTANCE = 14.0
MIN_LENGTH_PX = 5.0
# Largest colour distance on the less alike side, L*a*b*.
MAX_OTHER_DISTANCE = 48.0
# Weight of the less alike side in the misfit.
OTHER_WEIGHT = 0.25
MAX_MISFIT = 2.6
# Smallest turn of a corner, radians.
MIN_CORNER_ANGLE_RAD = 0.5
# Largest colour distance at a corner, L*a*b*.
MAX_CORNER_DISTANCE = 9.0
# Share of a bridge that must lie in the hole.
MIN_INSIDE_SHARE = 0.75


@dataclass(frozen=True)
class Bridge:
    """A line through a hole that joins two edges.

    Attributes
    ----------
    points : (n, 2) float64
        x and y, about half a pixel apart.
    first : End
        The edge at its beginning.
    second : End
        The edge at its end.
    misfit : float
        How poorly the two match.
    """

    points: Doubles
    first: End
    second: End
    misfit: float


def bridges_of(ends: list[End], hole: Bools) -> list[Bridge]:
    """The best set of bridges that do not cross; each edge is used once.

    Parameters
    ----------
    ends : list of End
        Edges that end at the hole.
    hole : (H, W) bool
        The hole.

    Returns
    -------
    list of Bridge
        The bridges.
    """
    found = [
        bridge
        for i, first in enumerate(ends)
        for second in ends[i + 1 :]
        for bridge in (_arc(first, second, hole), _corner(first, second, hole))
        if bridge is not None
    ]
    chosen: list[Bridge] = []
    used: set[int] = set()
    for bridge in sorted(found, key=lambda each: each.misfit):
        names = {id(bridge.first), id(bridge.second)}
        if names & used or any(crosses(bridge, other) for other in chosen):
            continue
        chosen.append(bridge)
        used |= names
    return chosen


def _unlike(first: End, second: End) -> tuple[float, float]:
    """How far the colours on the more alike side and on the other one are apart: what is left of one, seen inwards, is
    right of the other."""
    left = float(np.linalg.norm(first.left[:3] - second.right[:3]))
    right = float(np.linalg.norm(first.right[:3] - second.left[:3]))
    return min(left, right), max(left, right)


def _arc(first: End, second: End, hole: Bools) -> Bridge | None:
    chord = second.at - first.at
    length = float(np.linalg.norm(chord))
    if length < MIN_LENGTH_PX:
        return None
    leaves, arrives = _angle(first.inwards, chord), _angle(chord, -second.inwards)
    if abs(leaves - arrives) > MAX_ANGLE_DIFFERENCE_RAD or abs(leaves) + abs(arrives) > MAX_TOTAL_TURN_RAD:
        return None
    # The rim of a thing has the thing on one side; what is behind it may change on the way.
    alike, other = _unlike(first, second)
    if alike > MAX_COLOUR_DISTANCE or other > MAX_OTHER_DISTANCE:
        return None
    # The bend that the chord asks for against what was seen outside.
    bend = 2 * np.sin((leaves + arrives) / 2) / length
    bent = max(abs(end.bend * sign - bend) * length for end, sign in ((first, 1), (second, -1)))
    points = _hermite(first.at, first.inwards, second.at, -second.inwards)
    if share_inside(points, hole) < MIN_INSIDE_SHARE:
        return None
    misfit = (
        abs(leaves - arrives) / MAX_ANGLE_DIFFERENCE_RAD
        + (alike + OTHER_WEIGHT * other) / MAX_COLOUR_DISTANCE
        + min(1.6 * bent, 2.0)
        + 0.3 * (abs(leaves) + abs(arrives)) / MAX_TOTAL_TURN_RAD
    )
    misfit += 6.0 / (first.length + second.length)
    return Bridge(points, first, second, misfit) if misfit < MAX_MISFIT else None


def _corner(first: End, second: End, hole: Bools) -> Bridge | None:
    turn = _angle(first.inwards, -second.inwards)
    _, unlike = _unlike(first, second)
    if (
        abs(turn) < MIN_CORNER_ANGLE_RAD
        or unlike > MAX_CORNER_DISTANCE
        or max(abs(first.bend), abs(second.bend)) > 0.01
    ):
        return None
    if min(first.length, second.length) < 16:
        return None
    across = first.inwards[0] * second.inwards[1] - first.inwards[1] * second.inwards[0]
    if abs(across) < 0.3:
        return None
    chord = second.at - first.at
    s = (chord[0] * second.inwards[1] - chord[1] * second.inwards[0]) / across
    u = (chord[0] * first.inwards[1] - chord[1] * first.inwards[0]) / across
    if min(s, u) < 2:
        return None
    corner = first.at + s * first.inwards
    points = np.vstack([straight(first.at, corner), straight(corner, second.at)])
    if share_inside(points, hole) < MIN_INSIDE_SHARE:
        return None
    return Bridge(points, first, second, 1.6 + unlike / MAX_CORNER_DISTANCE + 0.01 * (s + u))


def _angle(one: Doubles, other: Doubles) -> float:
    """The signed angle from one vector to another."""
    return float(np.arctan2(one[0] * other[1] - one[1] * other[0], float(np.dot(one, other))))


def straight(start: Doubles, end: Doubles) -> Doubles:
    """Points along a straight line, about half a pixel apart.

    Parameters
    ----------
    start : (2,) float64
        x and y of its beginning.
    end : (2,) float64
        x and y of its end.

    Returns
    -------
    (n, 2) float64
        The points.
    """
    count = max(int(2 * np.linalg.norm(end - start)), 2)
    share = np.linspace(0, 1, count)[:, None]
    return np.asarray(start * (1 - share) + end * share)


def _hermite(start: Doubles, leaving: Doubles, end: Doubles, arriving: Doubles) -> Doubles:
    """The cubic with given unit tangents; for those of a circle it stays within a few thousandths of it."""
    length = np.linalg.norm(end - start)
    turn = abs(_angle(leaving, end - start)) + abs(_angle(end - start, arriving))
    # The tangents' length with which a cubic is nearest to a circle of this turn (4/3 tan(turn / 4), three times that).
    reach = length if turn < 1e-3 else length * 2 * np.tan(turn / 4) / np.sin(turn / 2)
    count = max(int(2 * length * (1 + turn / 4)), 2)
    t = np.linspace(0, 1, count)[:, None]
    return np.asarray(
        (2 * t**3 - 3 * t**2 + 1) * start
        + (t**3 - 2 * t**2 + t) * reach * leaving
        + (-2 * t**3 + 3 * t**2) * end
        + (t**3 - t**2) * reach * arriving
    )


def share_inside(points: Doubles, hole: Bools) -> float:
    """Share of a line that lies in a hole.

    Parameters
    ----------
    points : (n, 2) float64
        x and y.
    hole : (H, W) bool
        The hole.

    Returns
    -------
    float
        The share, 0 to 1.
    """
    x, y = np.rint(points).astype(int).T
    inside = (x >= 0) & (y >= 0) & (x < hole.shape[1]) & (y < hole.shape[0])
    inside[inside] = hole[y[inside], x[inside]]
    return float(inside.mean())


def crosses(one: Bridge, other: Bridge) -> bool:
    """Whether two bridges come closer than two pixels.

    Parameters
    ----------
    one : Bridge
        The first bridge.
    other : Bridge
        The second bridge.

    Returns
    -------
    bool
        Whether they do.
    """
    offsets = one.points[::4, None] - other.points[None, ::4]
    return bool((np.hypot(offsets[..., 0], offsets[..., 1]) < 2.0).any())
