"""Ask for sweeps to be carried over: it is done beside everything else, one frame at a time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import col, select

from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Carrying, Find
from keen_sweep.store.words import EventKind, RunState
from keen_sweep.studio.carrying.sisters import series_of
from keen_sweep.studio.events import note
from keen_sweep.studio.open_frame import open_frame


@dataclass(frozen=True)
class How:
    """How to carry over. sensor: to the same place of the sensor; None: those that scouts found as dust. wide: look
    near by for what is not where it was. fill: what lands is filled at once, and the first take of each picked, to be
    approved."""

    sensor: bool | None = None
    wide: bool = False
    fill: bool = False


DEFAULT_HOW = How()


def ask_carry(
    library: Library, frame_id: int, sweep_ids: Sequence[str], to: Sequence[int], how: How = DEFAULT_HOW
) -> list[Carrying]:
    """Carry sweeps of a frame, all of them if none is named, over to other frames of its shoot, all if none is named.

    Raises NotFound, BadRequest when there is nothing to carry or nowhere to carry it.
    """
    current = open_frame(library, frame_id)
    chosen = [sweep.id for sweep in current.stack.sweeps if not sweep_ids or sweep.id in sweep_ids]
    if len(chosen) < len(set(sweep_ids)):
        raise NotFound(sentence("One of these sweeps is no longer in the picture."))
    if not chosen:
        raise BadRequest(sentence("Nothing is marked in this picture yet, so there is nothing to carry over."))
    series = [frame.id for frame in series_of(library, frame_id) if frame.id != frame_id]
    if not series:
        raise BadRequest(sentence("This shoot has only one picture, so there is nothing to carry over to."))
    wanted = [other for other in series if not to or other in to]
    if len(wanted) < len(set(to) - {frame_id}) or not wanted:
        raise NotFound(sentence("Choose other frames of this shoot to carry over to."))
    dust = _dust(library, chosen) if how.sensor is None else set(chosen) if how.sensor else set()
    rows = []
    with library.session(write=True) as session:
        # What was asked for before, and is asked for anew, is told once.
        before = select(Carrying).where(Carrying.frame_id == frame_id, col(Carrying.to_id).in_(wanted))
        for row in session.exec(before.where(Carrying.state != RunState.RUNNING)):
            if set(row.sweeps) <= set(chosen):
                session.delete(row)
        for other in wanted:
            for own, by_sensor in ((set(chosen) - dust, False), (dust, True)):
                if own:
                    ids = [each for each in chosen if each in own]
                    row = Carrying(
                        frame_id=frame_id,
                        to_id=other,
                        sweeps=ids,
                        sensor=by_sensor,
                        wide=how.wide,
                        fill=how.fill,
                    )
                    session.add(row)
                    rows.append(row)
        session.flush()
        note(session, EventKind.CARRYING, shoot=current.frame.shoot_id, frame=frame_id)
    return rows


def _dust(library: Library, sweep_ids: Sequence[str]) -> set[str]:
    """Those of some sweeps that are specks a scout found: they sit on the sensor."""
    with library.session() as session:
        rows = session.exec(select(Find).where(col(Find.sweep_id).in_(sweep_ids))).all()
    return {row.sweep_id for row in rows if row.sweep_id and row.kind.is_dust}
