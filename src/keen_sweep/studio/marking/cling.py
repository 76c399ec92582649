"""Cling: what was pointed at roughly becomes an exact area of a mark."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.errors import BadMask
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.edge import margin_for
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.likely import LEAST_ROUND, How
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Pixels
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.sitting import Sitting, sit


def cling_to(library: Library, frame_id: int, shape: Stroke | Outline, sweep_id: str | None) -> tuple[str, Revision]:
    """The thing under a scribble or within a loose outline, added to a sweep (taken away if the shape takes away),
    or as a new one with the margin that its edge needs."""
    here = sit(library, frame_id)
    rough = mask_of([shape.model_copy(update={"erase": False})], here.box)
    if not rough.pixels.any():
        raise BadMask("This mark lies outside the picture.")
    # Only the surroundings that cling looks at are rendered.
    window = rough.box.grow(max(rough.box.width, rough.box.height) + 2 * LEAST_ROUND, here.box)
    below = here.seen(window)
    near = np.zeros((window.height, window.width), bool)
    near[rough.box.relative_to(window).slices] = rough.pixels > 0
    how: How = "outline" if isinstance(shape, Outline) else "scribble"
    found = cling(below, near, how, None if here.guard is None else here.guard[window.slices])
    return marked_as(here, below, found, window, sweep_id, shape.erase)


def marked_as(
    here: Sitting, pixels: Pixels, found: Mask, window: Box, sweep_id: str | None, erase: bool
) -> tuple[str, Revision]:
    """A mask found in a window of the picture becomes a shape of a sweep."""
    tight = box_of(found.pixels > 0)
    cover = found.pixels[tight.slices]
    x, y = tight.x + found.box.x + window.x, tight.y + found.box.y + window.y
    placed = Mask(Box(x=x, y=y, width=tight.width, height=tight.height), cover)
    area = as_area(placed, here.library.files.add, erase)
    if sweep_id is not None:
        return sweep_id, add_shapes(here.library, here.frame.id, sweep_id, [area])
    fit = Fit(margin=margin_for(pixels, found))
    return new_sweep(here.library, here.frame.id, [area], fit=fit)
