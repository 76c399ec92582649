"""A mark: the shapes that were drawn or accepted, how they are fitted to the thing, and the mask that results."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.box import Box
from keen_sweep.core.errors import NotFound
from keen_sweep.core.mask.area import Area, AreaLoader
from keen_sweep.core.mask.fit import Fit, fitted
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke

Shape = Annotated[Stroke | Outline | Area, Field(discriminator="kind")]
NOTHING = Box(x=0, y=0, width=0, height=0)


class Mark(BaseModel):
    """What goes, in picture pixels: shapes in the order they were made, and how the mask is fitted to them."""

    model_config = ConfigDict(frozen=True)

    shapes: tuple[Shape, ...] = ()
    fit: Fit = Fit()

    def reach(self, picture: Box) -> Box:
        """A box round everything that the mask may cover, cut to the picture: quick, and never too small."""
        box: Box | None = None
        for shape in self.shapes:
            if not shape.erase:
                box = shape.box if box is None else box.union(shape.box)
        return NOTHING if box is None else box.grow(self.fit.reach, picture)


@dataclass(frozen=True)
class Mask:
    """A mask in its box: pixels (h, w) uint8, 255 where the picture is replaced; beyond the box there is none."""

    box: Box
    pixels: NDArray[np.uint8]

    def full(self, width: int, height: int) -> NDArray[np.uint8]:
        """The mask at the picture's size, (height, width)."""
        out = np.zeros((height, width), np.uint8)
        out[self.box.slices] = self.pixels
        return out


def moved(mark: Mark, across: float, down: float) -> Mark:
    """A mark shifted by so many pixels; areas by whole ones."""
    shapes: list[Shape] = []
    for shape in mark.shapes:
        if isinstance(shape, Area):
            box = shape.box
            place = Box(x=box.x + round(across), y=box.y + round(down), width=box.width, height=box.height)
            shapes.append(shape.model_copy(update={"box": place}))
        else:
            points = tuple((x + across, y + down) for x, y in shape.points)
            shapes.append(shape.model_copy(update={"points": points}))
    return mark.model_copy(update={"shapes": tuple(shapes)})


def no_areas(name: str) -> bytes:
    """The loader of somebody who has only strokes and outlines."""
    raise NotFound("An area of this mark is not there any more.")


def cover_of(shape: Stroke | Outline | Area, window: Box, load: AreaLoader) -> NDArray[np.uint8]:
    """How much of each pixel of a window one shape covers, (h, w) 0 to 255, whether it adds or takes away."""
    return shape.cover(window, load) if isinstance(shape, Area) else shape.cover(window)


def compose(
    shapes: Sequence[Stroke | Outline | Area], window: Box, load: AreaLoader = no_areas
) -> tuple[NDArray[np.uint8], NDArray[np.uint8]]:
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
    mark: Mark, width: int, height: int, load: AreaLoader = no_areas, guard: NDArray[np.bool_] | None = None
) -> Mask:
    """The mask of a mark in a picture of some size.

    What was taken away by hand stays away when the rest is grown, and so does what lies under the guard
    (height, width). The box is the mark's reach.
    """
    picture = Box(x=0, y=0, width=width, height=height)
    window = mark.reach(picture)
    if window.empty:
        return Mask(NOTHING, np.zeros((0, 0), np.uint8))
    mask, taken = compose(mark.shapes, window, load)
    mask = fitted(mask, taken, mark.fit)
    if guard is not None:
        mask[guard[window.slices]] = 0
    return Mask(window, mask)


def guard_of(
    shapes: Sequence[Stroke | Outline | Area], width: int, height: int, load: AreaLoader = no_areas
) -> NDArray[np.bool_] | None:
    """(height, width) bool of what a guard covers, however thinly; None where there is none."""
    if not shapes:
        return None
    return compose(shapes, Box(x=0, y=0, width=width, height=height), load)[0] > 0
