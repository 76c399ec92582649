"""What the photographer says the picture shows twice: mirrored over a drawn axis, or again and again along a drawn row.

Each pixel of the hole copies its image as it is; a hand that draws an axis or a row is off by a little, so both are
moved to where the surroundings fit best.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.core.fill.lead import LeadLine, mirrored_over
from keen_sweep.core.fill.weave.lead_strips import Strips
from keen_sweep.core.methods.seam import IMAGE_BIT

# How far a drawn axis is moved aside, pixels, and turned, degrees, to where the surroundings mirror best.
MAX_AXIS_SHIFT_PX = 8.0
MAX_AXIS_TURN_DEG = 3.0
# What each pixel and each degree of that adds to the misfit.
SHIFT_COST = 0.01
TURN_COST = 0.03
# An axis this near to upright or level is, unless another fits clearly better, degrees: its pixels are copied exactly.
NEARLY_STRAIGHT_DEG = 3.0
STRAIGHT_BONUS = 0.95
# Width of the surroundings that are compared, share of the hole's longer side; and at least, pixels.
RING_SHARE = 0.6
MIN_RING_PX = 16
# Larger differences count as this much, L*a*b*.
MAX_DIFFERENCE = 40.0
MAX_COMPARED = 3000
# Fewer compared places say nothing.
MIN_COMPARED = 40
# Shortest repeat, pixels.
MIN_PERIOD_PX = 6
# Longest repeat, share of the row: it must be seen more than once.
MAX_PERIOD_SHARE = 0.6
# Standard deviation within which texture is evened out when repeats are looked for, pixels.
TEXTURE_SIGMA_PX = 2.0
# A shorter repeat is taken if its misfit exceeds the best by no more than this share of the range.
SHORTER_SHARE = 0.05
# What repeats differs by at most this share of what places in the row differ by in the median.
MAX_REPEAT_SHARE = 0.7
# How far a repeat may lie off the drawn row, pixels.
MAX_OFF_ROW_PX = 4
# What each pixel of that adds to the misfit, L*a*b*.
OFF_ROW_COST = 0.05
# Number of repeats over which one is copied, at most.
MAX_REPEATS = 24

Image = Callable[[Doubles], Doubles]


def images_of(lines: Sequence[LeadLine], colours: Floats, hole: Bools, known: Bools) -> Strips | None:
    """Find what each pixel copies by the mirrors and rows that were drawn.

    Parameters
    ----------
    lines : sequence of LeadLine
        Lines that bring a mirror or a repeat, in pixels of the picture; others are left out.
    colours : (H, W, 3) float32
        L*a*b* of the picture.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    Strips or None
        The pixels that have an image, the first line's before those of the next; None without any.
    """
    mask = np.zeros(hole.shape, np.bool_)
    sources = np.zeros((*hole.shape, 2), np.int32)
    pieces = np.zeros(hole.shape, np.int32)
    # Joining reads beside each source too.
    usable = cv2.erode(known.astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=0) > 0
    number = 0
    for line in lines:
        for image in _images(line, colours, hole, known):
            places = np.argwhere(hole & ~mask)
            found = np.rint(image(places[:, ::-1].astype(np.float64))).astype(np.int64)[:, ::-1]
            inside = np.asarray((found >= 0).all(axis=1) & (found < hole.shape).all(axis=1))
            inside[inside] = usable[tuple(found[inside].T)]
            if not inside.any():
                continue
            number += 1
            rows, columns = places[inside].T
            mask[rows, columns] = True
            sources[rows, columns] = found[inside]
            pieces[rows, columns] = IMAGE_BIT + number % IMAGE_BIT
    return Strips(mask, sources, pieces) if mask.any() else None


def over(first: Strips | None, second: Strips | None) -> Strips | None:
    """Lay strips over others.

    Parameters
    ----------
    first : Strips or None
        What lies on top.
    second : Strips or None
        What lies below.

    Returns
    -------
    Strips or None
        Both; None without any.
    """
    if first is None or second is None:
        return first or second
    return Strips(
        first.mask | second.mask,
        np.where(first.mask[..., None], first.sources, second.sources),
        np.where(first.mask, first.pieces, second.pieces),
    )


def _images(line: LeadLine, colours: Floats, hole: Bools, known: Bools) -> list[Image]:
    """Maps (n, 2) from places to what the picture shows there again, the best first."""
    ends = line.xy[[0, -1]]
    if line.brings == "mirror":
        near = _near(hole, known)
        return [_mirror(*_fitted_axis(ends, near, colours, known))]
    if line.brings == "repeat":
        step = _period(ends, colours, hole, known)
        if step is None:
            return []
        # Whole steps keep every copied pixel as it is.
        times = [k * sign for k in range(1, MAX_REPEATS + 1) for sign in (1, -1)]
        return [_moved(np.rint(k * step)) for k in times]
    return []


def _mirror(point: Doubles, normal: Doubles) -> Image:
    return lambda places: mirrored_over(places, point, normal)


def _moved(step: Doubles) -> Image:
    return lambda places: places + step


def _near(hole: Bools, known: Bools) -> Doubles:
    """Known places (n, 2) round a hole, x and y."""
    rows, columns = np.nonzero(hole)
    side = max(int(np.ptp(rows)), int(np.ptp(columns))) + 1
    away = cv2.distanceTransform((~hole).astype(np.uint8), cv2.DIST_L2, 5)
    return _some(np.argwhere(known & (away <= max(RING_SHARE * side, MIN_RING_PX)))[:, ::-1].astype(np.float64))


def _some(places: Doubles) -> Doubles:
    return places[:: max(-(-len(places) // MAX_COMPARED), 1)]


def _misfit(places: Doubles, image: Image, colours: Floats, known: Bools) -> float:
    """Mean difference between places and their images; infinite where hardly any of these is known."""
    found = np.rint(image(places)).astype(np.int64)
    inside = np.asarray((found >= 0).all(axis=1) & (found < np.array(known.shape[::-1])).all(axis=1))
    inside[inside] = known[found[inside, 1], found[inside, 0]]
    if np.count_nonzero(inside) < MIN_COMPARED:
        return float("inf")
    at = places[inside].astype(np.int64)
    differ = np.linalg.norm(colours[at[:, 1], at[:, 0]] - colours[found[inside, 1], found[inside, 0]], axis=1)
    return float(np.minimum(differ, MAX_DIFFERENCE).mean())


def _fitted_axis(ends: Doubles, near: Doubles, colours: Floats, known: Bools) -> tuple[Doubles, Doubles]:
    """A point of the axis and its unit normal, where the surroundings mirror best."""
    middle, along = ends.mean(axis=0), ends[1] - ends[0]
    drawn = float(np.degrees(np.arctan2(along[1], along[0])))
    best, found = float("inf"), (middle, _normal(drawn))
    straight = 90.0 * round(drawn / 90)
    turns = {drawn + turn for turn in np.arange(-MAX_AXIS_TURN_DEG, MAX_AXIS_TURN_DEG + 0.1, 0.5)}
    if abs(straight - drawn) <= NEARLY_STRAIGHT_DEG:
        turns.add(straight)
    for angle in sorted(turns):
        normal = _normal(angle)
        for shift in np.arange(-MAX_AXIS_SHIFT_PX, MAX_AXIS_SHIFT_PX + 0.1, 0.5):
            point = middle + shift * normal
            if angle == straight:
                # Between two pixels or on one.
                point = np.round(point * 2) / 2
            cost = 1 + SHIFT_COST * abs(shift) + TURN_COST * abs(angle - drawn)
            misfit = _misfit(near, _mirror(point, normal), colours, known) * cost
            misfit *= STRAIGHT_BONUS if angle == straight else 1.0
            if misfit < best:
                best, found = misfit, (point, normal)
    return found


def _normal(angle: float) -> Doubles:
    """The unit normal of a direction in degrees; exact for whole quarter turns."""
    return np.round(np.array([-np.sin(np.radians(angle)), np.cos(np.radians(angle))]), 12)


def _period(ends: Doubles, colours: Floats, hole: Bools, known: Bools) -> Doubles | None:
    """The step (2,) after which the picture along a row is the same again; None where it does not repeat."""
    along = ends[1] - ends[0]
    length = float(np.hypot(*along))
    unit = along / max(length, 1e-9)
    normal = np.array([-unit[1], unit[0]])
    rows, columns = np.nonzero(hole)
    across = (np.stack([columns, rows], 1) - ends[0]) @ normal
    every = np.argwhere(known)[:, ::-1].astype(np.float64)
    aside, depth = (every - ends[0]) @ normal, (every - ends[0]) @ unit
    in_row = (aside >= across.min() - 2) & (aside <= across.max() + 2) & (depth >= 0) & (depth <= length)
    places = _some(every[in_row])
    periods = np.arange(MIN_PERIOD_PX, int(MAX_PERIOD_SHARE * length) + 1)
    if len(places) < MIN_COMPARED or not len(periods):
        return None
    # Grass between bars is never the same twice.
    colours = _evened(colours, known)
    misfits = np.array([_misfit(places, _moved(np.rint(period * unit)), colours, known) for period in periods])
    finite = np.isfinite(misfits)
    if not finite.any():
        return None
    usual = float(np.median(misfits[finite]))
    # Everything is like itself moved by little: a repeat comes after what is unlike.
    risen = np.flatnonzero(finite & (misfits >= usual))[0]
    misfits[:risen] = np.inf
    low = float(misfits.min())
    if low > MAX_REPEAT_SHARE * usual:
        return None
    inner = np.concatenate([[np.inf], misfits, [np.inf]])
    lowest = (
        np.isfinite(misfits)
        & (misfits <= inner[:-2])
        & (misfits <= inner[2:])
        & (misfits <= low + SHORTER_SHARE * (usual - low))
    )
    period = float(periods[np.flatnonzero(lowest)[0]])
    return _fitted_step(period, unit, normal, places, colours, known)


def _evened(colours: Floats, known: Bools) -> Floats:
    """Colours without texture, from known pixels alone."""
    weight = cv2.GaussianBlur(known.astype(np.float32), (0, 0), TEXTURE_SIGMA_PX)
    mean = cv2.GaussianBlur(colours * known[..., None], (0, 0), TEXTURE_SIGMA_PX)
    return np.asarray(mean / np.maximum(weight, 1e-3)[..., None], np.float32)


def _fitted_step(
    period: float, unit: Doubles, normal: Doubles, places: NDArray[np.float64], colours: Floats, known: Bools
) -> Doubles:
    """A repeat's step to a fraction of a pixel: the farther it is looked for, the finer it is known."""
    tried = [
        (period + more) * unit + aside * normal
        for more in np.arange(-1, 1.01, 0.25)
        for aside in np.arange(-MAX_OFF_ROW_PX, MAX_OFF_ROW_PX + 0.1, 0.5)
    ]

    def misfit(step: Doubles) -> float:
        seen = [_misfit(places, _moved(np.rint(k * step)), colours, known) for k in (1, 2, 3)]
        finite = [each for each in seen if np.isfinite(each)]
        return float(np.mean(finite)) + OFF_ROW_COST * abs(float(step @ normal)) if finite else float("inf")

    return min(tried, key=misfit)
