"""Keep: finds become sweeps, in this frame or wherever dust sits, and are filled at once if that is wanted."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal
from uuid import uuid4

from sqlmodel import col, select

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.mark import Mark, Shape
from keen_sweep.core.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Revision
from keen_sweep.studio.events import note
from keen_sweep.studio.fill import ask_fill
from keen_sweep.studio.history import change, frame_of
from keen_sweep.studio.mark import next_number
from keen_sweep.studio.scout import also_of, finds, same_place, shapes_of, specks_elsewhere


def keep(
    library: Library, frame_id: int, find_ids: Sequence[int], everywhere: bool = False, fill: bool = False
) -> dict[int, list[str]]:
    """Finds become sweeps, everywhere: those of dust in all frames that show it; fill: and wait to be filled.

    By frame, the ids of the sweeps made. All of it happens or nothing: what cannot be filled is not kept either.
    """
    with library.together():
        if everywhere:
            made = keep_dust_everywhere(library, frame_id, find_ids)
        else:
            made = {frame_id: keep_finds(library, frame_id, find_ids)[0]}
        if fill:
            for frame, sweeps in made.items():
                for sweep_id in sweeps:
                    ask_fill(library, frame, sweep_id)
        return made


def keep_finds(library: Library, frame_id: int, find_ids: Sequence[int]) -> tuple[list[str], Revision]:
    """Finds become sweeps, all in one step that can be undone; their ids. Specks become one sweep together."""
    open_now = {each.find.id: each.find for each in finds(library, frame_id)}
    rows = [open_now[each] for each in find_ids if each in open_now]
    if not rows:
        raise BadRequest("Choose at least one find to keep.")
    groups: list[list[Find]] = [[row] for row in rows if row.kind != "specks"]
    specks = [row for row in rows if row.kind == "specks"]
    if specks:
        groups.append(specks)
    ids = [uuid4().hex for _ in groups]

    def edit(stack: Stack) -> Stack:
        for sweep_id, group in zip(ids, groups, strict=True):
            stack = stack.with_layer(_sweep(sweep_id, group, next_number(stack)))
        return stack

    with library.together(), library.session() as session:
        revision = change(library, frame_id, f"keep {len(rows)} find{'s' if len(rows) > 1 else ''}", edit)
        for sweep_id, group in zip(ids, groups, strict=True):
            for row in group:
                row.sweep_id = sweep_id
                session.add(row)
        frame = frame_of(session, frame_id)
        note(session, "finds", shoot=frame.shoot_id, frame=frame_id)
    return ids, revision


def _sweep(sweep_id: str, group: Sequence[Find], number: int) -> Sweep:
    shapes: list[Shape] = []
    for row in group:
        shapes += shapes_of(row)
        known = also_of(row)
        shapes += [known[kind] for kind in row.with_also if kind in known]
    first = group[0]
    name = f"{len(group)} specks" if len(group) > 1 else first.name or f"Sweep {number}"
    together = first.kind in ("specks", "backdrop", "wires")
    method: Literal["auto", "backdrop"] = "backdrop" if first.kind == "backdrop" else "auto"
    return Sweep(id=sweep_id, name=name, mark=Mark(shapes=tuple(shapes)), method=method, together=together)


def keep_dust_everywhere(library: Library, frame_id: int, find_ids: Sequence[int]) -> dict[int, list[str]]:
    """Specks become sweeps in every frame of the shoot that shows them at the same place of the sensor.

    By frame, the ids of the sweeps made.
    """
    with library.session() as session:
        frame = frame_of(session, frame_id)
        chosen = [row for row in session.exec(select(Find).where(col(Find.id).in_(find_ids))) if row.kind == "specks"]
        if not chosen:
            raise BadRequest("Choose the specks that are dust.")
        elsewhere: dict[int, list[int]] = {}
        for others in specks_elsewhere(session, frame):
            ids = [o.id for o in others if o.id and any(same_place(row, o) for row in chosen)]
            if ids:
                elsewhere[others[0].frame_id] = ids
    with library.together():
        made = {frame_id: keep_finds(library, frame_id, find_ids)[0]}
        for other, ids in elsewhere.items():
            open_there = {each.find.id for each in finds(library, other)}
            left = [each for each in ids if each in open_there]
            if left:
                made[other] = keep_finds(library, other, left)[0]
        return made
