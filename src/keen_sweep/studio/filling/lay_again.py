"""Lay fills again on a newer version of a frame's picture: from the same places, without synthesis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from sqlmodel import col, select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, KeenSweepError
from keen_sweep.core.fill.closing import SURROUNDINGS_PX
from keen_sweep.core.fill.input_crop import CROP_STEP_PX
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.patch import Patch, patch_from_bytes
from keen_sweep.core.fill.version_transform import transfer_take
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.similarity import IDENTITY_SIMILARITY
from keen_sweep.document.stack import Behind, Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision, Take
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.below import takes_below
from keen_sweep.studio.filling.takes import MadeFor, keep_take
from keen_sweep.studio.history import change
from keen_sweep.studio.open_frame import OpenFrame, open_frame
from keen_sweep.studio.provisional import stand_in_step


@dataclass(frozen=True)
class Followed:
    """How many fills follow a newer version, and which do not, by their sweeps' names, each with why."""

    done: int
    left: tuple[tuple[str, str], ...]


def lay_again(library: Library, frame_id: int) -> Followed:
    """Lay all fills of a frame that are out of step again, from bottom to top, and pick them, in one step of the
    history; what cannot be laid again stays out of step. Each is a take of its own; the earlier ones stay. Raises
    NotFound."""
    current = open_frame(library, frame_id)
    stack, laid, left = current.stack, {}, []
    for sweep in current.stack.sweeps:
        if sweep.behind is None:
            continue
        try:
            laid[sweep.id] = _laid(current, stack, sweep.id, sweep.behind)
        except KeenSweepError as error:
            left.append((sweep.name, str(error)))
            continue
        # What is laid above sees it.
        stack = stack.changed(sweep.id, pick=laid[sweep.id], behind=None)

    def edit(now: Stack) -> Stack:
        for sweep in now.sweeps:
            if sweep.id in laid and sweep.behind is not None:
                pick = None if sweep.behind.provisional else laid[sweep.id]
                now = now.changed(sweep.id, pick=pick, behind=None)
        return now

    change(library, frame_id, sentence("lay fills again"), edit)
    return Followed(len(laid), tuple(left))


def fill_anew(library: Library, frame_id: int) -> Followed:
    """Ask for fills of all sweeps that are out of step, as many takes as usual of each, for nothing; what cannot be
    asked for stays out of step. Raises NotFound."""
    done, left = [], []
    for sweep in open_frame(library, frame_id).stack.sweeps:
        if sweep.behind is None:
            continue
        try:
            ask_fill(library, frame_id, sweep.id)
        except KeenSweepError as error:
            left.append((sweep.name, str(error)))
            continue
        done.append(sweep.id)
    _forget(library, frame_id, sentence("fill anew"), done)
    return Followed(len(done), tuple(left))


def let_go(library: Library, frame_id: int) -> int:
    """Forget which fills are out of step: their sweeps are to be filled anew; how many there were."""
    behind = [sweep.id for sweep in open_frame(library, frame_id).stack.sweeps if sweep.behind is not None]
    _forget(library, frame_id, sentence("discard fills out of step"), behind)
    return len(behind)


def lay_on_top(library: Library, frame_id: int, sweep_id: str) -> Revision | None:
    """Lay the take that stands in a sweep again on what is seen below it now.

    The result is a take of its own. It is picked if the other one was; otherwise it stands provisionally, without a
    step in the history.

    Raises
    ------
    BadRequest
        Where nothing stands in the sweep, or its take cannot be laid again.
    NotFound
        Where the frame or the sweep is not there.
    """
    current = open_frame(library, frame_id)
    sweep = current.stack.sweep(sweep_id)
    if sweep.pick is None:
        raise BadRequest(sentence("This sweep has no take yet."))
    laid = _laid(current, current.stack, sweep_id, Behind(patch=sweep.pick, provisional=sweep.provisional))
    if sweep.provisional:
        return None
    return change(library, frame_id, sentence("lay again"), lambda stack: stack.changed(sweep_id, pick=laid))


def _forget(library: Library, frame_id: int, title: str, sweep_ids: Sequence[str]) -> None:
    def edit(stack: Stack) -> Stack:
        for sweep in stack.sweeps:
            if sweep.id in sweep_ids:
                stack = stack.changed(sweep.id, behind=None)
        return stack

    change(library, frame_id, title, edit)


def _laid(current: OpenFrame, stack: Stack, sweep_id: str, behind: Behind) -> str:
    """A fill laid again on what lies below it in a stack, kept as a take; the content hash of its patch. Raises
    BadRequest when it cannot be."""
    query = select(Take).where(Take.patch == behind.patch, Take.sweep_id == sweep_id).order_by(col(Take.id))
    with current.library.session() as session:
        row = session.exec(query).first()
    take = patch_from_bytes(current.shelf.read(behind.patch))
    if behind.lies != IDENTITY_SIMILARITY:
        take = transfer_take(take, behind.lies, current.box)
    window = _seen(take, current.box)
    below = current.seen(window, stack=stack.below(sweep_id))
    made = lay_take_again(take.moved(-window.x, -window.y), below).moved(window.x, window.y)
    first = row.provenance if row is not None else made.provenance
    provenance = first.but(of=(row.id,) if row is not None else (), laid="again")
    run = row.run_id if row is not None else 0
    laid = replace(made, provenance=provenance)
    made_for = MadeFor(current.frame.original, takes_below(stack, sweep_id))
    number = keep_take(current.library, current.frame.id, sweep_id, run, laid, made_for)
    with current.library.session() as session:
        kept = session.get_one(Take, number)
        if behind.provisional:
            stand_in_step(session, kept, stack.sweep(sweep_id).mark.digest)
        return kept.patch


def _seen(take: Patch, picture: Box) -> Box:
    """What of the picture is looked at when a take is laid again: its surroundings, and where its pixels came from."""
    box = take.box.grow(SURROUNDINGS_PX + CROP_STEP_PX, picture)
    if take.offsets is not None and take.offsets.any():
        y, x = np.nonzero((take.offsets != 0).any(axis=2))
        source_places = take.offsets[y, x] + np.stack([x + take.box.x, y + take.box.y], axis=1)
        low, high = source_places.min(axis=0), source_places.max(axis=0)
        source = Box(x=int(low[0]), y=int(low[1]), width=int(high[0] - low[0]) + 1, height=int(high[1] - low[1]) + 1)
        box = box.union(source.grow(CROP_STEP_PX, picture))
    left, top = box.x // CROP_STEP_PX * CROP_STEP_PX, box.y // CROP_STEP_PX * CROP_STEP_PX
    return Box(x=left, y=top, width=box.right - left, height=box.bottom - top)
