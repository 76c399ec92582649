"""Separate areas of a mark: taken apart, so that each can be filled for itself, and joined again."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.mask.area import Area, AreaLoader, area_to_bytes
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mark import Mark, Mask, cover_of, mask_of
from keen_sweep.core.mask.parts import parts_of

# Areas that come nearer to each other than this are one, pixels; and so are more of them than this: specks.
APART, MOST = 8, 12
# Keeps the bytes of an area and gives the name they are found by.
AreaKeeper = Callable[[bytes], str]


def areas_of(mask: Mask) -> list[Mask]:
    """The separate areas of a mask, from top to bottom. Very many, as specks are, count as one."""
    if mask.box.empty:
        return []
    square = np.ones((APART + 1, APART + 1), np.uint8)
    spread = np.asarray(cv2.dilate((mask.pixels > 0).astype(np.uint8), square), np.uint8)
    found = parts_of(spread)
    if len(found) <= 1 or len(found) > MOST:
        return [mask] if found else []
    out = []
    for part in found:
        inside = np.where(part.inside, mask.pixels[part.box.slices], 0).astype(np.uint8)
        box = Box(x=part.box.x + mask.box.x, y=part.box.y + mask.box.y, width=part.box.width, height=part.box.height)
        out.append(Mask(box, inside))
    return out


def apart(mark: Mark, width: int, height: int, load: AreaLoader, keep: AreaKeeper) -> list[Mark]:
    """A mark for each separate area. Shapes stay what they were unless one of them lies in several areas: then
    the areas are kept as they are."""
    areas = areas_of(mask_of(mark, width, height, load))
    if len(areas) <= 1:
        return [mark]
    groups: list[list[int]] = [[] for _ in areas]
    for number, shape in enumerate(mark.shapes):
        touched = [k for k, area in enumerate(areas) if _touches(cover_of(shape, area.box, load), area, mark.fit)]
        if not shape.erase and len(touched) != 1:
            return [Mark(shapes=(as_area(area, keep),)) for area in areas]
        for k in touched:
            groups[k].append(number)
    return [mark.model_copy(update={"shapes": tuple(mark.shapes[n] for n in group)}) for group in groups]


def joined(marks: Sequence[Mark], width: int, height: int, load: AreaLoader, keep: AreaKeeper) -> Mark:
    """One mark that covers what several do."""
    together = Mark(shapes=tuple(shape for mark in marks for shape in mark.shapes), fit=marks[0].fit)
    masks = [mask_of(mark, width, height, load) for mark in marks]
    wanted = np.zeros((height, width), np.uint8)
    for mask in masks:
        np.maximum(wanted[mask.box.slices], mask.pixels, out=wanted[mask.box.slices])
    alike = all(mark.fit == marks[0].fit for mark in marks)
    if alike and np.array_equal(mask_of(together, width, height, load).full(width, height), wanted):
        return together
    return Mark(shapes=tuple(as_area(mask, keep) for mask in masks), fit=Fit())


def as_area(mask: Mask, keep: AreaKeeper, erase: bool = False) -> Area:
    """A mask as a shape of a mark."""
    return Area(file=keep(area_to_bytes(mask.pixels)), box=mask.box, erase=erase)


def _touches(cover: NDArray[np.uint8], area: Mask, fit: Fit) -> bool:
    """Whether a shape's coverage of an area's box belongs to it: it lies on the mask, or makes it by its margin."""
    if not cover.any():
        return False
    if ((cover > 0) & (area.pixels > 0)).any():
        return True
    return fit.margin < 0
