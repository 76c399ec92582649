"""What was deleted: kept for a while, so that it can be brought back."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlmodel import Session, col, func, select

from keen_sweep.core.errors import Conflict, NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.room import free_files, names_by_shoot
from keen_sweep.store.tables import Frame, Revision, Shoot
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note

# How long what was deleted can be restored.
UNDELETE_TIME = timedelta(days=30)


@dataclass(frozen=True)
class Gone:
    """A shoot that was deleted, or a picture that was taken out of one: its name, how many pictures it has, and until
    when it can be brought back."""

    shoot: int
    name: str
    frames: int
    until: datetime


def gone(library: Library) -> list[Gone]:
    """What was deleted, the latest first."""
    with library.session() as session:
        query = select(Shoot).where(col(Shoot.gone_at).is_not(None)).order_by(col(Shoot.gone_at).desc())
        rows = session.exec(query).all()
        counted = session.exec(select(Frame.shoot_id, func.count()).group_by(col(Frame.shoot_id))).all()
    counts = dict(counted)
    return [Gone(row.id, row.name, counts.get(row.id, 0), _until(row)) for row in rows]


def bring_back(library: Library, shoot_id: int) -> None:
    """Bring back a shoot, or a picture into its shoot. Raises NotFound, Conflict while that shoot is gone itself."""
    with library.session(write=True) as session:
        row = session.get(Shoot, shoot_id)
        if row is None or row.gone_at is None:
            raise NotFound(sentence("This can no longer be brought back."))
        if row.part_of is None:
            row.gone_at = None
            session.add(row)
        else:
            home = session.get(Shoot, row.part_of)
            if home is None or home.gone_at is not None:
                raise Conflict(sentence("The shoot of this picture was deleted too. Bring the shoot back first."))
            for frame in session.exec(select(Frame).where(Frame.shoot_id == row.id)):
                frame.shoot_id = home.id
                session.add(frame)
            session.flush()
            session.delete(row)
        note(session, EventKind.SHOOTS, shoot=shoot_id)


def moment(session: Session) -> datetime:
    """When something goes that is deleted now: not before the latest work, whatever a clock that fell back says."""
    latest = _latest_work(session)
    return now() if latest is None else max(now(), latest)


def _latest_work(session: Session) -> datetime | None:
    return session.exec(select(func.max(Revision.made_at))).one()


def forget_old(library: Library) -> int:
    """Forget for good what was deleted long ago, and free the files that only it needed; how much that was.

    A clock that is wrong for a day must not do it: something has to have been done in the library as late as that.
    """
    names = names_by_shoot(library) if gone(library) else {}
    with library.session(write=True) as session:
        rows = session.exec(select(Shoot).where(col(Shoot.gone_at).is_not(None))).all()
        latest = _latest_work(session)
        old = [row for row in rows if latest is not None and _until(row) < min(latest, now())]
        for row in old:
            session.delete(row)
    if old:
        free_files(library, set().union(*(names.get(row.id, set()) for row in old)))
    return len(old)


def _until(row: Shoot) -> datetime:
    assert row.gone_at is not None
    return row.gone_at + UNDELETE_TIME
