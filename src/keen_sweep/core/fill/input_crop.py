"""Cut: as much of a picture as a fill looks at, so that no more has to be sent to another machine."""

from __future__ import annotations

from dataclasses import replace
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.fill.closing import SURROUNDINGS_PX
from keen_sweep.core.fill.engine import Engine, FillInput, NearSighted
from keen_sweep.core.fill.lead import with_grounds
from keen_sweep.core.fill.weave.scene import surroundings

A = TypeVar("A", bound=NDArray[np.generic])
# Crops begin at multiples of this, so that coarser levels use the same grid as the whole picture, pixels.
CROP_STEP_PX = 64


def crop_input(engine: Engine, given: FillInput) -> tuple[Engine, FillInput, Box]:
    """Crop a fill's input to what its engine reads; takes of the crop are exactly the same.

    Engines that need the whole picture, and fills with hints, are not cropped.

    Parameters
    ----------
    engine : Engine
        The engine.
    given : FillInput
        The fill's input.

    Returns
    -------
    tuple of (Engine, FillInput, Box)
        The engine, the cropped input, and the box of the crop.
    """
    worded = (given.words.hint or given.words.avoid) and given.sources.draw_from is None
    if not isinstance(engine, NearSighted) or worded or not given.mask.any():
        return engine, given, whole(given.below)
    window = box_read(given)
    return engine.near(window), cropped(given, window), window


def box_read(given: FillInput) -> Box:
    """Part of the picture that a fill reads.

    Parameters
    ----------
    given : FillInput
        The fill's input.

    Returns
    -------
    Box
        Its box.
    """
    all_of_it, tight = whole(given.below), box_of(given.mask)
    seen = surroundings(tight, all_of_it).union(tight.grow(SURROUNDINGS_PX + CROP_STEP_PX, all_of_it))
    if given.sources.draw_from is not None and given.sources.draw_from.any():
        seen = seen.union(box_of(given.sources.draw_from))
    seen = with_grounds(seen, given.lead, tight, all_of_it)
    x, y = seen.x // CROP_STEP_PX * CROP_STEP_PX, seen.y // CROP_STEP_PX * CROP_STEP_PX
    return Box(x=x, y=y, width=seen.right - x, height=seen.bottom - y)


def cropped(given: FillInput, window: Box) -> FillInput:
    """Crop a fill's input.

    Parameters
    ----------
    given : FillInput
        The fill's input.
    window : Box
        The crop.

    Returns
    -------
    FillInput
        The cropped input.
    """

    def part(plane: A) -> A:
        return np.ascontiguousarray(plane[window.slices])  # type: ignore[return-value]

    guard = None if given.guard is None else part(given.guard)
    sources = given.sources.within(window)
    lead = tuple(line.moved(-window.x, -window.y) for line in given.lead)
    return replace(given, below=part(given.below), mask=part(given.mask), guard=guard, sources=sources, lead=lead)
