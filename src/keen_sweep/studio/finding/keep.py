"""Keep: finds become sweeps, in this frame or wherever dust sits, and are filled at once if that is wanted."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import uuid4

from sqlmodel import col, select

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.area import Area
from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.sentences import counted_sentence, sentence
from keen_sweep.document.mark import Drawn, Mark
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Revision
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.finding.dust import same_place, specks_elsewhere
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.found.rows import also_of, shapes_of_find
from keen_sweep.studio.history import change, frame_of
from keen_sweep.studio.marking.draw import next_number
from keen_sweep.studio.open_frame import OpenFrame, open_frame


def keep(
    library: Library,
    frame_id: int,
    find_ids: Sequence[int],
    everywhere: bool = False,
    fill: bool = False,
    belongings: bool = False,
) -> dict[int, list[str]]:
    """Finds become sweeps, everywhere: those of dust in all frames that show it; fill: and wait to be filled;
    belongings: with all shadows and mirror images that were found with them.

    By frame, the ids of the sweeps made. All of it happens or nothing: what cannot be filled is not kept either.
    """
    if fill:
        # Masks are worked out before others are kept from writing, and are there when their fills are asked for.
        current = open_frame(library, frame_id)
        for group in _groups(current, find_ids):
            current.mask_of(_sweep("", group, 0, belongings).mark)
    with library.together():
        if everywhere:
            made = keep_dust_everywhere(library, frame_id, find_ids)
        else:
            made = {frame_id: keep_finds(library, frame_id, find_ids, belongings)[0]}
        if fill:
            for frame, sweeps in made.items():
                for sweep_id in sweeps:
                    ask_fill(library, frame, sweep_id)
        return made


def keep_finds(
    library: Library, frame_id: int, find_ids: Sequence[int], belongings: bool = False
) -> tuple[list[str], Revision]:
    """Finds become sweeps, all in one step that can be undone; their ids. Specks become one sweep together.
    belongings: see keep."""
    groups = _groups(open_frame(library, frame_id), find_ids)
    rows = [row for group in groups for row in group]
    if not rows:
        raise BadRequest(sentence("Choose at least one find to keep."))
    ids = [uuid4().hex for _ in groups]

    def edit(stack: Stack) -> Stack:
        for sweep_id, group in zip(ids, groups, strict=True):
            stack = stack.with_layer(_sweep(sweep_id, group, next_number(stack), belongings))
        return stack

    with library.together(), library.session() as session:
        revision = change(
            library,
            frame_id,
            counted_sentence("keep {count} find", "keep {count} finds", len(rows)),
            edit,
        )
        for sweep_id, group in zip(ids, groups, strict=True):
            for row in group:
                row.sweep_id = sweep_id
                session.add(row)
        frame = frame_of(session, frame_id)
        note(session, EventKind.FINDS, shoot=frame.shoot_id, frame=frame_id)
    return ids, revision


def _groups(current: OpenFrame, find_ids: Sequence[int]) -> list[list[Find]]:
    """The open finds among some, those that become one sweep together: specks do, all others stand alone."""
    open_now = {each.id: each for each in open_finds(current)}
    rows = [open_now[each] for each in find_ids if each in open_now]
    specks = [row for row in rows if row.kind.is_dust]
    return [[row] for row in rows if not row.kind.is_dust] + ([specks] if specks else [])


def _sweep(sweep_id: str, group: Sequence[Find], number: int, belongings: bool) -> Sweep:
    shapes: list[Drawn | Area] = []
    for row in group:
        shapes += shapes_of_find(row)
        known = also_of(row)
        shapes += [area for kind, area in known.items() if belongings or kind in row.with_also]
    first = group[0]
    name = f"{len(group)} specks" if len(group) > 1 else first.name or sentence("Sweep {number}", number=number)
    method = Method.BACKDROP if first.kind is FindKind.BACKDROP else Method.AUTO
    mark = Mark(shapes=tuple(shapes))
    return Sweep(id=sweep_id, name=name, mark=mark, method=method, together=first.kind.stays_one)


def keep_dust_everywhere(library: Library, frame_id: int, find_ids: Sequence[int]) -> dict[int, list[str]]:
    """Specks become sweeps in every frame of the shoot that shows them at the same place of the sensor.

    By frame, the ids of the sweeps made.
    """
    with library.session() as session:
        frame = frame_of(session, frame_id)
        chosen = [row for row in session.exec(select(Find).where(col(Find.id).in_(find_ids))) if row.kind.is_dust]
        if not chosen:
            raise BadRequest(sentence("Choose the specks that are dust."))
        elsewhere: dict[int, list[int]] = {}
        for others in specks_elsewhere(session, frame):
            ids = [o.id for o in others if any(same_place(row, o) for row in chosen)]
            if ids:
                elsewhere[others[0].frame_id] = ids
    with library.together():
        made = {frame_id: keep_finds(library, frame_id, find_ids)[0]}
        for other, ids in elsewhere.items():
            open_there = {each.id for each in open_finds(open_frame(library, other))}
            left = [each for each in ids if each in open_there]
            if left:
                made[other] = keep_finds(library, other, left)[0]
        return made
