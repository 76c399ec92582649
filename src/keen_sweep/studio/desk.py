"""The desk: everything about one frame that its window shows."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from sqlmodel import Session, col, select

from keen_sweep.core.box import Box
from keen_sweep.core.stack import Stack, Sweep
from keen_sweep.core.touch.touch import Touch
from keen_sweep.store.library import Library
from keen_sweep.store.states import RunState
from keen_sweep.store.tables import Frame, Run, Shoot, Snag, Take
from keen_sweep.studio.history import following, frame_of, previous, revision_of, stack_of


@dataclass(frozen=True)
class SweepOnDesk:
    """A sweep with its takes in the order they were made, its last run, and its state in a word."""

    number: int
    sweep: Sweep
    box: Box
    mask: str
    takes: list[Take]
    run: Run | None
    state: str
    best: int | None
    pick: int | None
    snags: list[Snag]


@dataclass(frozen=True)
class Desk:
    frame: Frame
    shoot: Shoot
    neighbours: list[tuple[int, str]]
    revision: int
    undo: str | None
    redo: str | None
    sweeps: list[SweepOnDesk]
    touches: list[tuple[Touch, int]]
    guard: str | None


def desk(library: Library, frame_id: int) -> Desk:
    """Read everything the desk shows of a frame. Raises NotFound."""
    with library.session() as session:
        frame = frame_of(session, frame_id)
        shoot = session.get(Shoot, frame.shoot_id)
        assert shoot is not None
        revision = revision_of(session, frame)
        after = following(session, revision)
        assert revision.id is not None
        stack = stack_of(revision)
        return Desk(
            frame=frame,
            shoot=shoot,
            neighbours=_neighbours(session, frame),
            revision=revision.id,
            undo=revision.title if previous(session, revision) else None,
            redo=after.title if after else None,
            sweeps=_sweeps(session, frame, stack),
            touches=_touches(stack),
            guard=_digest(stack) if stack.guard else None,
        )


def _neighbours(session: Session, frame: Frame) -> list[tuple[int, str]]:
    from keen_sweep.studio.gather import natural

    frames = session.exec(select(Frame).where(Frame.shoot_id == frame.shoot_id)).all()
    return [(f.id or 0, f.name) for f in sorted(frames, key=lambda f: natural(f.name))]


def _sweeps(session: Session, frame: Frame, stack: Stack) -> list[SweepOnDesk]:
    takes = session.exec(select(Take).where(Take.frame_id == frame.id).order_by(col(Take.id))).all()
    runs = session.exec(select(Run).where(Run.frame_id == frame.id).order_by(col(Run.id))).all()
    found = select(Snag).where(Snag.frame_id == frame.id).order_by(col(Snag.strength).desc())
    snags = session.exec(found).all()
    out = []
    for number, sweep in enumerate(stack.sweeps, start=1):
        own = [take for take in takes if take.sweep_id == sweep.id]
        run = next((run for run in reversed(runs) if run.sweep_id == sweep.id), None)
        best = _best(own)
        picked = next((take.id for take in reversed(own) if take.patch == sweep.pick), None)
        box = sweep.mark.reach(Box(x=0, y=0, width=frame.width, height=frame.height))
        for take in own:
            box = (
                box.union(Box(x=take.x, y=take.y, width=take.width, height=take.height))
                if not box.empty
                else Box(x=take.x, y=take.y, width=take.width, height=take.height)
            )
        state = _state(sweep, own, run)
        seen = [snag for snag in snags if snag.sweep_id == sweep.id]
        out.append(SweepOnDesk(number, sweep, box, _digest(stack, sweep), own, run, state, best, picked, seen))
    return out


def _best(takes: list[Take]) -> int | None:
    """The take that is offered first: the one the review likes best, and before there is one, the engine."""
    if not takes:
        return None
    reviewed = [take for take in takes if take.review is not None and take.method not in ("mix", "mend")]
    if len(reviewed) == sum(take.method not in ("mix", "mend") for take in takes) and reviewed:
        return min(reviewed, key=lambda take: (take.review or 0.0, take.seed)).id
    return min(takes, key=lambda take: (take.energy, take.seed)).id


def _touches(stack: Stack) -> list[tuple[Touch, int]]:
    """Every touch-up, and how many sweeps lie below it."""
    out, over = [], 0
    for layer in stack.layers:
        if isinstance(layer, Touch):
            out.append((layer, over))
        else:
            over += 1
    return out


def _digest(stack: Stack, sweep: Sweep | None = None) -> str:
    """Changes whenever a mask does, or what is guarded when no sweep is named."""
    digest = hashlib.sha1("".join(shape.model_dump_json() for shape in stack.guard).encode(), usedforsecurity=False)
    if sweep is not None:
        digest.update(sweep.mark.model_dump_json().encode())
    return digest.hexdigest()[:16]


def _state(sweep: Sweep, takes: list[Take], run: Run | None) -> str:
    if run is not None and run.state.is_open:
        return "filling" if run.state is RunState.RUNNING else run.state.value
    if sweep.pick:
        return "kept"
    if takes:
        return "choose"
    if run is not None and run.state == "failed":
        return "failed"
    return "marked"
