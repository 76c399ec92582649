"""Fill: put a run into the queue, and carry one out."""

from __future__ import annotations

import time
from dataclasses import replace
from functools import partial
from typing import Any
from uuid import uuid4

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field
from sqlmodel import Session, col, func, select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import (
    BadMask,
    BadRequest,
    Cancelled,
    Conflict,
    KeenSweepError,
    ModelTrouble,
    NotFound,
    Remedy,
)
from keen_sweep.core.fill.protocol import Method, Order, Quality
from keen_sweep.core.fill.things import things_beside
from keen_sweep.core.fill.words.order import answer_to
from keen_sweep.core.mask.check import check_mask
from keen_sweep.core.mask.mark import guard_of, mask_of
from keen_sweep.core.render import render
from keen_sweep.core.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.states import OPEN, RunState
from keen_sweep.store.tables import Frame, Run, Take, now
from keen_sweep.studio.budget import book, spent_of_yes
from keen_sweep.studio.events import note
from keen_sweep.studio.filling import filling_for
from keen_sweep.studio.history import change, frame_of, revision_of, stack_of
from keen_sweep.studio.mark import state_of, taken_apart
from keen_sweep.studio.originals import Originals
from keen_sweep.studio.scout import things_of
from keen_sweep.studio.takes import keep_take

PROGRESS_EVERY = 0.25
# Methods that heed hints.
HINTED = ("auto", "weave", "model")


class Fill(BaseModel):
    """How to fill: one value from the key that is pressed to the worker. seed: of the first take, or the next that is
    free; staged: a long mark section by section; credits: how many a service may take, as it was quoted; without them
    none is asked."""

    takes: int = Field(default=3, ge=1, le=12)
    quality: Quality = "fine"
    staged: bool = False
    seed: int | None = Field(default=None, ge=0, lt=2**31)
    credits: float = Field(default=0.0, ge=0, le=1_000_000)


AS_USUAL = Fill()


class FillRequest(Fill):
    """A fill that was asked for, kept with its run: the revision that was shown then, the sweep's method, and under
    which yes credits were agreed to: the runs of separate areas share one."""

    revision: int
    method: Method = "auto"
    yes: str = ""


def ask_fill(library: Library, frame_id: int, sweep_id: str, how: Fill = AS_USUAL, yes: str = "") -> Run:
    """Queue takes of a sweep as it is marked now. Seeds carry on from the takes that are there already.

    Raises BadMask when nothing is marked or everything, Conflict when this sweep is being filled.
    """
    with library.session() as session:
        frame = frame_of(session, frame_id)
        revision = revision_of(session, frame)
        stack = stack_of(revision)
        sweep = stack.sweep(sweep_id)
        _check(library, frame, stack, sweep_id)
        _check_hints(sweep)
        busy = session.exec(select(Run).where(Run.sweep_id == sweep_id, col(Run.state).in_(OPEN))).first()
        if busy is not None:
            raise Conflict("This sweep is being filled already: wait for its takes or cancel them.")
        seed = how.seed
        if seed is None:
            last = session.exec(select(func.max(Take.seed)).where(Take.sweep_id == sweep_id)).one()
            seed = 0 if last is None else last + 1
        assert revision.id is not None
        told = how.model_dump() | {"seed": seed}
        asked = FillRequest(**told, revision=revision.id, method=sweep.method, yes=yes or uuid4().hex)
        run = Run(frame_id=frame_id, sweep_id=sweep_id, request=asked.model_dump())
        session.add(run)
        session.flush()
        note(session, "run", shoot=frame.shoot_id, frame=frame_id, run=run.id)
        return run


def ask_fills(library: Library, frame_id: int, sweep_id: str, how: Fill = AS_USUAL) -> list[Run]:
    """The same for every separate area of a sweep that has no takes yet: each becomes a sweep of its own first.

    With a seed it is one fill of the sweep as it is.
    """
    if how.seed is not None:
        return [ask_fill(library, frame_id, sweep_id, how)]
    frame, stack = state_of(library, frame_id)
    ids = [sweep_id]
    with library.session() as session:
        fresh = session.exec(select(Take).where(Take.sweep_id == sweep_id)).first() is None
    if fresh and not stack.sweep(sweep_id).together:
        _check(library, frame, stack, sweep_id)

        def edit(stack: Stack) -> Stack:
            nonlocal ids
            changed, ids = taken_apart(library, stack, sweep_id, frame.width, frame.height)
            return changed

        change(library, frame_id, "split areas", edit)
    yes = uuid4().hex
    return [ask_fill(library, frame_id, each, how, yes) for each in ids]


def _check(library: Library, frame: Frame, stack: Stack, sweep_id: str) -> None:
    """Raise BadMask when there is nothing to fill, or nothing left to fill from."""
    width, height, load = frame.width, frame.height, library.files.read
    guard = guard_of(stack.guard, width, height, load)
    mark = stack.sweep(sweep_id).mark
    mask = mask_of(mark, width, height, load, guard)
    if guard is not None and not mask.pixels.any() and mask_of(mark, width, height, load).pixels.any():
        raise BadMask("The whole mark lies under the guard: nothing of it may be filled.")
    check_mask(mask.full(width, height), width, height, stack.sweep(sweep_id).method == "reflection")


def _check_hints(sweep: Sweep) -> None:
    """Raise BadRequest for hints that no engine could follow."""
    if sweep.method not in HINTED:
        return
    for words in (sweep.hint, sweep.avoid):
        answer = answer_to(words)
        if answer:
            raise BadRequest(answer)
    if sweep.method == "model" and sweep.ground is not None:
        raise BadRequest("A model cannot be given a patch to draw from: use words, or fill by weave.")


def cancel(library: Library, run_id: int) -> Run:
    """Stop a run: at once if it waits, soon if it is being worked on. Takes that are ready stay."""
    with library.session(write=True) as session:
        run = session.get(Run, run_id)
        if run is None:
            raise NotFound("This run is not there any more.")
        if run.state == "waiting":
            run.state, run.ended_at = RunState.CANCELLED, now()
        elif run.state == "running":
            run.state = RunState.STOPPING
        session.add(run)
        note(session, "run", frame=run.frame_id, run=run_id)
        return run


def carry_out(library: Library, run_id: int) -> None:
    """Work on a run until it is done, cancelled or failed; called in a worker process.

    After a crash it carries on with the takes that are still missing. Raises nothing that is a
    KeenSweepError: such an end is written into the run.
    """
    started = time.monotonic()
    with library.session() as session:
        run = session.get(Run, run_id)
        if run is None or run.state != "running":
            return
        ready = session.exec(select(func.count(col(Take.id))).where(Take.run_id == run_id)).one()
    asked = FillRequest.model_validate(run.request)
    last = [0.0]

    def progress(share: float, doing: str) -> None:
        moment = time.monotonic()
        if moment - last[0] < PROGRESS_EVERY:
            return
        last[0] = moment
        share = (ready + share * (asked.takes - ready)) / asked.takes
        spent = moment - started
        left = spent * (1 - share) / share if share > 0.02 and spent > 0.5 else None
        _report(library, run_id, share, doing, left)

    try:
        if ready < asked.takes:
            order = _order(library, run, asked, ready, progress)
            sweep, frame = _sweep_of(library, run, asked)
            agreed = max(asked.credits - spent_of_yes(library, asked.yes), 0.0)
            order = replace(order, paid=partial(book, library, frame, asked.yes))
            filling = filling_for(library, frame, sweep, asked.method, order, agreed)
            try:
                for patch in filling.engine.fill(order):
                    keep_take(library, run.frame_id, run.sweep_id, run_id, filling.told(patch))
            finally:
                filling.close(library)
        _end(library, run_id, RunState.DONE)
    except Cancelled:
        _end(library, run_id, RunState.CANCELLED)
    except ModelTrouble as error:
        _end(library, run_id, RunState.FAILED, str(error), error.remedy)
    except KeenSweepError as error:
        _end(library, run_id, RunState.FAILED, str(error))
    except MemoryError:
        _end(library, run_id, RunState.FAILED, "There is not enough memory for this fill: mark a smaller area.")


def _sweep_of(library: Library, run: Run, asked: FillRequest) -> tuple[Sweep, Frame]:
    """The sweep as it was when its fill was asked for, and its frame."""
    with library.session() as session:
        frame = frame_of(session, run.frame_id)
        return stack_of(revision_of(session, frame, asked.revision)).sweep(run.sweep_id), frame


def _order(library: Library, run: Run, asked: FillRequest, ready: int, progress: Any) -> Order:
    originals = Originals(library)
    with library.session() as session:
        frame = frame_of(session, run.frame_id)
        stack = stack_of(revision_of(session, frame, asked.revision))
    sweep = stack.sweep(run.sweep_id)
    guard = guard_of(stack.guard, frame.width, frame.height, library.files.read)
    mask = mask_of(sweep.mark, frame.width, frame.height, library.files.read, guard).full(frame.width, frame.height)
    if not mask.any():
        raise BadMask("The mask is empty: nothing is marked for removal.")
    below = stack.below(run.sweep_id)
    return Order(
        below=render(originals.pyramid(frame.original), below, originals),
        mask=mask,
        seed=(asked.seed or 0) + ready,
        takes=asked.takes - ready,
        quality=asked.quality,
        guard=guard,
        barred=_filled_already(frame, below, originals),
        things=things_beside(mask > 0, things_of(library, frame)),
        staged=asked.staged,
        hint=sweep.hint,
        avoid=sweep.avoid,
        knobs=sweep.knobs,
        draw_from=_own_ground(sweep, frame),
        progress=progress,
    )


def _own_ground(sweep: Sweep, frame: Frame) -> NDArray[np.bool_] | None:
    """The patch of this frame that a sweep is to be drawn from, (H, W)."""
    if sweep.ground is None or sweep.ground.frame not in (None, frame.id):
        return None
    out = np.zeros((frame.height, frame.width), bool)
    out[sweep.ground.box.intersect(Box(x=0, y=0, width=frame.width, height=frame.height)).slices] = True
    return out


def _filled_already(frame: Frame, below: Stack, originals: Originals) -> NDArray[np.bool_] | None:
    """What other sweeps made up, (H, W): it may be looked at, but a fill is made of the photograph alone."""
    if not below.picks():
        return None
    out = np.zeros((frame.height, frame.width), bool)
    for pick in below.picks():
        patch = originals.patch(pick)
        out[patch.box.slices] |= patch.alpha > 0
    return out


def _report(library: Library, run_id: int, share: float, doing: str, left: float | None) -> None:
    with library.session() as session:
        run = session.get(Run, run_id)
        if run is None or run.state != "running":
            raise Cancelled("The fill was cancelled.")
        run.progress, run.doing, run.seconds_left = share, doing, left
        session.add(run)
        note(session, "run", frame=run.frame_id, run=run_id)


def _end(
    library: Library, run_id: int, state: RunState, error: str | None = None, remedy: Remedy | None = None
) -> None:
    with library.session() as session:
        run = session.get(Run, run_id)
        if run is None:
            return
        run.state, run.error, run.ended_at, run.seconds_left = state, error, now(), None
        run.remedy = remedy
        if state == "done":
            run.progress = 1.0
        session.add(run)
        _note_run(session, run)


def _note_run(session: Session, run: Run) -> None:
    note(session, "run", frame=run.frame_id, run=run.id)
