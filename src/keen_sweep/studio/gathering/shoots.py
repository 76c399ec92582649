"""Shoots: made, renamed, listed, taken out."""

from __future__ import annotations

from sqlmodel import col, select

from keen_sweep.core.errors import NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Shoot
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.gathering.called_off import call_off
from keen_sweep.studio.gathering.gone import moment
from keen_sweep.studio.gathering.names import named, natural


def make_shoot(library: Library, name: str) -> Shoot:
    """A new, empty shoot. Raises BadRequest for a name without letters."""
    with library.session() as session:
        shoot = Shoot(name=named(name, "shoot"))
        session.add(shoot)
        session.flush()
        note(session, EventKind.SHOOTS, shoot=shoot.id)
        return shoot


def rename_shoot(library: Library, shoot_id: int, name: str) -> Shoot:
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None:
            raise NotFound(sentence("This shoot no longer exists."))
        shoot.name = named(name, "shoot")
        session.add(shoot)
        note(session, EventKind.SHOOTS, shoot=shoot_id)
        return shoot


def delete_shoot(library: Library, shoot_id: int) -> None:
    """Take a shoot out of the library: it can be brought back for a while (gone). Raises NotFound."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None:
            raise NotFound(sentence("This shoot no longer exists."))
        shoot.gone_at = moment(session)
        call_off(session, session.exec(select(Frame.id).where(Frame.shoot_id == shoot_id)).all())
        session.add(shoot)
        note(session, EventKind.SHOOTS, shoot=shoot_id)


def shoot_of(library: Library, shoot_id: int) -> tuple[Shoot, list[Frame]]:
    """A shoot with its frames by name. Raises NotFound."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None or shoot.gone_at is not None:
            raise NotFound(sentence("This shoot no longer exists."))
        frames = session.exec(select(Frame).where(Frame.shoot_id == shoot_id)).all()
    return shoot, sorted(frames, key=lambda f: natural(f.name))


def shoots(library: Library) -> list[tuple[Shoot, list[Frame]]]:
    """All shoots, newest first, each with its frames by name."""
    with library.session() as session:
        query = select(Shoot).where(col(Shoot.gone_at).is_(None))
        found = session.exec(query.order_by(col(Shoot.id).desc())).all()
        frames = session.exec(select(Frame)).all()
    by_shoot: dict[int, list[Frame]] = {}
    for frame in sorted(frames, key=lambda f: natural(f.name)):
        by_shoot.setdefault(frame.shoot_id, []).append(frame)
    return [(shoot, by_shoot.get(shoot.id, [])) for shoot in found]
