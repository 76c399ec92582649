"""A first look at a fill: roughly what will be there, small, at once, until the first take is made."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.photo.channels import to_eight_bit

# Longer side of the surroundings at working size, pixels.
WORKING_SIDE_PX = 300


@dataclass(frozen=True)
class FirstLook:
    """A rough preview of a fill.

    Attributes
    ----------
    box : Box
        Its box in the given picture.
    pixels : (h, w, 4) uint8
        RGBA, smaller than the box.
    """

    box: Box
    pixels: EightBit


def first_look(around: Pixels, mask: EightBit, lead: tuple[LeadLine, ...] = ()) -> FirstLook | None:
    """Preview a fill roughly.

    Parameters
    ----------
    around : (h, w, 3) uint8 or uint16
        The hole's surroundings.
    mask : (h, w) uint8
        The mask.
    lead : tuple of LeadLine, optional
        Lines that the photographer drew, in pixels of the surroundings.

    Returns
    -------
    FirstLook or None
        The preview; None where there is nothing to copy.
    """
    height, width = mask.shape
    if not mask.any():
        return None
    scale = min(1.0, WORKING_SIDE_PX / max(height, width))
    size = max(round(width * scale), 8), max(round(height * scale), 8)
    small = _resized(to_eight_bit(np.ascontiguousarray(around)), size)
    cover = _resized(mask, size)
    # What is covered in part only must not shine through.
    hole = np.asarray(cv2.dilate(np.where(cover > 0, 255, 0).astype(np.uint8), np.ones((3, 3), np.uint8)), np.uint8)
    lines = tuple(line.reduced(1 / scale) for line in lead)
    given = FillInput(below=small, mask=hole, takes=1, quality=Quality.FAST, cores=1, lead=lines)
    try:
        (patch,) = ByPart(Method.AUTO).fill(given)
    except BadMask:
        return None
    lay(small, whole(small), patch)
    at = box_of(hole)
    rgba = np.dstack([small[at.slices], hole[at.slices]])
    across, down = width / size[0], height / size[1]
    left, top = round(at.x * across), round(at.y * down)
    box = Box(x=left, y=top, width=round(at.right * across) - left, height=round(at.bottom * down) - top)
    return FirstLook(box, np.ascontiguousarray(rgba))


def _resized(pixels: EightBit, size: tuple[int, int]) -> EightBit:
    return np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.uint8)
