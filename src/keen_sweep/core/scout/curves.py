"""Bits of thin lines joined to long ones: straight, or sagging as wires do.

A hanging wire is a catenary, which a parabola follows to well under a pixel at the sags that wires have; seen at an
angle it stays one (common practice, no source). Each curve is v = a + b u + c u^2 in axes of its own.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import skimage
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats

# Likelihood from which on a pixel may belong to a line.
MIN_LIKELIHOOD = 0.22
# Likelihood that its strongest pixel must reach.
MIN_PEAK_LIKELIHOOD = 0.45
# Shortest piece that starts a curve, pixels.
MIN_SEED_PIXELS = 14
# Distance from a curve within which points join it, pixels.
MAX_DISTANCE_PX = 2.0
# Growth of that distance with the length of the gap.
DISTANCE_PER_GAP = 0.025
# Difference in direction up to which points join a curve, radians.
MAX_ANGLE_RAD = 0.22
# Longest gap in a curve, share of the curve's length.
MAX_GAP_SHARE = 0.6
# Gaps up to this length are always bridged, pixels.
MIN_GAP_PX = 30.0
MAX_SAG = 0.35
GROWING_ROUNDS = 8
MAX_SEEDS = 220


@dataclass(frozen=True)
class Curve:
    """A parabola a + b u + c u^2 along an axis.

    Attributes
    ----------
    origin : tuple of 2 float
        x and y of the origin of the axis.
    axis : tuple of 2 float
        Direction of the axis, a unit vector.
    model : tuple of 3 float
        a, b and c.
    u0 : float
        Position of its beginning on the axis.
    u1 : float
        Position of its end.
    """

    origin: tuple[float, float]
    axis: tuple[float, float]
    model: tuple[float, float, float]
    u0: float
    u1: float

    def points(self, step: float = 1.0) -> Doubles:
        """Points along it, (n, 2) x and y, about step pixels apart."""
        u = np.linspace(self.u0, self.u1, max(int(abs(self.u1 - self.u0) / step) + 1, 2))
        return self.at(u)

    def at(self, u: Doubles) -> Doubles:
        a, b, c = self.model
        v = a + b * u + c * u * u
        across, along = np.array([-self.axis[1], self.axis[0]]), np.array(self.axis)
        return np.asarray(np.array(self.origin) + u[:, None] * along + v[:, None] * across)

    @property
    def length(self) -> float:
        steps = np.diff(self.points(4.0), axis=0)
        return float(np.hypot(steps[:, 0], steps[:, 1]).sum())

    @property
    def sag(self) -> float:
        """How far it bends from straight, as a share of its length."""
        return abs(self.model[2]) * (self.u1 - self.u0) ** 2 / 4 / max(self.length, 1.0)


@dataclass(frozen=True)
class Ridge:
    """Pixels of thin lines.

    Attributes
    ----------
    places : (n, 2) float64
        x and y.
    angles : (n,) float64
        Directions, radians.
    bits : (n,) int64
        Label of the connected piece.
    sizes : (m,) int64
        Pixels of each piece.
    """

    places: Doubles
    angles: Doubles
    bits: NDArray[np.int64]
    sizes: NDArray[np.int64]


def curves_in(likelihood: Floats) -> list[Curve]:
    """Find long thin curves; each piece is used once.

    Parameters
    ----------
    likelihood : (H, W) float32
        Likelihood of lines, 0 to 1.

    Returns
    -------
    list of Curve
        The curves, longest first.
    """
    ridge = _ridge(likelihood)
    used = np.zeros(len(ridge.places), bool)
    curves: list[Curve] = []
    for bit in np.argsort(-ridge.sizes)[:MAX_SEEDS]:
        if ridge.sizes[bit] < MIN_SEED_PIXELS:
            break
        mine = ridge.bits == bit
        if used[mine].mean() > 0.4:
            continue
        grown = _grown(ridge, mine & ~used, used)
        if grown is not None:
            curve, members = grown
            used |= members
            curves.append(curve)
    return sorted(curves, key=lambda c: -c.length)


def _ridge(likelihood: Floats) -> Ridge:
    """The middle lines of what is likely, cut where lines meet."""
    calm = cv2.GaussianBlur(likelihood, (0, 0), 0.8)
    strong = np.asarray(calm > MIN_LIKELIHOOD)
    count, labels = cv2.connectedComponents(strong.astype(np.uint8), connectivity=8)
    best = np.zeros(count)
    np.maximum.at(best, np.asarray(labels, np.int64).ravel(), calm.ravel())
    strong &= best[labels] > MIN_PEAK_LIKELIHOOD
    thin: Bools = np.asarray(skimage.morphology.skeletonize(strong))
    neighbours = cv2.boxFilter(thin.astype(np.float32), -1, (3, 3), normalize=False)
    thin &= ~np.asarray(cv2.dilate((thin & (neighbours > 3.5)).astype(np.uint8), np.ones((3, 3), np.uint8))).astype(
        bool
    )
    count, labels, stats, _ = cv2.connectedComponentsWithStats(thin.astype(np.uint8), connectivity=8)
    rows, columns = np.nonzero(thin)
    # The structure tensor (Foerstner & Guelch 1987) of the likelihood gives the direction of each line.
    across, down = cv2.Sobel(calm, cv2.CV_32F, 1, 0), cv2.Sobel(calm, cv2.CV_32F, 0, 1)
    xx, yy, xy = (cv2.GaussianBlur(p, (0, 0), 3.0) for p in (across * across, down * down, across * down))
    normal = 0.5 * np.arctan2(2 * np.asarray(xy), np.asarray(xx) - np.asarray(yy))
    return Ridge(
        places=np.stack([columns, rows], axis=1).astype(np.float64),
        angles=np.asarray(normal[rows, columns] + np.pi / 2, np.float64),
        bits=(labels[rows, columns] - 1).astype(np.int64),
        sizes=stats[1:, cv2.CC_STAT_AREA].astype(np.int64),
    )


def _grown(ridge: Ridge, seed: Bools, used: Bools) -> tuple[Curve, Bools] | None:
    """A curve through a bit and all that carries it on."""
    members = seed.copy()
    curve: Curve | None = None
    for turn in range(GROWING_ROUNDS):
        if members.sum() < MIN_SEED_PIXELS:
            return None
        curve = _fitted(ridge.places[members], straight=turn == 0)
        u, v = _seen_from(curve, ridge.places)
        a, b, c = curve.model
        off = np.abs(v - (a + b * u + c * u * u))
        gap = np.maximum(np.maximum(curve.u0 - u, u - curve.u1), 0)
        heading = np.arctan2(curve.axis[1], curve.axis[0]) + np.arctan(b + 2 * c * u)
        turned = np.abs((ridge.angles - heading + np.pi / 2) % np.pi - np.pi / 2)
        reach = max(MIN_GAP_PX, MAX_GAP_SHARE * (curve.u1 - curve.u0))
        joins = ~used & (off < MAX_DISTANCE_PX + DISTANCE_PER_GAP * gap) & (turned < MAX_ANGLE_RAD) & (gap < reach)
        if (joins == members).all():
            break
        members = joins
    if curve is None or members.sum() < MIN_SEED_PIXELS or curve.sag > MAX_SAG:
        return None
    return curve, members


def _fitted(places: Doubles, straight: bool) -> Curve:
    """A line or parabola through places, in the axes of their spread."""
    middle = places.mean(axis=0)
    rest = places - middle
    _, _, turns = np.linalg.svd(rest[:: max(len(rest) // 500, 1)], full_matrices=False)
    axis = (float(turns[0, 0]), float(turns[0, 1]))
    u = rest @ np.array(axis)
    v = rest @ np.array([-axis[1], axis[0]])
    long = np.ptp(u) > 4 * MIN_SEED_PIXELS
    powers = (np.ones_like(u), u, u * u) if long and not straight else (np.ones_like(u), u)
    found, *_ = np.linalg.lstsq(np.stack(powers, axis=1), v, rcond=None)
    a, b, c = (*(float(k) for k in found), 0.0)[:3]
    return Curve((float(middle[0]), float(middle[1])), axis, (a, b, c), float(u.min()), float(u.max()))


def _seen_from(curve: Curve, places: Doubles) -> tuple[Doubles, Doubles]:
    rest = places - np.array(curve.origin)
    return rest @ np.array(curve.axis), rest @ np.array([-curve.axis[1], curve.axis[0]])
