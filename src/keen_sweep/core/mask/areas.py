"""Separate areas of a mask, and masks as shapes of a mark."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.core.mask.area import Area, area_to_bytes
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.parts import parts_of

# Areas closer to each other than this count as one, pixels.
MIN_AREA_DISTANCE_PX = 8
# A mask with more areas than this is treated as one: they are specks.
MAX_AREAS = 12
# Number of areas into which a mask can be split on request.
MAX_SPLIT_AREAS = 200
# Keeps the bytes of an area and gives the name they are found by.
AreaKeeper = Callable[[bytes], str]


def areas_of(mask: Mask, most: int = MAX_AREAS) -> list[Mask]:
    """Separate areas of a mask, from top to bottom.

    Parameters
    ----------
    mask : Mask
        The mask.
    most : int, optional
        A mask with more areas than this, such as specks, is returned as one.

    Returns
    -------
    list of Mask
        The areas, each with its own box; empty for an empty mask.
    """
    if mask.box.empty:
        return []
    square = np.ones((MIN_AREA_DISTANCE_PX + 1, MIN_AREA_DISTANCE_PX + 1), np.uint8)
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
    """Convert a mask to a shape of a mark.

    Parameters
    ----------
    mask : Mask
        The mask.
    keep : AreaKeeper
        Stores a file and returns its name.
    erase : bool, optional
        Whether the shape takes away from the mask.

    Returns
    -------
    Area
        The shape.
    """
    return Area(file=keep(area_to_bytes(mask.pixels)), box=mask.box, erase=erase)
