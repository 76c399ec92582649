"""Protect a find: no mask, margin or fill enters it, and nothing is copied from it."""

from __future__ import annotations

from keen_sweep.core.errors import NotFound
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Drawn, Mark
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Revision
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.found.rows import shapes_of_find
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.marking.cling import thing_under
from keen_sweep.studio.marking.guarding import guard
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# How far past a find's outline is protected, pixels: faces, hair and hands keep their edge.
EDGE_PX = 4.0


def protect(library: Library, frame_id: int, find_id: int) -> Revision:
    """Guard a find with its edge; it is no longer offered to go while it is guarded. Raises NotFound."""
    current = open_frame(library, frame_id)
    with library.session() as session:
        row = session.get(Find, find_id)
        if row is None or row.frame_id != frame_id or row.original != current.frame.original:
            raise NotFound(sentence("This find no longer exists: its scout has searched again."))
    return _guarded(current, shapes_of_find(row), f"{row.name}: protected")


def protect_under(library: Library, frame_id: int, dab: Stroke) -> Revision:
    """Guard the person or thing under a dab, with its edge, whether a scout found it or not.

    Raises
    ------
    BadMask
        Where the dab lies outside the picture or on what is guarded already.
    """
    current = open_frame(library, frame_id)
    area = as_area(thing_under(current, dab).mask, library.files.add)
    return _guarded(current, (area,), "protected")


def _guarded(current: OpenFrame, shapes: tuple[Drawn | Area, ...], title: str) -> Revision:
    library, frame_id = current.library, current.frame.id
    mask = current.mask_of(Mark(shapes=shapes, fit=Fit(margin=EDGE_PX)), unguarded=True)
    shape = as_area(mask, library.files.add)
    with library.together(), library.session() as session:
        revision = guard(library, frame_id, [shape], title)
        note(session, EventKind.FINDS, shoot=frame_of(session, frame_id).shoot_id, frame=frame_id)
    return revision
