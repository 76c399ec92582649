"""Connected parts of a mask."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import Box, box_of


@dataclass(frozen=True)
class Part:
    """A connected part of a mask.

    Attributes
    ----------
    box : Box
        Its box.
    inside : (h, w) bool
        True on the part, within the box.
    radius : float
        Radius of the largest disc that fits into it, pixels.
    """

    box: Box
    inside: Bools
    radius: float

    @property
    def area(self) -> int:
        return int(self.inside.sum())


def parts_of(mask: EightBit) -> list[Part]:
    """Connected parts of a mask (8-connected), from top to bottom.

    Parameters
    ----------
    mask : (H, W) uint8
        The mask; non-zero pixels count.

    Returns
    -------
    list of Part
        The parts.
    """
    around = box_of(mask > 0)
    if around.empty:
        return []
    near = (mask[around.slices] > 0).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(near, connectivity=8)
    parts = []
    for number in range(1, count):
        x, y, width, height = (int(v) for v in stats[number, :4])
        inside = labels[y : y + height, x : x + width] == number
        box = Box(x=x + around.x, y=y + around.y, width=width, height=height)
        framed = np.pad(inside.astype(np.uint8), 1)
        radius = float(cv2.distanceTransform(framed, cv2.DIST_L2, cv2.DIST_MASK_PRECISE).max())
        parts.append(Part(box=box, inside=inside, radius=radius))
    return sorted(parts, key=lambda part: (part.box.y, part.box.x))


def sections(part: Part, length: int) -> list[Part]:
    """Cut a long part along a grid of squares.

    A wire crosses sky, trees and walls, and what suits one of them does not suit the next.

    Parameters
    ----------
    part : Part
        The part.
    length : int
        Side of the squares, pixels.

    Returns
    -------
    list of Part
        One part for each square; the part itself if it is short.
    """
    if max(part.box.width, part.box.height) <= 2 * length:
        return [part]
    out = []
    for top in range(0, part.box.height, length):
        for left in range(0, part.box.width, length):
            inside = part.inside[top : top + length, left : left + length]
            tight = box_of(inside)
            if not tight.empty:
                box = Box(
                    x=part.box.x + left + tight.x, y=part.box.y + top + tight.y, width=tight.width, height=tight.height
                )
                out.append(Part(box=box, inside=inside[tight.slices], radius=part.radius))
    return out


def rejoined(part: Part, bits: list[Part]) -> list[Part]:
    """Join sections of a part that touch each other.

    Parameters
    ----------
    part : Part
        The part that was cut.
    bits : list of Part
        Some of its sections.

    Returns
    -------
    list of Part
        The joined parts.
    """
    if not bits or bits == [part]:
        return bits
    mask = np.zeros(part.inside.shape, np.uint8)
    for bit in bits:
        mask[bit.box.relative_to(part.box).slices] |= bit.inside.astype(np.uint8)
    return [
        Part(
            box=each.box.moved(part.box.x, part.box.y),
            inside=each.inside,
            radius=each.radius,
        )
        for each in parts_of(mask)
    ]
