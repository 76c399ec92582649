"""Revisions of a frame: every change makes a new one, undo and redo move between them, none is ever lost."""

from __future__ import annotations

from collections.abc import Callable

from sqlmodel import Session, col, select

from keen_sweep.core.errors import Conflict, NotFound
from keen_sweep.core.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Revision
from keen_sweep.studio.events import note


def frame_of(session: Session, frame_id: int) -> Frame:
    frame = session.get(Frame, frame_id)
    if frame is None:
        raise NotFound("This picture is not there any more.")
    return frame


def revision_of(session: Session, frame: Frame, revision_id: int | None = None) -> Revision:
    """A revision of a frame, its present one if none is named."""
    revision = session.get(Revision, revision_id if revision_id is not None else frame.revision_id)
    if revision is None or revision.frame_id != frame.id:
        raise NotFound("This state of the picture is not in its history.")
    return revision


def stack_of(revision: Revision) -> Stack:
    return Stack.model_validate_json(revision.stack)


def change(library: Library, frame_id: int, title: str, edit: Callable[[Stack], Stack]) -> Revision:
    """Apply an edit to the present stack of a frame and make the result its present one.

    Two windows may edit one frame: each edit is applied to whatever is there then. An edit that changes
    nothing makes no revision. Errors of the edit pass through and leave everything as it was.
    """
    with library.session() as session:
        session.connection().exec_driver_sql("BEGIN IMMEDIATE")
        frame = frame_of(session, frame_id)
        present = revision_of(session, frame)
        before = stack_of(present)
        after = edit(before)
        if after == before:
            return present
        revision = Revision(frame_id=frame_id, parent_id=present.id, title=title, stack=after.model_dump_json())
        session.add(revision)
        session.flush()
        frame.revision_id = revision.id
        session.add(frame)
        note(session, "frame", shoot=frame.shoot_id, frame=frame_id)
        return revision


def undo(library: Library, frame_id: int) -> Revision:
    """Go back one revision. Raises Conflict at the beginning."""
    return _move(library, frame_id, previous, "There is nothing to undo.")


def redo(library: Library, frame_id: int) -> Revision:
    """Go forward to the revision last made from this one. Raises Conflict when there is none."""
    return _move(library, frame_id, following, "There is nothing to redo.")


def previous(session: Session, revision: Revision) -> Revision | None:
    return session.get(Revision, revision.parent_id) if revision.parent_id is not None else None


def following(session: Session, revision: Revision) -> Revision | None:
    return session.exec(
        select(Revision).where(Revision.parent_id == revision.id).order_by(col(Revision.id).desc()).limit(1)
    ).first()


def _move(
    library: Library, frame_id: int, where: Callable[[Session, Revision], Revision | None], otherwise: str
) -> Revision:
    with library.session() as session:
        session.connection().exec_driver_sql("BEGIN IMMEDIATE")
        frame = frame_of(session, frame_id)
        to = where(session, revision_of(session, frame))
        if to is None:
            raise Conflict(otherwise)
        frame.revision_id = to.id
        session.add(frame)
        note(session, "frame", shoot=frame.shoot_id, frame=frame_id)
        return to
