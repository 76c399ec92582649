"""A person added by hand: whoever is in a box becomes a find."""

from __future__ import annotations

import numpy as np
from sqlmodel import select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadMask
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.scout.people import person_in
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.finding.finds import BY_HAND_REASON
from keen_sweep.studio.open_frame import open_frame


def person_in_box(library: Library, frame_id: int, box: Box) -> Find:
    """Whoever is in a box drawn by hand, as a find. Raises BadMask where nobody is, NoWeights."""
    current = open_frame(library, frame_id)
    inside = box.intersect(current.box)
    if inside.empty:
        raise BadMask(sentence("This box lies outside the picture."))
    window = inside.grow(max(inside.width, inside.height), current.box)
    mask = person_in(np.asarray(current.pyramid.window(window)), inside.relative_to(window))
    if mask is None:
        raise BadMask(sentence("Nobody was found in this box. Paint them by hand."))
    back = Box(x=-window.x, y=-window.y, width=1, height=1)
    area = as_area(type(mask)(mask.box.relative_to(back), mask.pixels), library.files.add)
    with library.session() as session:
        same = session.exec(select(Find).where(Find.frame_id == frame_id, Find.kind == FindKind.PEOPLE)).all()
        numbers = [int(row.name[7:]) for row in same if row.name.startswith("Person ") and row.name[7:].isdigit()]
        row = Find(
            frame_id=frame_id,
            original=current.frame.original,
            kind=FindKind.PEOPLE,
            name=sentence("Person {number}", number=max(numbers, default=0) + 1),
            shapes=[area.model_dump(mode="json")],
            confidence=1.0,
            reason=BY_HAND_REASON,
        )
        session.add(row)
        session.flush()
        note(session, EventKind.FINDS, shoot=current.frame.shoot_id, frame=frame_id)
        return row
