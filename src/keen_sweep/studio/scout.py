"""Scout: ask for finds in a frame, look at them, drop and edit them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Literal, cast

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadMask, BadRequest, NotFound
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mark import Mark, Shape, guard_of, mask_of
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.scout.find import Find as Found
from keen_sweep.core.scout.find import Kind
from keen_sweep.core.scout.people import person_in
from keen_sweep.core.scout.scouts import KINDS, looked_for
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Frame, Scouting
from keen_sweep.studio.events import note
from keen_sweep.studio.history import frame_of, revision_of, stack_of
from keen_sweep.studio.mark import MOST_SHAPES, state_of
from keen_sweep.studio.originals import Originals

_SHAPES: TypeAdapter[tuple[Shape, ...]] = TypeAdapter(tuple[Shape, ...])
_ALSO: TypeAdapter[dict[str, Area]] = TypeAdapter(dict[str, Area])
# Two finds are the same thing when their boxes overlap so much.
SAME = 0.5
# Dust sits at the same place of the sensor: specks of two frames match within so many of their diameters, or pixels.
NEAR, NEAR_PIXELS = 0.6, 5.0


@dataclass(frozen=True)
class FindOnDesk:
    """A find with its outline, the outlines of what belongs to it, and in how many frames it sits (dust)."""

    find: Find
    rings: list[Ring]
    also: dict[str, list[Ring]]
    box: Box
    frames: int


def ask_scouts(
    library: Library, frame_id: int, kinds: Sequence[Kind] = KINDS, small: bool = False, again: bool = False
) -> None:
    """Let scouts look at a frame, each kind once; again: even if it has looked already.

    What was found before and neither dropped nor kept gives way to what is found then.
    """
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        known = {each.kind: each for each in _scoutings(session, frame_id)}
        asked = False
        for kind in kinds:
            before = known.get(kind)
            if before is not None and (not again or before.state.is_open):
                continue
            asked = True
            if before is not None:
                session.delete(before)
                session.flush()
            session.add(Scouting(frame_id=frame_id, kind=kind, small=small))
        if asked:
            note(session, "finds", shoot=frame.shoot_id, frame=frame_id)


def scoutings(library: Library, frame_id: int) -> list[tuple[Scouting, str]]:
    """How far each scout is with a frame, and what it looks for."""
    with library.session() as session:
        frame_of(session, frame_id)
        rows = {each.kind: each for each in _scoutings(session, frame_id)}
    return [(rows[kind], looked_for(kind, rows[kind].small)) for kind in KINDS if kind in rows]


def finds(library: Library, frame_id: int) -> list[FindOnDesk]:
    """The finds of a frame that are still open: neither dropped nor sweeps by now."""
    frame, stack = state_of(library, frame_id)
    with library.session() as session:
        rows = list(session.exec(select(Find).where(Find.frame_id == frame_id).order_by(col(Find.id))))
        others = specks_elsewhere(session, frame)
    sweeps = {sweep.id for sweep in stack.sweeps}
    out = []
    for row in rows:
        if row.dropped or (row.sweep_id is not None and row.sweep_id in sweeps):
            continue
        mask = mask_of(Mark(shapes=shapes_of(row)), frame.width, frame.height, library.files.read)
        also = {
            kind: rings_of(mask_of(Mark(shapes=(area,)), frame.width, frame.height, library.files.read))
            for kind, area in also_of(row).items()
        }
        frames = (
            1 + sum(any(same_place(row, other) for other in each) for each in others) if row.kind == "specks" else 1
        )
        out.append(FindOnDesk(row, rings_of(mask), also, mask.box, frames))
    return out


def things_of(library: Library, frame: Frame) -> Iterator[NDArray[np.bool_]]:
    """The people and things that were found in a frame and not dropped, gone or not, (H, W) bool each."""
    with library.session() as session:
        rows = session.exec(select(Find).where(Find.frame_id == frame.id, col(Find.kind).in_(("people", "things"))))
        kept = [row for row in rows if not row.dropped]
    for row in kept:
        mask = mask_of(Mark(shapes=shapes_of(row)), frame.width, frame.height, library.files.read)
        yield mask.full(frame.width, frame.height) > 127


def shapes_of(row: Find) -> tuple[Shape, ...]:
    return _SHAPES.validate_python(row.shapes)


def also_of(row: Find) -> dict[str, Area]:
    """What belongs to a find, by its kind."""
    return _ALSO.validate_python({each["kind"]: each["area"] for each in row.also})


def keep_found(library: Library, session: Session, frame: Frame, kind: Kind, found: Sequence[Found]) -> None:
    """Put what a scout found in the place of what it found before; what was dropped or kept then stays so."""
    assert frame.id is not None
    rows = list(session.exec(select(Find).where(Find.frame_id == frame.id, Find.kind == kind)))
    decided = [row for row in rows if row.dropped or row.sweep_id is not None]
    for row in rows:
        if row not in decided:
            session.delete(row)
    names = {row.name for row in decided}
    number = 0
    for each in found:
        area = as_area(each.mask, library.files.add)
        if any(_overlap(_box(row), area.box) > SAME for row in decided):
            continue
        number += 1
        name = each.name
        while name in names:
            number += 1
            name = f"{each.name.rsplit(' ', 1)[0]} {number}"
        names.add(name)
        also = [{"kind": a.kind, "area": as_area(a.mask, library.files.add).model_dump()} for a in each.also]
        session.add(
            Find(
                frame_id=frame.id,
                kind=kind,
                name=name,
                shapes=[area.model_dump()],
                also=also,
                confidence=each.confidence,
                reason=each.reason,
                subject=each.subject,
                goes=each.chosen,
            )
        )


def person_in_box(library: Library, originals: Originals, frame_id: int, box: Box) -> Find:
    """Whoever is in a box drawn by hand, as a find. Raises BadMask where nobody is, NoWeights."""
    frame, _ = state_of(library, frame_id)
    room = Box(x=0, y=0, width=frame.width, height=frame.height)
    inside = box.intersect(room)
    if inside.empty:
        raise BadMask("This box lies outside the picture.")
    window = inside.grow(max(inside.width, inside.height), room)
    pixels = np.asarray(originals.pyramid(frame.original).window(window))
    mask = person_in(pixels, inside.relative_to(window))
    if mask is None:
        raise BadMask("Nobody is to be seen in this box: paint them by hand.")
    back = Box(x=-window.x, y=-window.y, width=1, height=1)
    area = as_area(type(mask)(mask.box.relative_to(back), mask.pixels), library.files.add)
    with library.session() as session:
        same = session.exec(select(Find).where(Find.frame_id == frame_id, Find.kind == "people")).all()
        numbers = [int(row.name[7:]) for row in same if row.name.startswith("Person ") and row.name[7:].isdigit()]
        row = Find(
            frame_id=frame_id,
            kind="people",
            name=f"Person {max(numbers, default=0) + 1}",
            shapes=[area.model_dump()],
            confidence=1.0,
            reason="pointed out by hand",
        )
        session.add(row)
        session.flush()
        note(session, "finds", shoot=frame.shoot_id, frame=frame_id)
        return row


def change_find(
    library: Library,
    frame_id: int,
    find_id: int,
    goes: bool | None = None,
    dropped: bool | None = None,
    also: Sequence[Literal["shadow", "mirror"]] | None = None,
    shapes: Sequence[Shape] = (),
) -> Find:
    """Choose or drop a find, let what belongs to it go with it, or add shapes to it and take some away."""
    with library.session(write=True) as session:
        # Two windows may paint on one find: neither stroke is lost.
        frame = frame_of(session, frame_id)
        row = session.get(Find, find_id)
        if row is None or row.frame_id != frame_id:
            raise NotFound("This find is not there any more: its scout has looked again.")
        if goes is not None:
            row.goes = goes
        if dropped is not None:
            row.dropped = dropped
        if also is not None:
            known = also_of(row)
            row.with_also = [kind for kind in also if kind in known]
        if shapes:
            if len(row.shapes) + len(shapes) > MOST_SHAPES:
                raise BadRequest(f"A mark holds at most {MOST_SHAPES} strokes.")
            row.shapes = [*row.shapes, *(shape.model_dump() for shape in shapes)]
        session.add(row)
        note(session, "finds", shoot=frame.shoot_id, frame=frame_id)
        return row


def guard_for(library: Library, frame_id: int) -> Any:
    """What scouts must leave alone in a frame, (H, W) bool, or None."""
    with library.session() as session:
        frame = frame_of(session, frame_id)
        stack = stack_of(revision_of(session, frame))
    return guard_of(stack.guard, frame.width, frame.height, library.files.read)


def _scoutings(session: Session, frame_id: int) -> list[Scouting]:
    return list(session.exec(select(Scouting).where(Scouting.frame_id == frame_id).order_by(col(Scouting.id))))


def specks_elsewhere(session: Session, frame: Frame) -> list[list[Find]]:
    """The specks of each other frame of the shoot that came off a sensor of the same size."""
    same = select(Frame.id).where(
        Frame.shoot_id == frame.shoot_id,
        Frame.id != frame.id,
        Frame.width == frame.width,
        Frame.height == frame.height,
    )
    rows = session.exec(select(Find).where(col(Find.frame_id).in_(same), Find.kind == "specks")).all()
    by_frame: dict[int, list[Find]] = {}
    for row in rows:
        by_frame.setdefault(row.frame_id, []).append(row)
    return list(by_frame.values())


def same_place(a: Find, b: Find) -> bool:
    mine, theirs = _box(a), _box(b)
    across = abs((mine.x + mine.right) - (theirs.x + theirs.right)) / 2
    down = abs((mine.y + mine.bottom) - (theirs.y + theirs.bottom)) / 2
    return bool(np.hypot(across, down) <= max(NEAR * max(mine.width, theirs.width), NEAR_PIXELS))


def _box(row: Find) -> Box:
    """The box of what the scout itself found."""
    return cast(Area, shapes_of(row)[0]).box


def _overlap(a: Box, b: Box) -> float:
    shared = a.intersect(b).area
    return shared / max(a.area + b.area - shared, 1)
