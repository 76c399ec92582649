"""The series of a frame: its sisters, how far each is, and what of the frame landed there."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import partial

from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from keen_sweep.core.errors import BadRequest, Conflict, KeenSweepError
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Carrying, Frame, Run, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.carrying.carry import Landed
from keen_sweep.studio.carrying.sisters import series_of
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import DEFAULT_FILL, Fill
from keen_sweep.studio.gathering.names import natural
from keen_sweep.studio.gathering.states import FrameState, standings
from keen_sweep.studio.history import change
from keen_sweep.studio.provisional import standing_takes
from keen_sweep.studio.ranking.offered import newest, offered

_LANDED_ADAPTER: TypeAdapter[list[Landed]] = TypeAdapter(list[Landed])


@dataclass(frozen=True)
class StripFrame:
    """A frame of a series as the strip shows it: its state, how many sweeps it has, which of them are doubtful, wait to
    be filled, are being filled; what became of what was carried to it from the frame that is looked from: how far that
    is, what landed, what went wrong. elsewhere: it shows another place, so that nothing can be carried; behind: sweeps
    that were carried here and have changed there since; offered: the takes that are offered first of those that were
    carried here and wait to be chosen from, unless they were found not good."""

    frame: Frame
    state: FrameState
    sweeps: int
    doubtful: tuple[str, ...]
    marked: tuple[str, ...]
    filling: tuple[str, ...]
    carrying: RunState | None
    error: str | None
    elsewhere: bool
    landed: tuple[Landed, ...]
    behind: tuple[str, ...]
    offered: tuple[int, ...]


def series(library: Library, frame_id: int) -> list[StripFrame]:
    """All frames of a frame's shoot by name, itself among them. Raises NotFound."""
    frames = series_of(library, frame_id)
    with library.session() as session:
        far = standings(session, frames)
        own = select(Carrying).where(Carrying.frame_id == frame_id).order_by(col(Carrying.id))
        rows = session.exec(own).all()
        first = _seen_first(session, frames)
        latest = newest(session, frames)
    marks = {sweep.id: sweep.mark.digest for sweep in far[frame_id].stack.sweeps}
    out = []
    for frame in frames:
        mine = [row for row in rows if row.to_id == frame.id]
        landed: dict[str, Landed] = {}
        for row in mine:
            landed |= {each.sweep: each for each in _LANDED_ADAPTER.validate_python(row.landed)}
        other = far[frame.id]
        carried_sweeps = [sweep for sweep in other.stack.sweeps if sweep.carried and sweep.carried.frame == frame_id]
        came = [sweep.carried for sweep in carried_sweeps if sweep.carried]
        # What was deleted there is as if it had never come.
        left = {sweep.id for sweep in other.stack.sweeps} | {None}
        states = [row.state for row in mine]
        busy = next((state for state in states if state.is_open), None)
        out.append(
            StripFrame(
                frame=frame,
                state=other.state,
                sweeps=other.sweeps,
                doubtful=other.doubtful,
                marked=other.marked,
                filling=other.filling,
                carrying=busy or (states[-1] if states else None),
                error=mine[-1].error if mine else None,
                elsewhere=bool(mine) and mine[-1].elsewhere,
                landed=tuple(each for each in landed.values() if each.sweep in marks and each.made in left),
                behind=tuple(each.sweep for each in came if marks.get(each.sweep, each.mark) != each.mark),
                offered=tuple(
                    first[sweep.id]
                    for sweep in carried_sweeps
                    if sweep.pick is None
                    and not sweep.as_shot
                    and sweep.id in first
                    and sweep.id not in other.filling
                    # What was refused is not shown again; what was made since is.
                    and sweep.carried is not None
                    and latest[sweep.id] > sweep.carried.refused
                ),
            )
        )
    return out


def _seen_first(session: Session, frames: Iterable[Frame]) -> dict[str, int]:
    """The take that is seen of every sweep of some frames before one is picked, by the sweep's id: the one that stands
    provisionally, or the one that is offered first."""
    known = list(frames)
    first = offered(session, known)
    for standing in standing_takes(session, known).values():
        first |= {sweep: each.take for sweep, each in standing.items()}
    return first


def fill_series(
    library: Library, frame_id: int, frame_ids: Sequence[int], how: Fill = DEFAULT_FILL
) -> tuple[list[Run], list[str]]:
    """Queue everything that is marked and not filled in some frames of a series, in all others if none is named; see
    fill_frames."""
    frames = [frame.id for frame in series_of(library, frame_id)]
    return fill_frames(library, [each for each in frames if each in (frame_ids or set(frames) - {frame_id})], how)


def fill_frames(library: Library, frame_ids: Sequence[int], how: Fill = DEFAULT_FILL) -> tuple[list[Run], list[str]]:
    """Queue everything that is marked and not filled in some frames; what could not be queued is told in sentences.
    Raises BadRequest when nothing is marked."""
    with library.session() as session:
        frames = session.exec(select(Frame).where(col(Frame.id).in_(frame_ids))).all()
        far = standings(session, frames)
    runs: list[Run] = []
    refused: list[str] = []
    for frame in sorted(frames, key=lambda each: natural(each.name)):
        for sweep_id in far[frame.id].marked:
            try:
                runs.append(ask_fill(library, frame.id, sweep_id, how))
            except KeenSweepError as error:
                refused.append(f"{frame.name}: {error}")
    if not runs and not refused:
        raise BadRequest(sentence("Nothing in these frames is marked and unfilled."))
    return runs, refused


def approve(library: Library, frame_id: int, frame_ids: Sequence[int], good: bool) -> None:
    """What was carried over from a frame to some others is good as it is now, where takes wait to be chosen from with
    those that are offered first; or not: then it is marked again, to be chosen or put right by hand. Raises Conflict
    where something is still being filled: nobody can tell yet."""
    with library.together(), library.session() as session:
        frames = session.exec(select(Frame).where(col(Frame.id).in_(frame_ids))).all()
        far = standings(session, frames)
        for frame in frames:
            if far[frame.id].filling:
                raise Conflict(sentence("{name} is still being filled. Wait for its takes.", name=frame.name))
        takes = _seen_first(session, frames) if good else {}
        picks = {sweep: session.get_one(Take, take).patch for sweep, take in takes.items()}
        refused = {} if good else newest(session, frames)
        edit = partial(_judged, frame_id, good, picks, refused)
        for other in frame_ids:
            change(library, other, sentence("approved") if good else sentence("not approved"), edit)


def _judged(frame_id: int, good: bool, picks: dict[str, str], refused: dict[str, int], stack: Stack) -> Stack:
    for sweep in stack.sweeps:
        if sweep.carried is None or sweep.carried.frame != frame_id:
            continue
        carried = sweep.carried.model_copy(update={"doubtful": not good, "refused": refused.get(sweep.id, 0)})
        pick = sweep.pick if sweep.pick or sweep.as_shot else picks.get(sweep.id)
        decided = {"pick": pick} if good else {"pick": None, "as_shot": False}
        stack = stack.changed(sweep.id, carried=carried, **decided)
    return stack
