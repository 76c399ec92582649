"""Separate areas of a mark: taken apart, so that each can be filled for itself, and joined again."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import Box
from keen_sweep.core.mask.areas import MAX_AREAS, areas_of, as_area
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.shape import cover_of
from keen_sweep.document.mark import Keep, Mark, shapes_of
from keen_sweep.document.shelf import Shelf


def apart(mark: Mark, picture: Box, shelf: Shelf, keep: Keep, most: int = MAX_AREAS) -> list[Mark]:
    """A mark for each separate area, or the whole mark if there are more than most.

    Shapes stay what they were unless one of them lies in several areas: then the areas are kept as they are.
    """
    areas = areas_of(mark.mask(picture, shelf), most)
    if len(areas) <= 1:
        return [mark]
    groups: list[list[int]] = [[] for _ in areas]
    for number, shape in enumerate(shapes_of(mark.shapes, shelf)):
        covers = (cover_of(shape, area.box, shelf.read) for area in areas)
        touched = [k for k, cover in enumerate(covers) if _touches(cover, areas[k], mark.fit)]
        if not shape.erase and len(touched) != 1:
            return [Mark(shapes=(as_area(area, keep),)) for area in areas]
        for k in touched:
            groups[k].append(number)
    marks = [mark.model_copy(update={"shapes": tuple(mark.shapes[n] for n in group)}) for group in groups]
    # What takes away may count where it lies beside what is left of a shape.
    if all(_is(each, area, picture, shelf) for each, area in zip(marks, areas, strict=True)):
        return marks
    return [Mark(shapes=(as_area(area, keep),)) for area in areas]


def _is(mark: Mark, area: Mask, picture: Box, shelf: Shelf) -> bool:
    """Whether a mark covers an area, and that alone."""
    size = (picture.width, picture.height)
    return np.array_equal(mark.mask(picture, shelf).full(*size), area.full(*size))


def joined(marks: Sequence[Mark], picture: Box, shelf: Shelf, keep: Keep) -> Mark:
    """One mark that covers what several do."""
    together = Mark(shapes=tuple(shape for mark in marks for shape in mark.shapes), fit=marks[0].fit)
    masks = [mark.mask(picture, shelf) for mark in marks]
    wanted = np.zeros((picture.height, picture.width), np.uint8)
    for mask in masks:
        np.maximum(wanted[mask.box.slices], mask.pixels, out=wanted[mask.box.slices])
    alike = all(mark.fit == marks[0].fit for mark in marks)
    if alike and np.array_equal(together.mask(picture, shelf).full(picture.width, picture.height), wanted):
        return together
    return Mark(shapes=tuple(as_area(mask, keep) for mask in masks), fit=Fit())


def _touches(cover: EightBit, area: Mask, fit: Fit) -> bool:
    """Whether a shape's coverage of an area's box belongs to it: it lies on the mask, or makes it by its margin."""
    if not cover.any():
        return False
    if ((cover > 0) & (area.pixels > 0)).any():
        return True
    return fit.margin < 0
