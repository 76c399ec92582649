"""Revisions of a frame: every change makes a new one, undo and redo move between them, none is ever lost."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from sqlalchemy.orm import defer
from sqlmodel import Session, col, select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import Conflict, NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack, reach_from
from keen_sweep.document.told import ToldLayer
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Revision
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.expected_revision import check_seen, gone_on
from keen_sweep.studio.stacks import documents_of, revised, stack_of


def frame_of(session: Session, frame_id: int) -> Frame:
    frame = session.get(Frame, frame_id)
    if frame is None:
        raise NotFound(sentence("This picture no longer exists."))
    return frame


def revision_of(session: Session, frame: Frame, revision_id: int | None = None) -> Revision:
    """A revision of a frame, its present one if none is named."""
    wanted = revision_id if revision_id is not None else frame.revision_id
    # How its stack is told may be long, and is mostly known already (stacks).
    query = select(Revision).where(Revision.id == wanted).options(defer(cast(Any, Revision.stack)))
    revision = session.exec(query).first()
    if revision is None or revision.frame_id != frame.id:
        raise NotFound(sentence("This state is not in the history of the picture."))
    return revision


# Titles of strokes on a mark that was there.
ADDING_TITLE = sentence("add to mark")
ERASING_TITLE = sentence("take away from mark")
STROKE_TITLES = (ADDING_TITLE, ERASING_TITLE)


def change(library: Library, frame_id: int, title: str, edit: Callable[[Stack], Stack]) -> Revision:
    """Apply an edit to the present stack of a frame and make the result its present one.

    Two windows may edit one frame: each edit is applied to whatever is there then. An edit that changes
    nothing makes no revision. Errors of the edit pass through and leave everything as it was.
    """
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        check_seen(frame)
        present = revision_of(session, frame)
        before = stack_of(session, present)
        after = edit(before)
        if after == before:
            return present
        revision = revised(session, present, after, frame, _told(title, before, after))
        frame.revision_id = revision.id
        gone_on(frame)
        session.add(frame)
        # Finds that became sweeps hang on sweeps: a touch-up leaves them as they are.
        alike = (after.sweeps, after.guard) == (before.sweeps, before.guard)
        kind = EventKind.TOUCH if alike else EventKind.FRAME
        note(session, kind, shoot=frame.shoot_id, frame=frame_id)
        return revision


def _told(title: str, before: Stack, after: Stack) -> str:
    """What was done, and to which sweep if it was one."""
    old, new = {each.id: each for each in before.sweeps}, {each.id: each for each in after.sweeps}
    changed = [new.get(key) or old[key] for key in old.keys() | new.keys() if old.get(key) != new.get(key)]
    return f"{changed[0].name}: {title}" if len(changed) == 1 else title


@dataclass(frozen=True)
class Line:
    """A revision by itself, as it stands in the history; on: it leads to the present one; now: it is that one."""

    revision: int
    parent: int | None
    title: str
    made_at: datetime
    on: bool
    now: bool


@dataclass(frozen=True)
class Step(Line):
    """A revision as a step of the history; box: where the picture changed by it, the whole frame if all of it may;
    sweep: the only one that it changed, empty if there is none."""

    box: Box
    sweep: str

    @property
    def subject(self) -> str:
        """What it was done to, as the title says it before a colon; empty where it does not."""
        return self.title.rpartition(": ")[0]

    @property
    def stroke(self) -> bool:
        """Whether it is a stroke on a mark that was there."""
        return self.title.rpartition(": ")[2] in STROKE_TITLES


def lines(library: Library, frame_id: int) -> list[Line]:
    """Every revision of a frame, undone ones too, oldest first: quick, however many there are. Raises NotFound."""
    with library.session() as session:
        frame = frame_of(session, frame_id)
        query = select(Revision.id, Revision.parent_id, Revision.title, Revision.made_at)
        rows = session.exec(query.where(Revision.frame_id == frame_id).order_by(col(Revision.id))).all()
    parents = {number: parent for number, parent, _, _ in rows}
    line: set[int] = set()
    at: int | None = frame.revision_id
    while at is not None:
        line.add(at)
        at = parents.get(at)
    return [
        Line(number, parent, title, made_at, number in line, number == frame.revision_id)
        for number, parent, title, made_at in rows
    ]


def steps(library: Library, frame_id: int, some: Sequence[Line] | None = None) -> list[Step]:
    """Lines of a history, all of it if none are named, with where the picture changed by them. Raises NotFound."""
    some = lines(library, frame_id) if some is None else some
    with library.session() as session:
        frame = frame_of(session, frame_id)
        room = Box(x=0, y=0, width=frame.width, height=frame.height)
        known = {each.revision for each in some} | {each.parent for each in some if each.parent is not None}
        documents = documents_of(session, frame_id, sorted(known))
    out = []
    for each in some:
        before: list[ToldLayer] = [] if each.parent is None else documents[each.parent]["layers"]
        differing = _differing(before, documents[each.revision]["layers"])
        alone = len(differing) == 1 and differing[0]["kind"] == "sweep"
        out.append(Step(**vars(each), box=_round(differing, room), sweep=differing[0]["id"] if alone else ""))
    return out


def _differing(before: list[ToldLayer], after: list[ToldLayer]) -> list[ToldLayer]:
    """The layers, told as JSON, in which two stacks differ, as they are afterwards if they are there."""
    old, new = {each["id"]: each for each in before}, {each["id"]: each for each in after}
    return [new.get(key) or old[key] for key in old | new if old.get(key) != new.get(key)]


def _round(layers: list[ToldLayer], room: Box) -> Box:
    """A box round layers; the whole frame if they are nowhere."""
    boxes = [box for layer in layers if not (box := reach_from(layer, room)).empty]
    if not boxes:
        return room
    whole = boxes[0]
    for box in boxes[1:]:
        whole = whole.union(box)
    return whole.intersect(room)


def go_to(library: Library, frame_id: int, revision_id: int) -> Revision:
    """Make any revision of a frame its present one; none is lost. Raises NotFound."""
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        to = revision_of(session, frame, revision_id)
        _show(session, frame, to)
        note(session, EventKind.FRAME, shoot=frame.shoot_id, frame=frame_id)
        return to


def _show(session: Session, frame: Frame, revision: Revision) -> None:
    """Make a revision the present one, with the version of the picture that it is of."""
    check_seen(frame)
    frame.revision_id = revision.id
    gone_on(frame)
    for name, value in revision.version.items():
        setattr(frame, name, value)
    session.add(frame)


def undo(library: Library, frame_id: int) -> Revision:
    """Go back one revision. Raises Conflict at the beginning."""
    return _move(library, frame_id, previous, sentence("There is nothing to undo."))


def redo(library: Library, frame_id: int) -> Revision:
    """Go forward to the revision last made from this one. Raises Conflict when there is none."""
    return _move(library, frame_id, following, sentence("There is nothing to redo."))


def previous(session: Session, revision: Revision) -> Revision | None:
    return session.get(Revision, revision.parent_id) if revision.parent_id is not None else None


def following(session: Session, revision: Revision) -> Revision | None:
    return session.exec(
        select(Revision).where(Revision.parent_id == revision.id).order_by(col(Revision.id).desc()).limit(1)
    ).first()


def _move(
    library: Library, frame_id: int, where: Callable[[Session, Revision], Revision | None], otherwise: str
) -> Revision:
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        to = where(session, revision_of(session, frame))
        if to is None:
            raise Conflict(otherwise)
        _show(session, frame, to)
        note(session, EventKind.FRAME, shoot=frame.shoot_id, frame=frame_id)
        return to
