"""Shapes that mark what goes: strokes, outlines, and areas that were found."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Protocol

import numpy as np
from pydantic import Field

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import Box
from keen_sweep.core.errors import NotFound
from keen_sweep.core.mask.area import Area, AreaLoader
from keen_sweep.core.mask.fit import Fit, fitted
from keen_sweep.core.mask.mask import EMPTY_BOX, Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke

Drawing = Annotated[Stroke | Outline, Field(discriminator="kind")]
Shape = Annotated[Stroke | Outline | Area, Field(discriminator="kind")]
Shapes = Sequence[Stroke | Outline | Area]


class Placed(Protocol):
    """Something that adds to a mask or takes away from it, and the pixels it can touch; not cut to a picture."""

    @property
    def box(self) -> Box: ...
    @property
    def erase(self) -> bool: ...


def no_areas(name: str) -> bytes:
    """The loader of somebody who has only strokes and outlines."""
    raise NotFound("An area of this mark no longer exists.")


def reach_of(shapes: Sequence[Placed], fit: Fit, picture: Box) -> Box:
    """A box round everything that the mask of some shapes may cover, cut to the picture: quick, never too small."""
    box: Box | None = None
    for shape in shapes:
        if not shape.erase:
            box = shape.box if box is None else box.union(shape.box)
    return EMPTY_BOX if box is None else box.grow(fit.reach, picture)


def moved(shape: Stroke | Outline | Area, across: float, down: float) -> Stroke | Outline | Area:
    """A shape shifted by so many pixels; an area by whole ones."""
    if isinstance(shape, Area):
        box = shape.box
        place = Box(x=box.x + round(across), y=box.y + round(down), width=box.width, height=box.height)
        return shape.model_copy(update={"box": place})
    points = tuple((x + across, y + down) for x, y in shape.points)
    return shape.model_copy(update={"points": points})


def cover_of(shape: Stroke | Outline | Area, window: Box, load: AreaLoader) -> EightBit:
    """How much of each pixel of a window one shape covers, (h, w) 0 to 255, whether it adds or takes away."""
    return shape.cover(window, load) if isinstance(shape, Area) else shape.cover(window)


def compose(shapes: Shapes, window: Box, load: AreaLoader = no_areas) -> tuple[EightBit, EightBit]:
    """Shapes in their order over a window: coverage, and what was taken away last, both (h, w) uint8.

    Adding takes the larger coverage of what is there and the shape, taking away leaves at most 255 less the
    shape's coverage.
    """
    mask = np.zeros((window.height, window.width), np.uint8)
    taken = np.zeros_like(mask)
    for shape in shapes:
        box = shape.box.intersect(window)
        if box.empty:
            continue
        cover = cover_of(shape, box, load)
        here = box.relative_to(window).slices
        gaining, losing = (taken, mask) if shape.erase else (mask, taken)
        np.maximum(gaining[here], cover, out=gaining[here])
        np.minimum(losing[here], 255 - cover, out=losing[here])
    return mask, taken


def mask_of(
    shapes: Shapes,
    picture: Box,
    fit: Fit = Fit(),  # noqa: B008 (frozen)
    load: AreaLoader = no_areas,
    guard: Bools | None = None,
) -> Mask:
    """The mask of some shapes in a picture.

    What was taken away by hand stays away when the rest is grown, and so does what lies under the guard
    (height, width). The mask's box is the shapes' reach.
    """
    window = reach_of(shapes, fit, picture)
    if window.empty:
        return Mask(EMPTY_BOX, np.zeros((0, 0), np.uint8))
    mask, taken = compose(shapes, window, load)
    mask = fitted(mask, taken, fit)
    if guard is not None:
        mask[guard[window.slices]] = 0
    return Mask(window, mask)


def guard_of(shapes: Shapes, picture: Box, load: AreaLoader = no_areas) -> Bools | None:
    """(height, width) bool of what a guard covers, however thinly; None where there is none."""
    return compose(shapes, picture, load)[0] > 0 if shapes else None
