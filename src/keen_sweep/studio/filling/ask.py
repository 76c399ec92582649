"""Ask for a fill: it is put into the queue, and may be taken out of it again."""

from __future__ import annotations

from uuid import uuid4

from sqlmodel import col, func, select

from keen_sweep.core.errors import BadMask, BadRequest, Conflict, NotFound
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.check import check_mask
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Run, Take
from keen_sweep.store.words import OPEN_STATES, EventKind, RunState
from keen_sweep.studio.events import note
from keen_sweep.studio.expected_revision import check_seen
from keen_sweep.studio.filling.fill import DEFAULT_FILL, Fill, FillRequest
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.marking.areas import split
from keen_sweep.studio.open_frame import OpenFrame, open_frame
from keen_sweep.studio.spending import check_may_spend


def ask_fill(library: Library, frame_id: int, sweep_id: str, how: Fill = DEFAULT_FILL, consent: str = "") -> Run:
    """Queue takes of a sweep as it is marked now. Seeds carry on from the takes that are there already.

    Raises BadMask when nothing is marked or everything, Conflict when this sweep is being filled.
    """
    check_may_spend(how.credits)
    current = open_frame(library, frame_id)
    sweep = current.stack.sweep(sweep_id)
    _check(current, sweep)
    with library.session() as session:
        busy = session.exec(select(Run).where(Run.sweep_id == sweep_id, col(Run.state).in_(OPEN_STATES))).first()
        if busy is not None:
            raise Conflict(sentence("This sweep is being filled. Wait for its takes, or cancel the fill."))
        seed = how.seed
        if seed is None:
            last = session.exec(select(func.max(Take.seed)).where(Take.sweep_id == sweep_id)).one()
            seed = 0 if last is None else last + 1
        settings = how.model_dump() | {"seed": seed}
        asked = FillRequest(**settings, revision=current.revision, method=sweep.method, consent=consent or uuid4().hex)
        run = Run(frame_id=frame_id, sweep_id=sweep_id, request=asked.model_dump(mode="json"))
        session.add(run)
        session.flush()
        note(session, EventKind.RUN, shoot=current.frame.shoot_id, frame=frame_id, run=run.id)
        return run


def ask_fills(library: Library, frame_id: int, sweep_id: str, how: Fill = DEFAULT_FILL) -> list[Run]:
    """The same for every separate area of a sweep that has no takes yet: each becomes a sweep of its own first. All of
    it happens or nothing.

    With a seed it is one fill of the sweep as it is.
    """
    if how.seed is not None:
        return [ask_fill(library, frame_id, sweep_id, how)]
    # Made before others are kept from writing, the mask is there when it is looked at again.
    current = open_frame(library, frame_id)
    current.mask(sweep_id)
    with library.together():
        current = open_frame(library, frame_id)
        sweep = current.stack.sweep(sweep_id)
        ids = [sweep_id]
        if not sweep.together and not takes_of(library, sweep_id):
            _check(current, sweep)
            ids, _ = split(library, frame_id, sweep_id)
        consent = uuid4().hex
        return [ask_fill(library, frame_id, each, how, consent) for each in ids]


def _check(current: OpenFrame, sweep: Sweep) -> None:
    """Raise BadMask when there is nothing to fill, or nothing left to fill from; BadRequest for a patch to draw from
    that no model could follow; Outdated when the frame has gone on since whoever asks looked at it."""
    check_seen(current.frame)
    mask = current.mask(sweep.id)
    if current.guard is not None and not mask.pixels.any() and current.mask(sweep.id, unguarded=True).pixels.any():
        raise BadMask(sentence("The whole mark lies inside the guard: nothing can be filled."))
    check_mask(current.full(mask), current.frame.width, current.frame.height, sweep.method.may_cover_all)
    if not sweep.method.heeds_words:
        return
    if sweep.method is Method.MODEL and sweep.ground is not None:
        raise BadRequest(sentence("A model cannot copy from an area. Use a hint, or fill with weave."))


def run_of(library: Library, run_id: int) -> Run:
    """A run. Raises NotFound."""
    with library.session() as session:
        run = session.get(Run, run_id)
    if run is None:
        raise NotFound(sentence("This run no longer exists."))
    return run


def cancel(library: Library, run_id: int) -> Run:
    """Stop a run: at once if it waits, soon if it is being worked on. Takes that are ready stay."""
    with library.session(write=True) as session:
        run = session.get(Run, run_id)
        if run is None:
            raise NotFound(sentence("This run no longer exists."))
        if run.state is RunState.WAITING:
            run.state, run.ended_at = RunState.CANCELLED, now()
        elif run.state is RunState.RUNNING:
            run.state = RunState.STOPPING
        session.add(run)
        note(session, EventKind.RUN, frame=run.frame_id, run=run_id)
        return run
