"""The plane that a wall, a façade, paving or planks lie in, and the picture of it seen straight on.

Two families of parallel lines meet in two vanishing points; the line through both is where the plane ends, and sending
it back to infinity makes the plane flat again (Liebowitz & Zisserman 1998; Huang et al. 2014 fill in such planes).
There a wall repeats itself at the same offsets everywhere (He & Sun 2012), which it does not as it was taken.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, EightBit, Matrix
from keen_sweep.core.methods.segments import segments_of

# Shorter segments say little, pixels.
MIN_SEGMENT_PX = 10.0
# Largest angle between a segment and the direction to its vanishing point, radians.
MAX_AIM_RAD = 0.03
PAIR_TRIES = 600
RANDOM_SEED = 7
# Share of the length of all lines that each of two families has at least.
MIN_FAMILY_SHARE = 0.05
# Share of the length of all lines that both families have together at least.
MIN_PAIR_SHARE = 0.38
# Smallest angle between two families, radians.
MIN_FAMILY_ANGLE_RAD = 0.5
# From this share together on, a plane dominates the picture.
RULING_SHARE = 0.55
# The rectified picture is nowhere more than this ratio larger or smaller than at the hole's centre.
MAX_STRETCH = 2.5
# A smaller relative change of scale is not worth rectifying.
MIN_DEPTH_CHANGE = 0.04


@dataclass(frozen=True)
class Plane:
    """A plane of a picture and its rectification.

    Attributes
    ----------
    to : (3, 3) float64
        Homography from the picture to the rectified picture, for x, y, 1.
    back : (3, 3) float64
        Its inverse.
    size : tuple of 2 int
        Width and height of the rectified picture, pixels.
    """

    to: Matrix
    back: Matrix
    size: tuple[int, int]


@dataclass(frozen=True)
class Families:
    """Two families of lines.

    Attributes
    ----------
    first : (3,) float64
        Vanishing point x, y, w of the first family.
    second : (3,) float64
        Vanishing point of the second family.
    share : float
        Share of the length of all lines that belongs to them, 0 to 1.
    """

    first: Doubles
    second: Doubles
    share: float

    @property
    def rule(self) -> bool:
        """Whether hardly anything but what was built is to be seen, straight on or at an angle."""
        return self.share >= RULING_SHARE


def families_of(luma: EightBit, known: Bools) -> Families | None:
    """The two families that contain most lines of a picture.

    Parameters
    ----------
    luma : (H, W) uint8
        Lightness.
    known : (H, W) bool
        Pixels that count.

    Returns
    -------
    Families or None
        The families; None where there are too few lines.
    """
    segments = _segments(luma, known)
    if len(segments) < 16:
        return None
    lengths = np.hypot(*(segments[:, 2:] - segments[:, :2]).T)
    random = np.random.default_rng(RANDOM_SEED)
    first, one = _family(segments, lengths, np.ones(len(segments), np.bool_), random)
    second, other = _family(segments, lengths, ~one & ~_along(segments, first), random)
    total = lengths.sum()
    shares = lengths[one].sum() / total, lengths[other].sum() / total
    if min(shares) < MIN_FAMILY_SHARE or sum(shares) < MIN_PAIR_SHARE:
        return None
    return Families(first, second, float(sum(shares)))


def plane_of(families: Families, shape: tuple[int, ...], at: tuple[float, float]) -> Plane | None:
    """The plane spanned by two families of lines.

    Parameters
    ----------
    families : Families
        The families.
    shape : tuple of int
        Height and width of the picture.
    at : tuple of 2 float
        x and y of the hole, which keeps its size.

    Returns
    -------
    Plane or None
        The plane; None where the picture is as good as flat, or the plane is seen at too sharp an angle.
    """
    return _flattening(families.first, families.second, shape, at)


def _segments(luma: EightBit, known: Bools) -> Doubles:
    """Line segments (n, 4) that are long enough and lie on what is known."""
    segments = segments_of(luma)
    segments = segments[np.hypot(*(segments[:, 2:] - segments[:, :2]).T) >= MIN_SEGMENT_PX]
    near = cv2.dilate((~known).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    ends = np.rint(segments).astype(int)
    x, y = np.clip(ends[:, ::2], 0, luma.shape[1] - 1), np.clip(ends[:, 1::2], 0, luma.shape[0] - 1)
    return np.asarray(segments[~near[y, x].any(axis=1)])


def _lines(segments: Doubles) -> Doubles:
    start, end = (np.column_stack([segments[:, k : k + 2], np.ones(len(segments))]) for k in (0, 2))
    lines = np.cross(start, end)
    return np.asarray(lines / np.linalg.norm(lines[:, :2], axis=1, keepdims=True))


def _off(segments: Doubles, point: Doubles) -> Doubles:
    """Angles (..., n) between segments and the ways from their middles to points (..., 3), x, y, w (w may be 0)."""
    x, y = ((segments[:, k] + segments[:, k + 2]) / 2 for k in (0, 1))
    way_x, way_y = (point[..., k, None] - point[..., 2, None] * middle for k, middle in ((0, x), (1, y)))
    along_x, along_y = (segments[:, 2:] - segments[:, :2]).T
    across = along_x * way_y - along_y * way_x
    norm = np.hypot(along_x, along_y) * np.maximum(np.hypot(way_x, way_y), 1e-9)
    return np.asarray(np.arcsin(np.clip(np.abs(across) / norm, 0, 1)))


def _family(segments: Doubles, lengths: Doubles, free: Bools, random: np.random.Generator) -> tuple[Doubles, Bools]:
    """The vanishing point that most length of the free segments aims at, and which do (Fischler & Bolles 1981)."""
    names = np.flatnonzero(free)
    none = np.zeros(len(segments), np.bool_)
    best, chosen = np.array([1.0, 0.0, 0.0]), none
    if len(names) < 8:
        return best, none
    lines = _lines(segments)
    chance = lengths[names] / lengths[names].sum()
    pairs = random.choice(names, (PAIR_TRIES, 2), p=chance)
    pairs = pairs[pairs[:, 0] != pairs[:, 1]]
    points = np.cross(lines[pairs[:, 0]], lines[pairs[:, 1]])
    sizes = np.linalg.norm(points, axis=1)
    points = points[sizes >= 1e-9] / sizes[sizes >= 1e-9, None]
    aims = free & (_off(segments, points) < MAX_AIM_RAD)
    aimed = aims @ lengths
    most = float(aimed.max(initial=0))
    if most > 0:
        first = int(aimed.argmax())
        best, chosen = points[first], aims[first]
    if chosen.sum() >= 3:  # the point nearest to all of their lines
        weighted = lines[chosen] * lengths[chosen, None]
        scale = np.array([1, 1, 1.0 / max(np.abs(segments).max(), 1.0)])
        _, _, axes = np.linalg.svd(weighted * scale)
        refined = axes[-1] * scale
        aims = free & (_off(segments, refined) < MAX_AIM_RAD)
        if lengths[aims].sum() >= most:
            best, chosen = refined, aims
    return best, chosen


def _along(segments: Doubles, point: Doubles) -> Bools:
    """Segments that run too much like a family to be of another."""
    return np.asarray(_off(segments, point) < MIN_FAMILY_ANGLE_RAD)


def _flattening(first: Doubles, second: Doubles, shape: tuple[int, ...], at: tuple[float, float]) -> Plane | None:
    height, width = shape[:2]
    # About the middle of the hole, so that it keeps its size.
    move = np.array([[1, 0, -at[0]], [0, 1, -at[1]], [0, 0, 1.0]])
    one, other = move @ first, move @ second
    horizon = np.cross(one, other)
    if abs(horizon[2]) < 1e-9 * np.linalg.norm(horizon):
        return None
    horizon = horizon / horizon[2]
    corners = np.array([[0, 0, 1], [width, 0, 1], [width, height, 1], [0, height, 1.0]]) @ move.T
    depth = corners @ np.array([horizon[0], horizon[1], 1.0])
    if depth.min() < 1 / MAX_STRETCH or depth.max() > MAX_STRETCH or depth.max() - depth.min() < MIN_DEPTH_CHANGE:
        return None
    perspective = np.array([[1, 0, 0], [0, 1, 0], [horizon[0], horizon[1], 1]])
    # Both families along the axes, each with its length at the hole.
    ways = np.column_stack([(perspective @ each)[:2] for each in (one, other)])
    ways /= np.linalg.norm(ways, axis=0)
    if abs(np.linalg.det(ways)) < 0.3:
        return None
    if abs(ways[0, 0]) < abs(ways[0, 1]):
        ways = ways[:, ::-1]
    ways *= np.sign([ways[0, 0], ways[1, 1]])
    upright = np.eye(3)
    upright[:2, :2] = np.linalg.inv(ways)
    to = upright @ perspective @ move
    flat = corners @ np.linalg.inv(move).T @ to.T
    flat = flat[:, :2] / flat[:, 2:]
    low, high = flat.min(axis=0), flat.max(axis=0)
    size = np.ceil(high - low).astype(int)
    if size.prod() > 4 * width * height:
        return None
    to = np.array([[1, 0, -low[0]], [0, 1, -low[1]], [0, 0, 1.0]]) @ to
    return Plane(to, np.linalg.inv(to), (int(size[0]), int(size[1])))


def map_points(points: Doubles, transform: Matrix) -> Doubles:
    """Map points by a homography.

    Parameters
    ----------
    points : (n, 2) float64
        x and y.
    transform : (3, 3) float64
        The homography.

    Returns
    -------
    (n, 2) float64
        The mapped points.
    """
    out = np.column_stack([points, np.ones(len(points))]) @ transform.T
    return np.asarray(out[:, :2] / out[:, 2:])
