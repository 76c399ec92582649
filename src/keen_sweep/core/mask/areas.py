"""Separate areas of a mask, and masks as shapes of a mark."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.core.mask.area import Area, area_to_bytes
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.parts import parts_of

# Areas that come nearer to each other than this are one, pixels; and so are more of them than this: specks.
APART = 8
MOST = 12
# Areas into which a mask can be split at most on request.
MOST_SPLIT = 200
# Keeps the bytes of an area and gives the name they are found by.
AreaKeeper = Callable[[bytes], str]


def areas_of(mask: Mask, most: int = MOST) -> list[Mask]:
    """The separate areas of a mask, from top to bottom. More than most of them, as specks are, count as one."""
    if mask.box.empty:
        return []
    square = np.ones((APART + 1, APART + 1), np.uint8)
    spread = np.asarray(cv2.dilate((mask.pixels > 0).astype(np.uint8), square), np.uint8)
    found = parts_of(spread)
    if len(found) <= 1 or len(found) > most:
        return [mask] if found else []
    out = []
    for part in found:
        inside = np.where(part.inside, mask.pixels[part.box.slices], 0).astype(np.uint8)
        box = part.box.moved(mask.box.x, mask.box.y)
        out.append(Mask(box, inside))
    return out


def as_area(mask: Mask, keep: AreaKeeper, erase: bool = False) -> Area:
    """A mask as a shape of a mark."""
    return Area(file=keep(area_to_bytes(mask.pixels)), box=mask.box, erase=erase)
