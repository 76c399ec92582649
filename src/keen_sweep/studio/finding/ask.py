"""Ask scouts to look at a frame, and how far they are."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session, col, select

from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.scout.scouts import ALL_KINDS, search_description
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Scouting
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.history import frame_of


def ask_scouts(
    library: Library, frame_id: int, kinds: Sequence[FindKind] = ALL_KINDS, small: bool = False, again: bool = False
) -> None:
    """Let scouts search a frame as shot, each kind once; again: also those that have, in the picture as it stands.

    What a scout found before gives way to what it finds then, unless it was dropped, kept or edited by hand.
    """
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        known = {each.kind: each for each in _scoutings(session, frame_id)}
        asked = False
        for kind in kinds:
            before = known.get(kind)
            if before is not None and (not again or before.state.is_open):
                continue
            asked = True
            if before is not None:
                session.delete(before)
                session.flush()
            far = small or (before is not None and len(kinds) > 1 and before.small)
            session.add(Scouting(frame_id=frame_id, kind=kind, small=far, again=before is not None))
        if asked:
            note(session, EventKind.FINDS, shoot=frame.shoot_id, frame=frame_id)


def scoutings(library: Library, frame_id: int) -> list[tuple[Scouting, str]]:
    """How far each scout is with a frame, and what it looks for."""
    with library.session() as session:
        frame_of(session, frame_id)
        rows = {each.kind: each for each in _scoutings(session, frame_id)}
    return [(rows[kind], search_description(kind, rows[kind].small)) for kind in ALL_KINDS if kind in rows]


def _scoutings(session: Session, frame_id: int) -> list[Scouting]:
    return list(session.exec(select(Scouting).where(Scouting.frame_id == frame_id).order_by(col(Scouting.id))))
