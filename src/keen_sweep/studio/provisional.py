"""Provisional takes: what stands in a picture before the photographer has picked.

The first take of a sweep stands as soon as it is there, and gives way once to the best of its fill. It is part of what
is seen, built upon and delivered, but not of the history: undo takes back what the photographer did, not what was
computed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from sqlmodel import Session, col, func, select

from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Preferences, Provisional, Revision, Take
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.stacks import stack_of


@dataclass(frozen=True)
class StandingTake:
    """A take that stands provisionally: its number and its patch's content hash."""

    take: int
    patch: str


def is_strict(session: Session) -> bool:
    """Whether nothing stands before it is picked."""
    return (session.get(Preferences, 1) or Preferences()).strict


def set_strict(library: Library, strict: bool) -> None:
    """Whether nothing is to stand before it is picked. Open windows are told of every picture that looks different."""
    with library.session(write=True) as session:
        row = session.get(Preferences, 1) or Preferences()
        row.strict = strict
        session.add(row)
        touched = select(Frame).where(col(Frame.id).in_(select(Provisional.frame_id)))
        for frame in session.exec(touched):
            looks_different(session, frame)
            note(session, EventKind.TAKE, shoot=frame.shoot_id, frame=frame.id)


def looks_different(session: Session, frame: Frame) -> None:
    """Count that other takes stand provisionally in a frame from now on."""
    frame.provisional += 1
    session.add(frame)


def standing_takes(session: Session, frames: Iterable[Frame]) -> dict[int, dict[str, StandingTake]]:
    """The takes that may stand provisionally in the versions of the picture that some frames have, by their sweeps' ids
    under each frame's number; none in a strict library."""
    original = {frame.id: frame.original for frame in frames}
    out: dict[int, dict[str, StandingTake]] = {number: {} for number in original}
    rows = session.exec(
        select(Provisional, Take.patch)
        .join(Take, col(Take.id) == col(Provisional.take_id))
        .where(col(Provisional.frame_id).in_(original))
    ).all()
    if not rows or is_strict(session):
        return out
    for row, patch in rows:
        if row.original == original[row.frame_id]:
            out[row.frame_id][row.sweep_id] = StandingTake(row.take_id, patch)
    return out


def with_provisional(stack: Stack, standing: Mapping[str, StandingTake]) -> Stack:
    """A stack with takes standing in the sweeps for which nothing was decided."""
    for sweep in stack.sweeps:
        take = standing.get(sweep.id)
        if take is not None and _is_open(sweep, take.take):
            stack = stack.changed(sweep.id, pick=take.patch, provisional=True)
    return stack


def seen_stack(session: Session, frame: Frame, revision: Revision) -> Stack:
    """The stack of a revision as it is seen: with provisional takes. frame: in the version that the revision has."""
    return with_provisional(stack_of(session, revision), standing_takes(session, [frame])[frame.id])


def newest_take(library: Library, frame_id: int, sweep_id: str) -> int:
    """The number of the newest take of a sweep, 0 where there is none."""
    with library.session() as session:
        own = select(func.max(Take.id)).where(Take.frame_id == frame_id, Take.sweep_id == sweep_id)
        return session.exec(own).one() or 0


def let_stand(session: Session, take: Take, mark: str) -> None:
    """Let a new take stand, unless another one does that was made for the same mark. mark: a digest of the mark that it
    was made for."""
    row = _row(session, take)
    if row is None:
        row = Provisional(
            frame_id=take.frame_id, sweep_id=take.sweep_id, original=take.original, take_id=take.id, mark=mark
        )
    elif row.mark == mark and not _was_refused(session, row):
        return
    else:
        row.take_id, row.mark, row.settled = take.id, mark, False
    session.add(row)
    looks_different(session, session.get_one(Frame, take.frame_id))


def stand_in_step(session: Session, take: Take, mark: str) -> None:
    """Let a take stand that was laid again on another version of the picture: it has been looked at before."""
    row = _row(session, take) or Provisional(
        frame_id=take.frame_id, sweep_id=take.sweep_id, original=take.original, take_id=take.id, mark=mark
    )
    row.take_id, row.mark, row.settled = take.id, mark, True
    session.add(row)
    looks_different(session, session.get_one(Frame, take.frame_id))


def _is_open(sweep: Sweep, take: int) -> bool:
    """Whether nobody has decided what shows in a sweep, nor found a take that was carried over not good enough."""
    too_old = max(sweep.outdated, sweep.carried.refused if sweep.carried is not None else 0)
    return sweep.pick is None and not sweep.as_shot and sweep.behind is None and take > too_old


def _was_refused(session: Session, row: Provisional) -> bool:
    frame = session.get_one(Frame, row.frame_id)
    revision = session.get(Revision, frame.revision_id)
    sweeps = stack_of(session, revision).sweeps if revision is not None else ()
    return any(
        sweep.carried is not None and row.take_id <= sweep.carried.refused
        for sweep in sweeps
        if sweep.id == row.sweep_id
    )


def _row(session: Session, take: Take) -> Provisional | None:
    """Which take stands of a take's sweep, in its version of the picture."""
    return session.exec(
        select(Provisional).where(
            Provisional.frame_id == take.frame_id,
            Provisional.sweep_id == take.sweep_id,
            Provisional.original == take.original,
        )
    ).first()
