"""What of a hole's surroundings stands apart and would be out of place in it: a pen on a table, a boat on water.

Nothing is known by name. A region that is closed (maximally stable, Matas et al. 2002), unlike what is round it, unlike
all that the hole's rim shows, and the only one of its kind is a thing; ground repeats itself, and what the rim shows
may go on in the hole.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.photo.channels import to_eight_bit

# Longer side at working size, pixels.
WORKING_SIDE_PX = 360
# Size of a region, as shares of the surroundings.
MIN_REGION_SHARE = 0.0004
MAX_REGION_SHARE = 0.10
# Shorter side of a region: slips of shade between things are none, pixels at working size.
MIN_WIDTH_PX = 6
# A region must hardly change over this many levels of lightness or colour.
STABLE_STEPS = 6
# Largest relative change of its area over these levels.
MAX_AREA_CHANGE = 0.3
# Distance between a region's colour and what is beside it, L*a*b*.
MIN_COLOUR_DISTANCE = 12.0
# Width of what counts as beside it, pixels at working size.
BESIDE_MARGIN_PX = 4
# Width of the hole's rim, pixels at working size.
RIM_WIDTH_PX = 9
# Share of the rim in a region's colours from which on the region is wanted as a source.
MIN_RIM_SHARE = 0.04
# Colours closer than this are the same, L*a*b*.
SAME_COLOUR_DISTANCE = 9.0
# With this many regions like it, a region is ground.
MIN_LIKE_REGIONS = 3
# With this multiple of its area in its colours elsewhere, it is ground.
MIN_AREA_RATIO = 2.0
# A region's edge and contact shadow reach this far, pixels at working size.
EDGE_MARGIN_PX = 3


def outliers_of(pixels: Pixels, hole: Bools, known: Bools) -> Bools:
    """Regions that stand out from the surroundings and should not be copied into a hole.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        The surroundings.
    hole : (h, w) bool
        The hole.
    known : (h, w) bool
        Known pixels.

    Returns
    -------
    (h, w) bool
        The regions.
    """
    height, width = hole.shape
    scale = min(1.0, WORKING_SIDE_PX / max(hole.shape))
    size = (max(round(width * scale), 8), max(round(height * scale), 8))
    small = np.asarray(cv2.resize(to_eight_bit(np.ascontiguousarray(pixels)), size, interpolation=cv2.INTER_AREA))
    seen = cv2.resize(known.astype(np.uint8), size, interpolation=cv2.INTER_AREA) > 0
    gone = cv2.resize(hole.astype(np.float32), size, interpolation=cv2.INTER_AREA) > 0
    lab = np.asarray(cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), np.float32)
    found = _small_strays(lab, gone, seen & ~gone)
    if not found.any():
        return np.zeros_like(hole)
    return cv2.resize(found.astype(np.uint8), (width, height), interpolation=cv2.INTER_NEAREST) > 0


def _small_strays(lab: Floats, hole: Bools, known: Bools) -> Bools:
    out = np.zeros(hole.shape, np.bool_)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * RIM_WIDTH_PX + 1,) * 2)
    rim = (cv2.dilate(hole.astype(np.uint8), disc) > 0) & known
    if not rim.any():
        return out
    regions = [
        each for each in _regions(lab, hole, known) if np.linalg.norm(each.mean - each.beside) >= MIN_COLOUR_DISTANCE
    ]
    if not regions:
        return out
    shown, ground = _some(lab[rim]), _some(lab[known])
    means = np.array([each.mean for each in regions])
    areas = np.array([each.area for each in regions])
    asked = (_apart(means, shown) < SAME_COLOUR_DISTANCE).mean(axis=1) > MIN_RIM_SHARE
    # How much there is of its colours, itself aside.
    like = (_apart(means, ground) < SAME_COLOUR_DISTANCE).mean(axis=1) * known.sum() - np.array(
        [each.own for each in regions]
    )
    for k in np.flatnonzero(~asked & (like <= MIN_AREA_RATIO * areas)):
        alike = (
            (_apart(means[k : k + 1], means)[0] < SAME_COLOUR_DISTANCE)
            & (areas > areas[k] / 3)
            & (areas < areas[k] * 3)
        )
        if sum(regions[j].box.intersect(regions[k].box).empty for j in np.flatnonzero(alike)) < MIN_LIKE_REGIONS:
            out[regions[k].box.slices] |= regions[k].inside
    return cv2.dilate(out.astype(np.uint8), np.ones((2 * EDGE_MARGIN_PX + 1,) * 2, np.uint8)) > 0


@dataclass(frozen=True)
class _Region:
    """A stable region: where it is, its mean colour and that beside it, its pixels, and how many have its colour."""

    box: Box
    inside: Bools
    mean: Floats
    beside: Floats
    area: int
    own: int


def _regions(lab: Floats, hole: Bools, known: Bools) -> list[_Region]:
    """Stable regions of lightness and of both colours that end before the hole and before the border."""
    height, width = known.shape
    finder = cv2.MSER.create(
        STABLE_STEPS,
        max(int(MIN_REGION_SHARE * known.size), 24),
        max(int(MAX_REGION_SHARE * known.size), 25),
        MAX_AREA_CHANGE,
    )
    near = cv2.dilate(hole.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    out: list[_Region] = []
    for plane in (lab[..., 0] * 2.55, lab[..., 1] * 2 + 128, lab[..., 2] * 2 + 128):
        grey = np.clip(plane, 0, 255).astype(np.uint8)
        grey[~known] = int(np.median(grey[known]))
        for points in finder.detectRegions(grey)[0]:
            x, y = np.asarray(points, np.int32).T
            if x.min() < 2 or y.min() < 2 or x.max() >= width - 2 or y.max() >= height - 2 or near[y, x].any():
                continue
            if min(cv2.minAreaRect(np.stack([x, y], 1))[1]) < MIN_WIDTH_PX:
                continue
            box = Box(x=int(x.min()), y=int(y.min()), width=int(np.ptp(x)) + 1, height=int(np.ptp(y)) + 1)
            region = _region(lab, known, box, x, y)
            if region is not None:
                out.append(region)
    return out


def _region(lab: Floats, known: Bools, box: Box, x: NDArray[np.int32], y: NDArray[np.int32]) -> _Region | None:
    room = box.grow(BESIDE_MARGIN_PX, whole(known))
    inside = np.zeros((room.height, room.width), np.uint8)
    inside[y - room.y, x - room.x] = 1
    beside = (cv2.dilate(inside, np.ones((2 * BESIDE_MARGIN_PX + 1,) * 2, np.uint8)) > 0) & known[room.slices]
    beside &= cv2.dilate(inside, np.ones((3, 3), np.uint8)) == 0
    if not beside.any():
        return None
    colours = lab[y, x]
    mean = colours.mean(axis=0)
    own = int((np.linalg.norm(colours - mean, axis=1) < SAME_COLOUR_DISTANCE).sum())
    around = np.median(lab[room.slices][beside], axis=0)
    return _Region(room, inside > 0, mean, np.asarray(around, np.float32), len(x), own)


def _some(colours: Floats, most: int = 4_000) -> Floats:
    return colours[:: max(len(colours) // most, 1)]


def _apart(one: Floats, other: Floats) -> Floats:
    """Distances (n, m) of colours (n, 3) and (m, 3)."""
    return np.asarray(np.linalg.norm(one[:, None] - other[None], axis=2), np.float32)
