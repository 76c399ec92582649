"""How a drawn line lies in a hole: where the hand was near enough to a plain curve between both ends, it is that curve.

A hand is off by some pixels, an edge hardly ever is: what goes on straight, in an even bend or round one corner outside
of the hole is taken to do so inside.
"""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Doubles

# How far a hand may be off the curve that it means, pixels.
HAND_PX = 6.0
# The same as a share of the line's length.
HAND_SHARE = 0.03
# How much nearer a bend must be than the straight line, pixels.
PREFERENCE_PX = 1.0
# Length of a stretch outside that tells its direction, pixels.
TANGENT_PX = 24.0
# Shortest stretch that does, pixels.
MIN_TANGENT_PX = 8.0
# Angle between the directions outside from which a line may turn a corner, radians.
MIN_CORNER_RAD = 0.35


def straightened(inside: Doubles, before: Doubles, after: Doubles) -> Doubles:
    """Replace a drawn line by the plain curve that it is near to.

    Parameters
    ----------
    inside : (n, 2) float64
        x and y of the line in the hole, at even distances.
    before : (k, 2) float64
        x and y of what it continues at its beginning, from the rim outwards.
    after : (m, 2) float64
        The same at its end.

    Returns
    -------
    (n, 2) float64
        The straight line between both ends, two straight lines that meet, or the cubic curve that leaves both ends in
        the directions outside, whichever is nearest and within reach of a hand; else the line as it was drawn.

    References
    ----------
    Farin 2002, "Curves and Surfaces for CAGD", on cubic Hermite curves.
    """
    if len(inside) < 3:
        return inside
    first, last = inside[0], inside[-1]
    chord = last - first
    length = float(np.hypot(*chord))
    tolerance = max(HAND_PX, HAND_SHARE * length)
    share = np.linspace(0, 1, len(inside))[:, None]
    come, go = _direction(before), _direction(after)
    curves = [first + share * chord]
    if come is not None and go is not None:
        corner = _meeting(first, -come, last, -go)
        if corner is not None:
            curves.append(_two_lines(first, corner, last, len(inside)))
        # Into the hole from the beginning, out of it at the end.
        start, end = -come * length, go * length
        curves.append(
            (2 * share**3 - 3 * share**2 + 1) * first
            + (share**3 - 2 * share**2 + share) * start
            + (3 * share**2 - 2 * share**3) * last
            + (share**3 - share**2) * end
        )
    distances = [_away(inside, curve) for curve in curves]
    # Where it is about as near, the straight line is meant.
    best = min(range(len(curves)), key=lambda k: distances[k] + PREFERENCE_PX * (k > 0))
    return curves[best] if distances[best] <= tolerance else inside


def _direction(outside: Doubles) -> Doubles | None:
    """Direction in which a stretch leads away from the hole, a unit vector; None where it is too short to tell."""
    if len(outside) < 2:
        return None
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(outside, axis=0).T))])
    if along[-1] < MIN_TANGENT_PX:
        return None
    near = outside[along <= TANGENT_PX]
    centred = near - near.mean(axis=0)
    direction = np.linalg.svd(centred, full_matrices=False)[2][0]
    return np.asarray(direction if (near[-1] - near[0]) @ direction > 0 else -direction)


def _meeting(first: Doubles, come: Doubles, last: Doubles, go: Doubles) -> Doubles | None:
    """Where the lines from both ends into the hole meet; None where they go on into each other, or never meet."""
    cross = float(come[0] * go[1] - come[1] * go[0])
    turn = float(np.arctan2(abs(cross), -(come @ go)))
    if turn < MIN_CORNER_RAD:
        return None
    between = last - first
    ahead = float(between[0] * go[1] - between[1] * go[0]) / cross
    back = float(between[0] * come[1] - between[1] * come[0]) / cross
    return np.asarray(first + ahead * come) if ahead > 0 and back > 0 else None


def _two_lines(first: Doubles, corner: Doubles, last: Doubles, count: int) -> Doubles:
    points = np.stack([first, corner, last])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    at = np.linspace(0, float(along[-1]), count)
    return np.stack([np.interp(at, along, points[:, k]) for k in range(2)], 1)


def _away(drawn: Doubles, curve: Doubles) -> float:
    """The largest distance of a drawn point from a curve, pixels."""
    from scipy.spatial import cKDTree  # not loaded when the server starts

    return float(np.max(cKDTree(curve).query(drawn)[0]))
