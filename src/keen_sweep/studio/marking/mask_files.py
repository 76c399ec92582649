"""Masks from files and as files, and their outlines."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.area import area_to_bytes
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.check import check_mask, read_mask
from keen_sweep.core.mask.fit import MASK_THRESHOLD, Fit
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Mark
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change, frame_of
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.open_frame import open_frame

# Share of the picture, and of its edge, from which on a mask is taken for black on white.
MAX_MASKED_SHARE = 0.5


def load_mask(library: Library, frame_id: int, data: bytes, sweep_id: str | None) -> tuple[str, Revision]:
    """A mask file as a new sweep, or added to one. Raises BadMask when it does not fit the picture."""
    with library.session() as session:
        original = frame_of(session, frame_id).original
    picture = read_picture(library.files.path(original))
    with tempfile.NamedTemporaryFile(dir=library.incoming, suffix=".mask") as file:
        file.write(data)
        file.flush()
        mask = read_mask(Path(file.name), picture)
    box = box_of(mask > 0)
    area = as_area(Mask(box, mask[box.slices]), library.files.add)
    if sweep_id is None:
        return new_sweep(library, frame_id, [area])
    return sweep_id, add_shapes(library, frame_id, sweep_id, [area])


def seems_flipped(library: Library, frame_id: int, sweep_id: str) -> bool:
    """Whether the mask of a sweep looks like one in which black marks what goes: it covers most of the picture and of
    the picture's edge."""
    current = open_frame(library, frame_id)
    mask = current.full(current.mask(sweep_id, unguarded=True)) >= MASK_THRESHOLD
    edge = np.concatenate((mask[0], mask[-1], mask[:, 0], mask[:, -1]))
    return bool(min(mask.mean(), edge.mean()) > MAX_MASKED_SHARE)


def flip(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """Mark what a sweep does not mark, and the other way round; margin and feather start anew at 0.

    Raises
    ------
    BadMask
        Where the mask is empty or covers the whole picture.
    NotFound
        Where the sweep is not in the picture.
    """
    current = open_frame(library, frame_id)
    flipped = 255 - current.full(current.mask(sweep_id, unguarded=True))
    check_mask(flipped, current.frame.width, current.frame.height)
    box = box_of(flipped > 0)
    mark = Mark(shapes=(as_area(Mask(box, flipped[box.slices]), library.files.add),))
    return change(library, frame_id, sentence("flip mask"), lambda stack: stack.changed(sweep_id, mark=mark))


def rings_at(
    library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None, fit: Fit | None = None
) -> list[Ring]:
    """The outline of a sweep's mask; with another fit than its own if one is given."""
    return rings_of(open_frame(library, frame_id, revision_id).mask(sweep_id, fit))


def mask_png(library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None) -> bytes:
    """The mask of a sweep as a PNG file, full size, white where the picture is to be replaced."""
    current = open_frame(library, frame_id, revision_id)
    return area_to_bytes(current.full(current.mask(sweep_id)))
