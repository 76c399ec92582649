"""Telling open windows what changed: rows that the API sends on, in order."""

from __future__ import annotations

from contextvars import ContextVar

from sqlmodel import Session, col, delete, func, select

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Event
from keen_sweep.store.words import EventKind

MAX_EVENTS = 2_000


# The window that asked for what is being done, if one did: it is answered, and need not hear of it as well.
window: ContextVar[str | None] = ContextVar("window", default=None)


def note(
    session: Session, kind: EventKind, *, shoot: int | None = None, frame: int | None = None, run: int | None = None
) -> None:
    """Record an event in the same transaction as the change it tells of."""
    session.add(Event(kind=kind, shoot_id=shoot, frame_id=frame, run_id=run, window=window.get()))


def latest(library: Library) -> int:
    """The number of the newest event, 0 when there is none yet."""
    with library.session() as session:
        return session.exec(select(func.max(Event.id))).one() or 0


def after(library: Library, number: int) -> list[Event]:
    """Events after the one of that number, oldest first."""
    with library.session() as session:
        return list(session.exec(select(Event).where(col(Event.id) > number).order_by(col(Event.id)).limit(500)))


def prune(library: Library) -> None:
    """Forget all but the newest events."""
    newest = latest(library)
    with library.session() as session:
        session.exec(delete(Event).where(col(Event.id) <= newest - MAX_EVENTS))
