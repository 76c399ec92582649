"""Finds: what scouts found in a frame, looked at, dropped and edited."""

from __future__ import annotations

import threading
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from cachetools import LRUCache, cached
from pydantic import BaseModel, Field
from sqlmodel import Session, col, select

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.fit import HALF
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.shape import Shape
from keen_sweep.core.scout.found import Belonging, FindKind, Found
from keen_sweep.document.mark import Drawn, Mark
from keen_sweep.store.library import Library
from keen_sweep.store.tables import AlwaysTicked, Find, Frame
from keen_sweep.store.words import EventKind
from keen_sweep.studio.finding.dust import same_place, specks_elsewhere
from keen_sweep.studio.finding.rows import also_of, found_in, shapes_of_find
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.marking.draw import MOST_SHAPES, taken_in
from keen_sweep.studio.running.events import note
from keen_sweep.studio.sitting import Sitting, sit

# Two finds are the same thing when their boxes overlap so much.
SAME = 0.5
# What is marked by so much need not be offered. How many of these shares are kept.
MARKED, SHARES_KEPT = 0.6, 2_000
# Outlines that are kept, in points.
POINTS_KEPT = 2_000_000


@dataclass(frozen=True)
class FindOnDesk:
    """A find with its outline, the outlines of what belongs to it, in how many frames it sits (dust), and whether
    all of its kind always go."""

    find: Find
    rings: list[Ring]
    also: dict[Belonging, list[Ring]]
    box: Box
    frames: int
    always: bool


class FindChange(BaseModel):
    """What changes about a find: whether it goes, whether it is dropped, what of that which belongs to it goes with it,
    and shapes that are added to it or taken away. always: whether every thing of its kind goes, here and wherever one
    is found from now on."""

    goes: bool | None = None
    always: bool | None = None
    dropped: bool | None = None
    also: list[Belonging] | None = None
    shapes: list[Shape] = Field(default_factory=list, max_length=1_000)


def open_finds(here: Sitting) -> list[Find]:
    """The finds of a frame that are neither dropped nor sweeps by now, nor marked in another way."""
    with here.library.session() as session:
        rows = _rows(session, here.frame)
    sweeps = {sweep.id for sweep in here.stack.sweeps}
    return [row for row in rows if not row.dropped and row.sweep_id not in sweeps and not _marked_already(here, row)]


def _marked_already(here: Sitting, row: Find) -> bool:
    """Whether sweeps cover what a scout found: it is not offered again to who painted it by hand."""
    first = shapes_of_find(row)[0]
    if not isinstance(first, Area):
        return False
    # A reflection's mask may be the whole picture.
    sweeps = [sweep for sweep in here.stack.sweeps if sweep.method is not Method.REFLECTION]
    over = tuple(sweep.mark for sweep in sweeps if not sweep.reach(here.box).intersect(first.box).empty)
    return bool(over) and _covered_share(here, first, over) >= MARKED


def _told_by(here: Sitting, area: Area, marks: tuple[Mark, ...]) -> tuple[Box, Area, tuple[Mark, ...]]:
    return here.box, area, marks


@cached(LRUCache(SHARES_KEPT), _told_by, lock=threading.Lock())
def _covered_share(here: Sitting, area: Area, marks: tuple[Mark, ...]) -> float:
    """How much of an area some marks cover, 0 to 1."""
    window = area.box.intersect(here.box)
    found = area.cover(window, here.shelf.read) >= HALF
    covered = np.zeros_like(found)
    for mark in marks:
        mask = here.mask_of(mark, free=True)
        common = mask.box.intersect(window)
        if not common.empty:
            covered[common.relative_to(window).slices] |= mask.pixels[common.relative_to(mask.box).slices] >= HALF
    return float((found & covered).sum() / max(int(found.sum()), 1))


def finds(library: Library, frame_id: int) -> list[FindOnDesk]:
    """The open finds of a frame as the desk shows them."""
    here = sit(library, frame_id)
    rows = open_finds(here)
    with library.session() as session:
        others = specks_elsewhere(session, here.frame) if any(row.kind.is_dust for row in rows) else []
        always = _always(session)
    out = []
    for row in rows:
        shapes = shapes_of_find(row)
        also = {kind: _outline(here, (area,)) for kind, area in also_of(row).items()}
        dusty = sum(any(same_place(row, other) for other in each) for each in others) if row.kind.is_dust else 0
        out.append(
            FindOnDesk(
                row, _outline(here, shapes), also, Mark(shapes=shapes).reach(here.box), 1 + dusty, row.what in always
            )
        )
    return out


def _known_by(here: Sitting, shapes: tuple[Drawn | Area, ...]) -> tuple[Box, tuple[Drawn | Area, ...]]:
    return here.box, shapes


_traced: LRUCache[tuple[Box, tuple[Drawn | Area, ...]], list[Ring]] = LRUCache(
    POINTS_KEPT, getsizeof=lambda rings: 1 + sum(map(len, rings))
)


@cached(_traced, _known_by, condition=threading.Condition())
def _outline(here: Sitting, shapes: tuple[Drawn | Area, ...]) -> list[Ring]:
    """The outline of some shapes: their files never change, so that it is traced once."""
    return rings_of(here.mask_of(Mark(shapes=shapes), free=True))


def things_of(here: Sitting) -> Iterator[Bools]:
    """The people and things that were found in a frame and not dropped, gone or not, (H, W) bool each."""
    with here.library.session() as session:
        rows = _rows(session, here.frame)
    for row in rows:
        if row.kind.stands_by_itself and not row.dropped:
            yield here.full(here.mask_of(Mark(shapes=shapes_of_find(row)), free=True)) >= HALF


def keep_found(library: Library, session: Session, frame: Frame, kind: FindKind, found: Sequence[Found]) -> None:
    """Put what a scout found in the place of what it found before; what was dropped or kept then stays so."""
    rows = [row for row in _rows(session, frame) if row.kind is kind]
    decided = [row for row in rows if row.dropped or row.sweep_id is not None]
    for row in rows:
        if row not in decided:
            session.delete(row)
    names = {row.name for row in decided}
    always = _always(session)
    number = 0
    for each in found:
        area = as_area(each.mask, library.files.add)
        if any(_overlap(found_in(row), area.box) > SAME for row in decided):
            continue
        number += 1
        name = each.name
        while name in names:
            number += 1
            name = f"{each.name.rsplit(' ', 1)[0]} {number}"
        names.add(name)
        also = [{"kind": a.kind, "area": as_area(a.mask, library.files.add).model_dump(mode="json")} for a in each.also]
        session.add(
            Find(
                frame_id=frame.id,
                original=frame.original,
                kind=kind,
                name=name,
                shapes=[area.model_dump(mode="json")],
                also=also,
                confidence=each.confidence,
                reason=each.reason,
                subject=each.subject,
                goes=each.chosen or (each.what in always and not each.subject),
                what=each.what,
            )
        )


def change_find(library: Library, frame_id: int, find_id: int, change: FindChange) -> Find:
    """Choose or drop a find, let what belongs to it go with it, or add shapes to it and take some away."""
    more = [shape.model_dump(mode="json") for shape in taken_in(library, change.shapes)]
    with library.session(write=True) as session:
        # Two windows may paint on one find: neither stroke is lost.
        frame = frame_of(session, frame_id)
        row = session.get(Find, find_id)
        if row is None or row.frame_id != frame_id:
            raise NotFound("This find is not there any more: its scout has looked again.")
        if change.goes is not None:
            row.goes = change.goes
        if change.always is not None and row.what:
            _tick_always(session, frame, row.what, change.always)
        if change.dropped is not None:
            row.dropped = change.dropped
        if change.also is not None:
            known = also_of(row)
            row.with_also = [kind for kind in change.also if kind in known]
        if more:
            if len(row.shapes) + len(more) > MOST_SHAPES:
                raise BadRequest(f"A mark holds at most {MOST_SHAPES} strokes.")
            row.shapes = [*row.shapes, *more]
        session.add(row)
        note(session, EventKind.FINDS, shoot=frame.shoot_id, frame=frame_id)
        return row


def _always(session: Session) -> set[str]:
    """The kinds of things that always go."""
    return set(session.exec(select(AlwaysTicked.what)).all())


def _tick_always(session: Session, frame: Frame, what: str, always: bool) -> None:
    known = session.get(AlwaysTicked, what)
    if always and known is None:
        session.add(AlwaysTicked(what=what))
    elif not always and known is not None:
        session.delete(known)
    for row in _rows(session, frame):
        if row.what == what and not row.subject:
            row.goes = always
            session.add(row)


def _rows(session: Session, frame: Frame) -> list[Find]:
    """All that was found in a frame as it is."""
    query = select(Find).where(Find.frame_id == frame.id, Find.original == frame.original)
    return list(session.exec(query.order_by(col(Find.id))))


def _overlap(a: Box, b: Box) -> float:
    shared = a.intersect(b).area
    return shared / max(a.area + b.area - shared, 1)
