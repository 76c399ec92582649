"""Masks from files and as files, and their outlines."""

from __future__ import annotations

import tempfile
from pathlib import Path

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.area import area_to_bytes
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.check import read_mask
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.photo.read import read_picture
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.sitting import sit


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


def rings_at(
    library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None, fit: Fit | None = None
) -> list[Ring]:
    """The outline of a sweep's mask; with another fit than its own if one is given."""
    return rings_of(sit(library, frame_id, revision_id).mask(sweep_id, fit))


def mask_png(library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None) -> bytes:
    """The mask of a sweep as a PNG file, full size, white where the picture is to be replaced."""
    here = sit(library, frame_id, revision_id)
    return area_to_bytes(here.full(here.mask(sweep_id)))
