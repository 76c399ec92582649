"""Poles that carry a wire, and will carry nothing once it is gone: upright bars that a wire touches.

A bar is a pair of upright line segments (LSD, Grompone von Gioi et al. 2010) of opposite contrast, near each other.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, EightBit, Floats
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.methods.segments import segments_of

# Tangent of the largest angle to the vertical.
MAX_LEAN = 0.14
# Height and width of a pole as shares of the picture's height.
MIN_HEIGHT_SHARE = 0.1
MIN_WIDTH_SHARE = 0.002
MAX_WIDTH_SHARE = 0.04
# Share of the shorter side over which both sides overlap.
MIN_SIDE_OVERLAP = 0.6
# A wire comes this close, pixels.
WIRE_DISTANCE_PX = 12
MARGIN_PX = 2.0
# More bars than this belong to a building.
MAX_POLES = 3


@dataclass(frozen=True)
class Side:
    """An upright edge.

    Attributes
    ----------
    top : float
        Upper row.
    bottom : float
        Lower row.
    x_top : float
        Column at the top.
    x_bottom : float
        Column at the bottom.
    lighter : bool
        Whether it is lighter to its right.
    """

    top: float
    bottom: float
    x_top: float
    x_bottom: float
    lighter: bool

    def x(self, y: float) -> float:
        share = (y - self.top) / max(self.bottom - self.top, 1e-6)
        return self.x_top + share * (self.x_bottom - self.x_top)


def poles_at(pixels: EightBit, wires: Bools) -> list[Mask]:
    """Find poles that wires touch.

    Parameters
    ----------
    pixels : (H, W, 3) uint8
        The picture.
    wires : (H, W) bool
        The wires.

    Returns
    -------
    list of Mask
        Masks, tallest first; empty where there are too many bars.
    """
    if not wires.any():
        return []
    height = pixels.shape[0]
    sides = _sides(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), MIN_HEIGHT_SHARE * height)
    reach = (
        np.asarray(
            cv2.dilate(wires.astype(np.uint8), np.ones((2 * WIRE_DISTANCE_PX + 1, 2 * WIRE_DISTANCE_PX + 1), np.uint8))
        )
        > 0
    )
    found: list[tuple[float, Mask]] = []
    for k, left in enumerate(sides):
        for right in sides[k + 1 :]:
            bar = _bar(left, right, height)
            if bar is None:
                continue
            mask = _mask(bar, pixels.shape[:2])
            if (reach[mask.box.slices] & (mask.pixels > 0)).any():
                found.append((bar[0, 1] - bar[-1, 1], mask))
    kept: list[Mask] = []
    for _, mask in sorted(found, key=lambda pair: pair[0]):
        if all(mask.box.intersect(k.box).area < 0.3 * mask.box.area for k in kept):
            kept.append(mask)
    return kept if len(kept) <= MAX_POLES else []


def _sides(grey: NDArray[np.generic], least: float) -> list[Side]:
    """Upright segments, joined where one carries another on, from left to right."""
    parts = []
    plane = np.asarray(grey, np.float32)
    for x0, y0, x1, y1 in segments_of(np.asarray(grey, np.uint8)):
        if abs(y1 - y0) < least / 6 or abs(x1 - x0) > MAX_LEAN * abs(y1 - y0):
            continue
        (xt, yt), (xb, yb) = sorted(((x0, y0), (x1, y1)), key=lambda p: p[1])
        parts.append(Side(yt, yb, xt, xb, _lighter(plane, xt, yt, xb, yb)))
    parts.sort(key=lambda s: (s.x_top, s.top))
    joined: list[Side] = []
    for part in sorted(parts, key=lambda s: s.top):
        for k, known in enumerate(joined):
            gap = part.top - known.bottom
            if known.lighter == part.lighter and -4 < gap < least / 2 and abs(known.x(part.top) - part.x_top) < 3:
                joined[k] = Side(known.top, max(part.bottom, known.bottom), known.x_top, part.x_bottom, known.lighter)
                break
        else:
            joined.append(part)
    return sorted((s for s in joined if s.bottom - s.top >= least), key=lambda s: s.x_top)


def _lighter(plane: Floats, xt: float, yt: float, xb: float, yb: float) -> bool:
    """Whether it is lighter to the right of a segment."""
    steps = np.linspace(0.1, 0.9, 15)
    y = np.clip(np.rint(yt + steps * (yb - yt)).astype(int), 0, plane.shape[0] - 1)
    x = xt + steps * (xb - xt)
    right = np.clip(np.rint(x + 2).astype(int), 0, plane.shape[1] - 1)
    left = np.clip(np.rint(x - 2).astype(int), 0, plane.shape[1] - 1)
    return bool(plane[y, right].mean() > plane[y, left].mean())


def _bar(left: Side, right: Side, height: int) -> Doubles | None:
    """The corners (4, 2) of the bar between two sides, if they make one; the top ones first and last."""
    top, bottom = max(left.top, right.top), min(left.bottom, right.bottom)
    shorter = min(left.bottom - left.top, right.bottom - right.top)
    if left.lighter == right.lighter or bottom - top < MIN_SIDE_OVERLAP * shorter:
        return None
    widths = right.x(top) - left.x(top), right.x(bottom) - left.x(bottom)
    if min(widths) < max(MIN_WIDTH_SHARE * height, 2) or max(widths) > MAX_WIDTH_SHARE * height:
        return None
    top, bottom = min(left.top, right.top), max(left.bottom, right.bottom)
    corners = [(left.x(top), top), (left.x(bottom), bottom), (right.x(bottom), bottom), (right.x(top), top)]
    return np.array(corners)


def _mask(bar: Doubles, shape: tuple[int, int]) -> Mask:
    out = bar + np.array(
        [[-MARGIN_PX, -MARGIN_PX], [-MARGIN_PX, MARGIN_PX], [MARGIN_PX, MARGIN_PX], [MARGIN_PX, -MARGIN_PX]]
    )
    low, high = np.floor(out.min(axis=0)).astype(int), np.ceil(out.max(axis=0)).astype(int) + 1
    room = Box(x=0, y=0, width=shape[1], height=shape[0])
    box = Box(x=int(low[0]), y=int(low[1]), width=int(high[0] - low[0]), height=int(high[1] - low[1])).intersect(room)
    canvas = np.zeros((box.height, box.width), np.uint8)
    cv2.fillPoly(canvas, [np.rint((out - np.array([box.x, box.y])) * 16).astype(np.int32)], 255, cv2.LINE_8, 4)
    tight = box_of(canvas > 0)
    moved = tight.moved(box.x, box.y)
    return Mask(moved, np.ascontiguousarray(canvas[tight.slices]))
