"""Finds: what scouts found in a frame, looked at, dropped and edited."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from dataclasses import dataclass

from cachetools import LRUCache, cached
from pydantic import BaseModel, Field
from sqlmodel import Session, select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest, NotFound
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.shape import Shape
from keen_sweep.core.scout.found import Belonging, FindKind, Found
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Drawn, Mark
from keen_sweep.store.library import Library
from keen_sweep.store.tables import AlwaysTicked, Find, Frame
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.finding.dust import same_place, specks_elsewhere
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.found.rows import also_of, found_in, rows_of, shapes_of_find
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.marking.draw import MAX_SHAPES, taken_in
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# Two finds are the same thing when their boxes overlap this much.
SAME_OVERLAP = 0.5
# Points of outlines that are kept.
CACHED_POINTS = 2_000_000
# Reason of finds that the photographer added.
BY_HAND_REASON = sentence("added by hand")


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


def finds(library: Library, frame_id: int) -> list[FindOnDesk]:
    """The open finds of a frame as the desk shows them."""
    current = open_frame(library, frame_id)
    rows = open_finds(current)
    with library.session() as session:
        others = specks_elsewhere(session, current.frame) if any(row.kind.is_dust for row in rows) else []
        always = _always(session)
    out = []
    for row in rows:
        shapes = shapes_of_find(row)
        also = {kind: _outline(current, (area,)) for kind, area in also_of(row).items()}
        dusty = sum(any(same_place(row, other) for other in each) for each in others) if row.kind.is_dust else 0
        out.append(
            FindOnDesk(
                row,
                _outline(current, shapes),
                also,
                Mark(shapes=shapes).reach(current.box),
                1 + dusty,
                row.what in always,
            )
        )
    return out


def _known_by(current: OpenFrame, shapes: tuple[Drawn | Area, ...]) -> tuple[Box, tuple[Drawn | Area, ...]]:
    return current.box, shapes


_traced: LRUCache[tuple[Box, tuple[Drawn | Area, ...]], list[Ring]] = LRUCache(
    CACHED_POINTS, getsizeof=lambda rings: 1 + sum(map(len, rings))
)


@cached(_traced, _known_by, condition=threading.Condition())
def _outline(current: OpenFrame, shapes: tuple[Drawn | Area, ...]) -> list[Ring]:
    """The outline of some shapes: their files never change, so that it is traced once."""
    return rings_of(current.mask_of(Mark(shapes=shapes), unguarded=True))


def keep_found(
    library: Library,
    session: Session,
    frame: Frame,
    kind: FindKind,
    found: Sequence[Found],
    seen_past: Sequence[str] = (),
) -> None:
    """Replace what a scout found before by what it found now.

    What was dropped, kept, or drawn or corrected by hand stays as it is, and what is found again stays ticked or
    unticked.

    Parameters
    ----------
    seen_past
        The sweeps whose takes stood in the picture that the scout searched: what they removed may be found once more.
    """
    rows = [row for row in rows_of(session, frame) if row.kind is kind]
    staying = [row for row in rows if row.dropped or row.sweep_id is not None or _is_by_hand(row)]
    decided = [row for row in staying if row.dropped or row.sweep_id not in seen_past]
    replaced = [row for row in rows if row not in staying]
    for row in replaced:
        session.delete(row)
    names = {row.name for row in staying}
    always = _always(session)
    number = 0
    for each in found:
        area = as_area(each.mask, library.files.add)
        if any(_overlap(found_in(row), area.box) > SAME_OVERLAP for row in decided):
            continue
        number += 1
        name = each.name
        while name in names:
            number += 1
            name = f"{each.name.rsplit(' ', 1)[0]} {number}"
        names.add(name)
        before = next((row for row in replaced if _overlap(found_in(row), area.box) > SAME_OVERLAP), None)
        goes = each.chosen or (each.what in always and not each.subject)
        if before is not None and not each.what:
            # Things follow what is set for their kind.
            goes = before.goes
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
                goes=goes,
                what=each.what,
                seen_past=[*seen_past],
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
            raise NotFound(sentence("This find no longer exists: its scout has searched again."))
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
            if len(row.shapes) + len(more) > MAX_SHAPES:
                raise BadRequest(sentence("A mark holds at most {max_shapes} strokes.", max_shapes=MAX_SHAPES))
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
    for row in rows_of(session, frame):
        if row.what == what and not row.subject:
            row.goes = always
            session.add(row)


def _is_by_hand(row: Find) -> bool:
    """Whether the photographer pointed a find out or corrected its shape."""
    return len(row.shapes) > 1 or row.reason == BY_HAND_REASON


def _overlap(a: Box, b: Box) -> float:
    shared = a.intersect(b).area
    return shared / max(a.area + b.area - shared, 1)
