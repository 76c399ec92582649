"""Settle which take of a fill stands, once all of them are there."""

from __future__ import annotations

from sqlmodel import Session, col, select

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Provisional, Run, Take
from keen_sweep.store.words import EventKind, RunState
from keen_sweep.studio.events import note
from keen_sweep.studio.provisional import looks_different
from keen_sweep.studio.ranking.offered import best_of
from keen_sweep.studio.ranking.taste import learned


def settle(library: Library, run_id: int) -> None:
    """Now that all takes of a run are there, let the best of them stand, once: unless another fill of this picture has
    begun, which was built on what stood. Takes are not reviewed yet: a run that broke off and is done again settles the
    same."""
    with library.session(write=True) as session:
        own = select(Take.id).where(Take.run_id == run_id)
        row = session.exec(
            select(Provisional).where(col(Provisional.take_id).in_(own), ~col(Provisional.settled))
        ).first()
        run, frame = session.get(Run, run_id), session.get(Frame, row.frame_id) if row is not None else None
        if row is None or run is None or frame is None:
            return
        row.settled = True
        session.add(row)
        if _was_built_upon(session, run):
            return
        takes = session.exec(
            select(Take)
            .where(Take.run_id == run_id, Take.sweep_id == row.sweep_id, Take.original == row.original)
            .order_by(col(Take.id))
        ).all()
        best = best_of(takes, learned(session).order)
        if best is not None and best != row.take_id:
            row.take_id = best
            looks_different(session, frame)
            note(session, EventKind.TAKE, shoot=frame.shoot_id, frame=frame.id)


def _was_built_upon(session: Session, run: Run) -> bool:
    later = select(Run.id).where(Run.frame_id == run.frame_id, Run.id > run.id, Run.state != RunState.WAITING)
    return session.exec(later).first() is not None
