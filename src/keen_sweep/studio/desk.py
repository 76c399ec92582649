"""The desk: everything about one frame that its window shows."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from enum import StrEnum

from sqlmodel import Session, col, select

from keen_sweep.core.box import Box
from keen_sweep.core.review.taste import Terms
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.document.touch import Touch
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Shoot, Snag, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.events import latest
from keen_sweep.studio.filling.below import is_below_changed
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.gathering.names import natural
from keen_sweep.studio.history import following, previous, revision_of
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.ranking.offered import best_of
from keen_sweep.studio.ranking.taste import learned


class SweepState(StrEnum):
    """How far a sweep is, in a word."""

    MARKED = "marked"
    PROVISIONAL = "provisional"
    AS_SHOT = "as shot"
    WAITING = "waiting"
    FILLING = "filling"
    STOPPING = "stopping"
    CHOOSE = "choose"
    KEPT = "kept"
    OUT_OF_STEP = "out of step"
    FAILED = "failed"


@dataclass(frozen=True)
class CameFrom:
    """Which frame a sweep was carried over from, and how sure it is that it landed on the thing."""

    frame: int
    name: str
    confidence: float
    doubtful: bool


@dataclass(frozen=True)
class SweepOnDesk:
    """A sweep with its takes in the order they were made, its last run, and its state in a word. pick: the take that
    the photographer picked; standing: the take that shows, picked or provisional; below_changed: that one was filled on
    other takes than are seen below it now."""

    number: int
    sweep: Sweep
    box: Box
    mask: str
    takes: list[Take]
    run: Run | None
    state: SweepState
    best: int | None
    pick: int | None
    standing: int | None
    snags: list[Snag]
    carried: CameFrom | None
    below_changed: bool


@dataclass(frozen=True)
class Desk:
    """picks: by how many of the photographer's picks takes are put in order, 0 where that is ours.

    pixels changes whenever something else is to be seen, guard whenever the guard does, finds whenever others are
    open. news: the number of the last event that it takes account of."""

    frame: Frame
    shoot: Shoot
    neighbours: list[tuple[int, str]]
    revision: int
    undo: str | None
    redo: str | None
    sweeps: list[SweepOnDesk]
    touches: list[tuple[Touch, int]]
    guard: str | None
    pixels: str
    finds: str
    picks: int
    news: int


def desk(library: Library, frame_id: int) -> Desk:
    """Read everything the desk shows of a frame. Raises NotFound."""
    news = latest(library)
    current = open_frame(library, frame_id)
    finds = open_finds(current)
    with library.session() as session:
        shoot = session.get_one(Shoot, current.frame.shoot_id)
        revision = revision_of(session, current.frame, current.revision)
        after = following(session, revision)
        taste = learned(session)
        sweeps = _sweeps(session, current.frame, current.stack, taste.order)
        return Desk(
            frame=current.frame,
            shoot=shoot,
            neighbours=_neighbours(session, current.frame),
            revision=current.revision,
            undo=revision.title if previous(session, revision) else None,
            redo=after.title if after else None,
            sweeps=sweeps,
            touches=_touches(current.stack),
            guard=_guard_digest(current.stack) if current.stack.guard else None,
            pixels=_pixels(current.frame, current.stack, sweeps),
            finds=_digest(*(str(find.id) for find in finds)),
            picks=taste.picks if taste.order is not None else 0,
            news=news,
        )


def _neighbours(session: Session, frame: Frame) -> list[tuple[int, str]]:
    frames = session.exec(select(Frame.id, Frame.name).where(Frame.shoot_id == frame.shoot_id)).all()
    return sorted(((number, name) for number, name in frames), key=lambda each: natural(each[1]))


def _sweeps(session: Session, frame: Frame, stack: Stack, taste: Terms | None) -> list[SweepOnDesk]:
    # Those of other versions are not of this picture: what can be laid again becomes a take of it.
    of_this = select(Take).where(Take.frame_id == frame.id, Take.original == frame.original)
    takes = session.exec(of_this.order_by(col(Take.id))).all()
    runs = session.exec(select(Run).where(Run.frame_id == frame.id).order_by(col(Run.id))).all()
    found = select(Snag).where(Snag.frame_id == frame.id).order_by(col(Snag.strength).desc())
    snags = session.exec(found).all()
    last_run = {run.sweep_id: run for run in runs}
    picture = Box(x=0, y=0, width=frame.width, height=frame.height)
    guard = _guard_digest(stack)
    out = []
    for number, sweep in enumerate(stack.sweeps, start=1):
        own = [take for take in takes if take.sweep_id == sweep.id]
        run = last_run.get(sweep.id)
        standing = next((take.id for take in reversed(own) if take.patch == sweep.pick), None)
        box = sweep.reach(picture)
        for take in own:
            place = Box(x=take.x, y=take.y, width=take.width, height=take.height)
            box = place if box.empty else box.union(place)
        out.append(
            SweepOnDesk(
                number=number,
                sweep=sweep,
                box=box,
                mask=_digest(guard, sweep.mark.digest),
                takes=own,
                run=run,
                state=_state(sweep, own, run),
                best=best_of(own, taste),
                pick=None if sweep.provisional else standing,
                standing=standing,
                snags=[snag for snag in snags if snag.sweep_id == sweep.id],
                carried=_came_from(session, sweep),
                below_changed=is_below_changed(stack, sweep, takes, picture),
            )
        )
    return out


def _came_from(session: Session, sweep: Sweep) -> CameFrom | None:
    if sweep.carried is None:
        return None
    frame = session.get(Frame, sweep.carried.frame)
    name = frame.name if frame is not None else sentence("a deleted frame")
    return CameFrom(sweep.carried.frame, name, sweep.carried.confidence, sweep.carried.doubtful)


def _touches(stack: Stack) -> list[tuple[Touch, int]]:
    """Every touch-up, and how many sweeps lie below it."""
    out, over = [], 0
    for layer in stack.layers:
        if isinstance(layer, Touch):
            out.append((layer, over))
        else:
            over += 1
    return out


def _pixels(frame: Frame, stack: Stack, sweeps: list[SweepOnDesk]) -> str:
    """Changes whenever something else is seen, or can be: a revision with the same pixels serves as well to look at any
    take, and what was loaded of it stays."""
    filled = {each.sweep.id for each in sweeps if each.takes}
    facts = [f"{frame.id} {frame.original}"]
    for layer in stack.layers:
        if isinstance(layer, Touch):
            facts.append(f"{layer.id} {layer.shown}")
        elif layer.id in filled:
            facts.append(f"{layer.id} {layer.shown} {layer.pick} {layer.amount}")
    return _digest(*facts)


def _guard_digest(stack: Stack) -> str:
    return _digest(*(shape.model_dump_json() for shape in stack.guard))


def _digest(*facts: str) -> str:
    """Something short that changes whenever facts do."""
    return hashlib.sha256("\n".join(facts).encode()).hexdigest()[:16]


def _state(sweep: Sweep, takes: list[Take], run: Run | None) -> SweepState:
    if run is not None and run.state.is_open:
        return SweepState.FILLING if run.state is RunState.RUNNING else SweepState(run.state)
    if sweep.pick:
        return SweepState.PROVISIONAL if sweep.provisional else SweepState.KEPT
    if sweep.behind:
        return SweepState.OUT_OF_STEP
    if takes:
        return SweepState.AS_SHOT if sweep.as_shot else SweepState.CHOOSE
    if run is not None and run.state is RunState.FAILED:
        return SweepState.FAILED
    return SweepState.MARKED
