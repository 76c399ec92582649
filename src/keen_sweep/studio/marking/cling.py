"""Cling: what was pointed at roughly becomes an exact area of a mark."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.errors import BadMask
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.cling import cling_further
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.pixel_likelihood import MIN_MARGIN_PX
from keen_sweep.core.mask.removable import Removable, fit_of, removable_mask
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.found.under import find_under
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# A rim that was included is mentioned from this width on, pixels.
MIN_RIM_PX = 3


def cling_to(library: Library, frame_id: int, shape: Stroke | Outline, sweep_id: str | None) -> tuple[str, Revision]:
    """The thing under a scribble or a click or within a loose outline, as a new sweep with all that must go with it; or
    added to one.

    What touches the mark of a sweep puts it right near by and never reaches far; what takes away never does.
    """
    current = open_frame(library, frame_id)
    rough = _rough(current, shape)
    if shape.erase or (sweep_id is not None and _touches(current.mask(sweep_id), rough)):
        return marked_as(current, _further(current, rough), sweep_id, shape.erase)
    found = thing_under(current, shape)
    return marked_as(current, found.mask, sweep_id, False, found.rim, found.fit)


def rings_under(library: Library, frame_id: int, dab: Stroke) -> list[Ring]:
    """The outline of what a click would take. Raises BadMask where it lies outside the picture."""
    return rings_of(thing_under(open_frame(library, frame_id), dab).mask)


def thing_under(current: OpenFrame, shape: Stroke | Outline) -> Removable:
    """What a mark means in this picture. Raises BadMask where it lies outside."""
    rough = _rough(current, shape)
    how: How = "outline" if isinstance(shape, Outline) else "click" if shape.is_dab else "scribble"
    if how == "click" and (known := find_under(current, rough)) is not None:
        return Removable(known, 0, fit_of(known))
    # A click says nothing of how large its thing is; of other marks only the surroundings are looked at.
    room = max(rough.box.width, rough.box.height) + 2 * MIN_MARGIN_PX
    window = current.box if how == "click" else rough.box.grow(room, current.box)
    found = removable_mask(current.seen(window), _within(rough, window), how, _guard(current, window))
    return Removable(_moved(found.mask, window), found.rim, found.fit)


def _further(current: OpenFrame, rough: Mask) -> Mask:
    window = rough.box.grow(max(rough.box.width, rough.box.height) + 2 * MIN_MARGIN_PX, current.box)
    return _moved(cling_further(current.seen(window), _within(rough, window), _guard(current, window)), window)


def _rough(current: OpenFrame, shape: Stroke | Outline) -> Mask:
    rough = mask_of([shape.model_copy(update={"erase": False})], current.box)
    if not rough.pixels.any():
        raise BadMask(sentence("This mark lies outside the picture."))
    return rough


def _touches(mask: Mask, rough: Mask) -> bool:
    """Whether a mark begins or ends on a mask, or crosses it."""
    common = mask.box.intersect(rough.box)
    if common.empty:
        return False
    mask_pixels, stroke_pixels = (
        mask.pixels[common.relative_to(mask.box).slices],
        rough.pixels[common.relative_to(rough.box).slices],
    )
    return bool(((mask_pixels > 0) & (stroke_pixels > 0)).any())


def _within(rough: Mask, window: Box) -> Bools:
    near = np.zeros((window.height, window.width), bool)
    near[rough.box.relative_to(window).slices] = rough.pixels > 0
    return near


def _guard(current: OpenFrame, window: Box) -> Bools | None:
    return None if current.guard is None else current.guard[window.slices]


def _moved(found: Mask, window: Box) -> Mask:
    """A mask found in a window of the picture, in the picture."""
    box = found.box
    return Mask(Box(x=box.x + window.x, y=box.y + window.y, width=box.width, height=box.height), found.pixels)


def marked_as(
    current: OpenFrame, found: Mask, sweep_id: str | None, erase: bool, rim: int = 0, fit: Fit | None = None
) -> tuple[str, Revision]:
    """A mask that was found becomes a shape of a sweep, or a new one with its fit."""
    tight = box_of(found.pixels > 0)
    box = Box(x=tight.x + found.box.x, y=tight.y + found.box.y, width=tight.width, height=tight.height)
    area = as_area(Mask(box, found.pixels[tight.slices]), current.library.files.add, erase)
    if rim >= MIN_RIM_PX:
        area = area.model_copy(update={"rim": rim})
    if sweep_id is not None:
        return sweep_id, add_shapes(current.library, current.frame.id, sweep_id, [area])
    return new_sweep(current.library, current.frame.id, [area], fit=fit or fit_of(found))
