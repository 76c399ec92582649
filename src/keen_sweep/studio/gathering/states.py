"""How far the frames of a shoot are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from sqlmodel import Session, col, select

from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Revision, Run, Take
from keen_sweep.store.words import OPEN_STATES
from keen_sweep.studio.provisional import standing_takes, with_provisional
from keen_sweep.studio.stacks import stack_of


class FrameState(StrEnum):
    """What is next for a frame: nothing was done to it; something was carried that nobody has looked at; something is
    being filled; takes wait to be chosen from; something is marked; all is done; and was delivered as it is."""

    UNTOUCHED = "untouched"
    DOUBTFUL = "doubtful"
    FILLING = "filling"
    TO_CHOOSE = "to choose"
    MARKED = "marked"
    DONE = "done"
    DELIVERED = "delivered"

    @property
    def is_decided(self) -> bool:
        """Whether nothing waits for anybody."""
        return self in (FrameState.UNTOUCHED, FrameState.DONE, FrameState.DELIVERED)


@dataclass(frozen=True)
class Standing:
    """A frame's state; its sweeps: how many there are, and the ids of those that are doubtful, that are marked and
    neither filled nor being filled, that are being filled, and that show a take nobody has picked."""

    state: FrameState
    sweeps: int
    doubtful: tuple[str, ...]
    marked: tuple[str, ...]
    filling: tuple[str, ...]
    provisional: tuple[str, ...]
    stack: Stack


def standings_of(library: Library, shoot_id: int) -> dict[int, Standing]:
    """How far each frame of a shoot is, by its number."""
    with library.session() as session:
        return standings(session, session.exec(select(Frame).where(Frame.shoot_id == shoot_id)).all())


def standings(session: Session, frames: Iterable[Frame]) -> dict[int, Standing]:
    """How far each of some frames is, by its number."""
    known = list(frames)
    ids = [frame.id for frame in known]
    revisions = [frame.revision_id for frame in known]
    rows = {row.id: row for row in session.exec(select(Revision).where(col(Revision.id).in_(revisions)))}
    filled: defaultdict[int, set[str]] = defaultdict(set)
    for frame, sweep in session.exec(
        select(Take.frame_id, Take.sweep_id).where(col(Take.frame_id).in_(ids)).distinct()
    ):
        filled[frame].add(sweep)
    busy: defaultdict[int, set[str]] = defaultdict(set)
    open_runs = select(Run.frame_id, Run.sweep_id).where(col(Run.frame_id).in_(ids), col(Run.state).in_(OPEN_STATES))
    for frame, sweep in session.exec(open_runs):
        busy[frame].add(sweep)
    standing = standing_takes(session, known)
    return {
        frame.id: _standing(
            frame,
            with_provisional(stack_of(session, rows[frame.revision_id]), standing[frame.id]),
            filled[frame.id],
            busy[frame.id],
        )
        for frame in known
        if frame.revision_id in rows
    }


def _standing(frame: Frame, seen: Stack, filled: set[str], busy: set[str]) -> Standing:
    provisional = tuple(sweep.id for sweep in seen.sweeps if sweep.provisional)
    stack = seen.chosen()
    sweeps = stack.sweeps
    doubtful = tuple(sweep.id for sweep in sweeps if sweep.carried is not None and sweep.carried.doubtful)
    marked = tuple(sweep.id for sweep in sweeps if sweep.id not in filled | busy and not sweep.pick)
    filling = tuple(sweep.id for sweep in sweeps if sweep.id in busy)
    waiting = any(sweep.id in filled and not sweep.pick and not sweep.as_shot for sweep in sweeps)
    if not stack.layers:
        state = FrameState.UNTOUCHED
    elif doubtful:
        state = FrameState.DOUBTFUL
    elif filling:
        state = FrameState.FILLING
    elif waiting:
        state = FrameState.TO_CHOOSE
    else:
        state = FrameState.MARKED if marked else FrameState.DONE
    if state in (FrameState.UNTOUCHED, FrameState.DONE) and frame.delivered == frame.revision_id:
        state = FrameState.DELIVERED
    return Standing(state, len(sweeps), doubtful, marked, filling, provisional, stack)
