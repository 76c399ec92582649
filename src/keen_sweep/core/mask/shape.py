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
from keen_sweep.core.mask.fit import Fit, fit_mask
from keen_sweep.core.mask.mask import EMPTY_BOX, Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.sentences import sentence

Drawing = Annotated[Stroke | Outline, Field(discriminator="kind")]
Shape = Annotated[Stroke | Outline | Area, Field(discriminator="kind")]
Shapes = Sequence[Stroke | Outline | Area]


class Placed(Protocol):
    """A shape that adds to a mask or takes away from it."""

    @property
    def box(self) -> Box: ...
    @property
    def erase(self) -> bool: ...


def no_areas(name: str) -> bytes:
    """Area loader for marks without areas.

    Parameters
    ----------
    name : str
        Content hash of the file.

    Returns
    -------
    bytes
        Never returns.

    Raises
    ------
    LibraryTrouble
        Always: there is no such file.
    """
    raise NotFound(sentence("An area of this mark no longer exists."))


def reach_of(shapes: Sequence[Placed], fit: Fit, picture: Box) -> Box:
    """Box that contains the mask of some shapes: quick to compute, never too small.

    Parameters
    ----------
    shapes : sequence of Placed
        The shapes.
    fit : Fit
        Fit of the mask.
    picture : Box
        Box of the picture.

    Returns
    -------
    Box
        The box, cut to the picture.
    """
    box: Box | None = None
    for shape in shapes:
        if not shape.erase:
            box = shape.box if box is None else box.union(shape.box)
    return EMPTY_BOX if box is None else box.grow(fit.reach, picture)


def moved(shape: Stroke | Outline | Area, across: float, down: float) -> Stroke | Outline | Area:
    """Shift a shape.

    Parameters
    ----------
    shape : Stroke or Outline or Area
        The shape.
    across : float
        Distance to the right, pixels; whole pixels for an area.
    down : float
        Distance downwards, pixels.

    Returns
    -------
    Stroke or Outline or Area
        The shifted shape.
    """
    if isinstance(shape, Area):
        box = shape.box
        place = Box(x=box.x + round(across), y=box.y + round(down), width=box.width, height=box.height)
        return shape.model_copy(update={"box": place})
    points = tuple((x + across, y + down) for x, y in shape.points)
    return shape.model_copy(update={"points": points})


def cover_of(shape: Stroke | Outline | Area, window: Box, load: AreaLoader) -> EightBit:
    """Coverage of one shape, whether it adds or takes away.

    Parameters
    ----------
    shape : Stroke or Outline or Area
        The shape.
    window : Box
        Window of the picture.
    load : AreaLoader
        Loads the file of an area.

    Returns
    -------
    (h, w) uint8
        Coverage, 0 to 255.
    """
    return shape.cover(window, load) if isinstance(shape, Area) else shape.cover(window)


def compose(shapes: Shapes, window: Box, load: AreaLoader = no_areas) -> tuple[EightBit, EightBit]:
    """Draw shapes in their order.

    Adding takes the larger of the existing coverage and the shape's; taking away leaves at most 255 less the
    shape's coverage.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    window : Box
        Window of the picture.
    load : AreaLoader, optional
        Loads the file of an area.

    Returns
    -------
    tuple of (h, w) uint8
        Coverage, and what was taken away last.
    """
    mask = np.zeros((window.height, window.width), np.uint8)
    taken = np.zeros_like(mask)
    for shape in shapes:
        box = shape.box.intersect(window)
        if box.empty:
            continue
        cover = cover_of(shape, box, load)
        part = box.relative_to(window).slices
        gaining, losing = (taken, mask) if shape.erase else (mask, taken)
        np.maximum(gaining[part], cover, out=gaining[part])
        np.minimum(losing[part], 255 - cover, out=losing[part])
    return mask, taken


def mask_of(
    shapes: Shapes,
    picture: Box,
    fit: Fit = Fit(),  # noqa: B008 (frozen)
    load: AreaLoader = no_areas,
    guard: Bools | None = None,
) -> Mask:
    """Mask of some shapes.

    What was erased by hand stays erased when the rest is grown, and so does what lies under the guard.

    Parameters
    ----------
    shapes : Shapes
        The shapes.
    picture : Box
        Box of the picture.
    fit : Fit, optional
        Fit of the mask.
    load : AreaLoader, optional
        Loads the file of an area.
    guard : (H, W) bool or None, optional
        Guarded pixels.

    Returns
    -------
    Mask
        The mask; its box is that of `reach_of`.
    """
    window = reach_of(shapes, fit, picture)
    if window.empty:
        return Mask(EMPTY_BOX, np.zeros((0, 0), np.uint8))
    mask, taken = compose(shapes, window, load)
    mask = fit_mask(mask, taken, fit)
    if guard is not None:
        mask[guard[window.slices]] = 0
    return Mask(window, mask)


def guard_of(shapes: Shapes, picture: Box, load: AreaLoader = no_areas) -> Bools | None:
    """Pixels that a guard covers, however thinly.

    Parameters
    ----------
    shapes : Shapes
        The guard's shapes.
    picture : Box
        Box of the picture.
    load : AreaLoader, optional
        Loads the file of an area.

    Returns
    -------
    (H, W) bool or None
        The pixels; None where there is no guard.
    """
    return compose(shapes, picture, load)[0] > 0 if shapes else None
