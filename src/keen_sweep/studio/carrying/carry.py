"""Carry sweeps over to another frame: moved by the alignment, marked there, and not filled before somebody says so."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from uuid import uuid4

import numpy as np
from pydantic import BaseModel

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.alignment import Alignment
from keen_sweep.core.series.landing import Verdict, land
from keen_sweep.core.series.transferred_shape import Places, transfer_shape
from keen_sweep.document.mark import Mark, filed, shapes_of
from keen_sweep.document.stack import Carried, Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.carrying.aligning import alignment_of
from keen_sweep.studio.carrying.backdrop import beyond_in, is_beyond
from keen_sweep.studio.carrying.near_by import found_again
from keen_sweep.studio.history import change
from keen_sweep.studio.open_frame import OpenFrame, open_frame
from keen_sweep.studio.ranking.offered import newest


class Landed(BaseModel):
    """What became of a sweep in another frame: its id here and there, how sure it is that it landed, and where."""

    sweep: str
    name: str
    verdict: Verdict
    confidence: float
    made: str | None = None
    box: Box | None = None


@dataclass(frozen=True)
class WorkedOut:
    """What is to be put down in another frame: for each sweep what became of it, and its mark there if it landed."""

    title: str
    to_id: int
    sweeps: tuple[tuple[Sweep, Landed, Mark | None, Carried], ...]


def work_out(
    library: Library, frame_id: int, sweep_ids: Sequence[str], to_id: int, sensor: bool = False, wide: bool = False
) -> WorkedOut:
    """Work out where sweeps land in another frame; sensor, wide: see ask_carry. Nothing is changed yet: this takes
    seconds. Raises NotTheSamePlace, BadRequest, NotFound."""
    current, other = open_frame(library, frame_id), open_frame(library, to_id)
    sweeps = [sweep for sweep in current.stack.sweeps if sweep.id in sweep_ids]
    if sensor:
        _check_sensor(current, other)
    alignment = None if sensor else alignment_of(current, other)
    out = []
    for sweep in sweeps:
        landed, mark, lead = _landed(current, other, sweep, alignment, wide)
        came = Carried(
            frame=frame_id,
            sweep=sweep.id,
            mark=sweep.mark.digest,
            confidence=landed.confidence,
            doubtful=landed.verdict is Verdict.DOUBTFUL,
        )
        out.append((sweep.model_copy(update={"lead": lead}), landed, mark, came))
    return WorkedOut(sentence("carry over from {name}", name=current.frame.name), to_id, tuple(out))


def unseen(worked: WorkedOut) -> WorkedOut:
    """The same, with everything doubtful until somebody has looked at it: it is filled before anybody has."""
    sweeps = tuple(
        (sweep, landed, mark, came.model_copy(update={"doubtful": True})) for sweep, landed, mark, came in worked.sweeps
    )
    return replace(worked, sweeps=sweeps)


def put_down(library: Library, worked: WorkedOut) -> list[Landed]:
    """Mark the sweeps in the other frame, all in one step of its history; one that was carried before is moved."""
    ids: dict[str, str] = {}
    landing = [(sweep, mark, came) for sweep, _, mark, came in worked.sweeps if mark is not None]

    def edit(stack: Stack) -> Stack:
        for sweep, mark, came in landing:
            stack, ids[sweep.id] = _with(stack, sweep, mark, came, latest)
        return stack

    with library.session() as session:
        latest = newest(session, [session.get_one(Frame, worked.to_id)]) if landing else {}
    if landing:
        change(library, worked.to_id, worked.title, edit)
    return [landed.model_copy(update={"made": ids.get(sweep.id)}) for sweep, landed, _, _ in worked.sweeps]


def _with(stack: Stack, sweep: Sweep, mark: Mark, came: Carried, latest: dict[str, int]) -> tuple[Stack, str]:
    """A stack with a sweep carried into it, and its id there: a new one, or the one that came from it before. latest:
    the newest take of each sweep there."""
    for known in stack.sweeps:
        if known.carried is not None and known.carried.sweep == sweep.id:
            moved = known.mark != mark
            undecided = {"pick": None, "as_shot": False, "outdated": latest.get(known.id, 0)} if moved else {}
            return stack.changed(known.id, mark=mark, lead=sweep.lead, carried=came, **undecided), known.id
    made = uuid4().hex
    # A patch to draw from was one of that frame.
    fresh = {"id": made, "mark": mark, "carried": came, "ground": None, "amount": 100, "shown": True}
    undecided = {"pick": None, "provisional": False, "as_shot": False, "outdated": 0}
    return stack.with_layer(sweep.model_copy(update=fresh | undecided)), made


def _landed(
    current: OpenFrame, other: OpenFrame, sweep: Sweep, alignment: Alignment | None, wide: bool
) -> tuple[Landed, Mark | None, tuple[LeadLine, ...]]:
    """Where a sweep lands, its mark there and the lines that lead its fill; no alignment: at the same place of the
    sensor."""
    verdict, confidence, mark, lead = _sought(current, other, sweep, alignment, wide)
    if mark is not None and not other.mask_of(mark, unguarded=True).pixels.any():
        verdict, mark = Verdict.OUT_OF_FRAME, None
    box = None if mark is None else mark.reach(other.box)
    said = Landed(sweep=sweep.id, name=sweep.name, verdict=verdict, confidence=round(confidence, 3), box=box)
    return said, mark, lead


def _sought(
    current: OpenFrame, other: OpenFrame, sweep: Sweep, alignment: Alignment | None, wide: bool
) -> tuple[Verdict, float, Mark | None, tuple[LeadLine, ...]]:
    if alignment is None:
        return Verdict.LANDED, 1.0, sweep.mark, sweep.lead
    mask = current.mask(sweep.id, unguarded=True)
    if not mask.pixels.any():
        return Verdict.NOT_THERE, 0.0, None, ()
    own = beyond_in(current, other) if is_beyond(sweep, mask, current.box) else None
    if own is not None:
        return Verdict.LANDED, 1.0, _marked(current, sweep, [own]), ()
    people, share = found_again(current, other, mask, alignment) if wide else ((), 0.0)
    if people:
        # Whoever stands elsewhere now hides something else.
        return Verdict.DOUBTFUL, share, _marked(current, sweep, people), ()
    found = land(current.pyramid.level(0), mask, other.pyramid.level(0), alignment, wide)
    lies = found.verdict in (Verdict.LANDED, Verdict.DOUBTFUL)
    if not lies:
        return found.verdict, found.confidence, None, ()
    lead = tuple(line.through(found.places(line.xy)) for line in sweep.lead)
    return found.verdict, found.confidence, _moved(current, sweep.mark, found.places), lead


def _marked(current: OpenFrame, sweep: Sweep, masks: Sequence[Mask]) -> Mark:
    """A mark of areas that were found, fitted as the sweep's own."""
    areas = tuple(as_area(each, current.library.files.add) for each in masks)
    return sweep.mark.model_copy(update={"shapes": areas})


def _moved(current: OpenFrame, mark: Mark, places: Places) -> Mark:
    """A mark as it lies in another frame."""
    keep, read = current.library.files.add, current.shelf.read
    shapes = [transfer_shape(shape, places, read, keep, current.box) for shape in shapes_of(mark.shapes, current.shelf)]
    return mark.model_copy(update={"shapes": filed(shapes, keep)})


def _check_sensor(current: OpenFrame, other: OpenFrame) -> None:
    """Raise BadRequest unless two frames may come off the same sensor, held the same way."""
    ours, theirs = (np.array([each.frame.width, each.frame.height]) for each in (current, other))
    if (ours == theirs).all():
        return
    turned = (ours == theirs[::-1]).all()
    why = sentence("was taken upright where this one was not") if turned else sentence("has another size")
    raise BadRequest(
        sentence("{name} {why}: sensor dust does not lie at the same places.", name=other.frame.name, why=why)
    )
