"""Pick: which take is in use, and which are favourites."""

from __future__ import annotations

from contextlib import suppress

from sqlmodel import col, func, select

from keen_sweep.core.errors import Conflict, LibraryTrouble, NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision, Take
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.history import change, frame_of
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.ranking.taste import remember
from keen_sweep.studio.stacks import stack_of


def pick(library: Library, frame_id: int, sweep_id: str, take_id: int | None) -> Revision:
    """Use a take of a sweep; None leaves its place as shot. Raises NotFound when it is not one of its takes,
    Conflict when it was made for another version of the picture."""
    patch, title = None, sentence("back to as shot")
    if take_id is not None:
        with library.session() as session:
            take = session.get(Take, take_id)
            if take is None or take.frame_id != frame_id or take.sweep_id != sweep_id:
                raise NotFound(sentence("This take does not belong to this sweep."))
            if take.original != frame_of(session, frame_id).original:
                raise Conflict(sentence("This take was made for another version of the picture. Lay it again first."))
            own = select(func.count(col(Take.id))).where(Take.sweep_id == sweep_id, Take.frame_id == frame_id)
            number = session.exec(own.where(col(Take.id) <= take_id)).one()
            patch, title = take.patch, sentence("take {number} picked", number=number)
    return change(library, frame_id, title, lambda stack: stack.changed(sweep_id, **_decided(patch)))


def accept_all(library: Library, frame_id: int) -> Revision:
    """Pick every take that stands provisionally in a frame, in one step of its history. Raises NotFound."""
    standing = {sweep.id: sweep.pick for sweep in open_frame(library, frame_id).stack.sweeps if sweep.provisional}

    def edit(stack: Stack) -> Stack:
        for sweep in stack.sweeps:
            if sweep.id in standing and sweep.pick is None and not sweep.as_shot:
                stack = stack.changed(sweep.id, **_decided(standing[sweep.id]))
        return stack

    return change(library, frame_id, sentence("accept provisional takes"), edit)


def _decided(patch: str | None) -> dict[str, object]:
    """What changes about a sweep when the photographer decides for a take, or for the picture as shot."""
    return {"pick": patch, "as_shot": patch is None, "behind": None}


def pick_by_hand(library: Library, frame_id: int, sweep_id: str, take_id: int | None) -> Revision:
    """Pick as the photographer does, which is learned from. Raises as pick does."""
    revision = pick(library, frame_id, sweep_id, take_id)
    with library.session() as session:
        patch = stack_of(session, revision).sweep(sweep_id).pick
    # It is picked, whether that can be learned from or not.
    with suppress(LibraryTrouble):
        remember(library, frame_id, sweep_id, patch)
    return revision


def favour(library: Library, frame_id: int, take_id: int, favourite: bool) -> None:
    """Make a take a favourite, or no longer. Raises NotFound."""
    with library.session() as session:
        take = session.get(Take, take_id)
        if take is None or take.frame_id != frame_id:
            raise NotFound(sentence("This take no longer exists."))
        take.favourite = favourite
        session.add(take)
        note(session, EventKind.TAKE, shoot=frame_of(session, frame_id).shoot_id, frame=frame_id)
