"""Carry out a fill, in a worker process."""

from __future__ import annotations

import math
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import partial

import numpy as np
from sqlmodel import col, func, select

from keen_sweep.core.arrays import Bools
from keen_sweep.core.errors import BadMask, Cancelled, Conflict, KeenSweepError, ModelTrouble, NotFound, Remedy
from keen_sweep.core.fill.engine import Engine, FillInput, Sources, Words
from keen_sweep.core.fill.excluded_objects import things_to_exclude
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.words.command import hint_as_description
from keen_sweep.core.progress import Progress
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Run, Take
from keen_sweep.store.words import EventKind, RunState
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.choosing.settle import settle
from keen_sweep.studio.events import note
from keen_sweep.studio.filling.below import takes_below
from keen_sweep.studio.filling.budget import agreement_for, book
from keen_sweep.studio.filling.engine_choice import filling_for
from keen_sweep.studio.filling.fill import FillRequest
from keen_sweep.studio.filling.takes import MadeFor, keep_take
from keen_sweep.studio.found.open_finds import things_of
from keen_sweep.studio.notices import tell_of_run
from keen_sweep.studio.open_frame import OpenFrame, open_frame

PROGRESS_SECONDS = 0.25
# From this share on, the elapsed time predicts the time left.
MIN_ESTIMATE_SHARE = 0.05
MIN_ESTIMATE_SECONDS = 0.5
# The time left is never said to be more than this ratio above the shortest that was said.
MAX_ESTIMATE_RATIO = 1.2
# Progress that a run that has not finished reports at most.
MAX_OPEN_SHARE = 0.99


# Makes of an engine one that fills on another machine.
Elsewhere = Callable[[Engine], Engine]


def carry_out(library: Library, run_id: int, elsewhere: Elsewhere | None = None) -> None:
    """Work on a run until it is done, cancelled or failed; elsewhere: by whom, if it can be done without the library.
    A model and its key never leave this machine.

    After a crash it carries on with the takes that are still missing. Raises nothing that is a
    KeenSweepError: such an end is written into the run.
    """
    with library.session() as session:
        run = session.get(Run, run_id)
        if run is None or run.state is not RunState.RUNNING:
            return
        ready = session.exec(select(func.count(col(Take.id))).where(Take.run_id == run_id)).one()
    try:
        _fill(library, run, FillRequest.model_validate(run.request), ready, elsewhere)
        _end(library, run_id, RunState.DONE)
    except Cancelled:
        _end(library, run_id, RunState.CANCELLED)
    except ModelTrouble as error:
        _end(library, run_id, RunState.FAILED, str(error), error.remedy)
    except KeenSweepError as error:
        _end(library, run_id, RunState.FAILED, str(error))
    except MemoryError:
        _end(
            library, run_id, RunState.FAILED, sentence("There is not enough memory for this fill. Mark a smaller area.")
        )


def _fill(library: Library, run: Run, asked: FillRequest, ready: int, elsewhere: Elsewhere | None) -> None:
    """Make the takes that are not ready yet."""
    if ready >= asked.takes:
        return
    current = open_frame(library, run.frame_id, asked.revision)
    sweep = current.stack.sweep(run.sweep_id)
    progress = _Progress(library, run.id, ready, asked.takes)
    given = _fill_input(current, sweep, asked, ready, progress)
    given = replace(given, paid=partial(book, library, run, asked.consent))
    filling = filling_for(current, sweep, asked.method, given, agreement_for(library, run, asked))
    engine = filling.engine if elsewhere is None or filling.model is not None else elsewhere(filling.engine)
    made_for = MadeFor(current.frame.original, takes_below(current.stack, sweep.id), sweep.mark.digest)
    try:
        for number, patch in enumerate(engine.fill(given)):
            take = keep_take(library, run.frame_id, run.sweep_id, run.id, filling.told(patch), made_for)
            if asked.pick and not number and not ready:
                # Somebody may have thought better of it meanwhile.
                with suppress(NotFound, Conflict):
                    pick(library, run.frame_id, run.sweep_id, take)
    finally:
        filling.close(library)


@dataclass
class _Progress:
    """Tells now and then how far a run is, never less far than before, and breaks it off when it was cancelled."""

    library: Library
    run_id: int
    ready: int
    takes: int
    started: float = field(default_factory=time.monotonic)
    told: float = 0.0
    share: float = 0.0
    shortest: float = math.inf

    def __call__(self, share: float, doing: str) -> None:
        moment = time.monotonic()
        if moment - self.told < PROGRESS_SECONDS:
            return
        self.told = moment
        done = min(max(self.share, share), MAX_OPEN_SHARE)
        spent = moment - self.started
        left: float | None = None
        if done > MIN_ESTIMATE_SHARE and spent > MIN_ESTIMATE_SECONDS:
            left = min(spent * (1 - done) / done, MAX_ESTIMATE_RATIO * self.shortest)
            self.shortest = min(self.shortest, left)
        self.share = done
        share = (self.ready + done * (self.takes - self.ready)) / self.takes
        with self.library.session() as session:
            run = session.get(Run, self.run_id)
            if run is None or run.state is not RunState.RUNNING:
                raise Cancelled(sentence("The fill was cancelled."))
            run.progress, run.doing, run.seconds_left = share, doing, left
            session.add(run)
            note(session, EventKind.RUN, frame=run.frame_id, run=run.id)


def _fill_input(current: OpenFrame, sweep: Sweep, asked: FillRequest, ready: int, progress: Progress) -> FillInput:
    mask = current.full(current.mask(sweep.id))
    if not mask.any():
        raise BadMask(sentence("The mask is empty: nothing is marked for removal."))
    going, filled = _going_too(current, sweep), _filled_already(current, sweep)
    barred = going if filled is None else filled if going is None else going | filled
    return FillInput(
        below=current.below(sweep.id),
        mask=mask,
        seed=(asked.seed or 0) + ready,
        takes=asked.takes - ready,
        quality=asked.quality,
        guard=current.guard,
        sources=Sources(
            barred=barred,
            foreign=going,
            things=things_to_exclude(mask > 0, things_of(current)),
            draw_from=_own_ground(current, sweep),
        ),
        staged=asked.staged,
        lead=sweep.lead,
        words=Words(hint=hint_as_description(sweep.hint), avoid=hint_as_description(sweep.avoid)),
        knobs=sweep.knobs,
        # Where the first is picked as it comes it has to be the best.
        first_at_once=not asked.pick and not ready,
        progress=progress,
    )


def _own_ground(current: OpenFrame, sweep: Sweep) -> Bools | None:
    """The patch of this frame that a sweep is to be drawn from, (H, W)."""
    if sweep.ground is None or sweep.ground.frame not in (None, current.frame.id):
        return None
    out = np.zeros((current.frame.height, current.frame.width), bool)
    out[sweep.ground.box.intersect(current.box).slices] = True
    return out


def _going_too(current: OpenFrame, sweep: Sweep) -> Bools | None:
    """What else is marked and still to be seen, (H, W): it goes too, and so is nothing to copy nor to meet."""
    others = [
        each
        for each in current.stack.sweeps
        if each.id != sweep.id
        and each.shown
        and each.pick is None
        and not each.as_shot
        and each.mark.shapes
        # A reflection may lie over all of the picture, and that stays.
        and each.method is not Method.REFLECTION
    ]
    if not others:
        return None
    out = np.zeros((current.frame.height, current.frame.width), bool)
    for each in others:
        mask = current.mask(each.id)
        out[mask.box.slices] |= mask.pixels > 0
    return out


def _filled_already(current: OpenFrame, sweep: Sweep) -> Bools | None:
    """What other sweeps made up, (H, W): it may be looked at, but a fill is made of the photograph alone."""
    picks = current.stack.below(sweep.id).picks()
    if not picks:
        return None
    out = np.zeros((current.frame.height, current.frame.width), bool)
    for name in picks:
        patch = current.shelf.patch(name)
        out[patch.box.slices] |= patch.alpha > 0
    return out


def _end(
    library: Library, run_id: int, state: RunState, error: str | None = None, remedy: Remedy | None = None
) -> None:
    # Before the next fill begins, which is built on what stands; and if this process is killed in between, the run is
    # done again to here.
    settle(library, run_id)
    with library.session() as session:
        run = session.get(Run, run_id)
        if run is None:
            return
        run.state, run.error, run.ended_at, run.seconds_left = state, error, now(), None
        run.remedy = remedy
        if state is RunState.DONE:
            run.progress = 1.0
        session.add(run)
        note(session, EventKind.RUN, frame=run.frame_id, run=run.id)
        tell_of_run(session, run)
