"""Finds as rows of the database: their shapes, and what belongs to them."""

from __future__ import annotations

from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from keen_sweep.core.box import Box
from keen_sweep.core.mask.area import Area
from keen_sweep.core.scout.found import Belonging
from keen_sweep.document.mark import Drawn, filed_from
from keen_sweep.store.tables import Find, Frame

_ALSO_ADAPTER: TypeAdapter[dict[Belonging, Area]] = TypeAdapter(dict[Belonging, Area])


def shapes_of_find(row: Find) -> tuple[Drawn | Area, ...]:
    """What a find marks: what the scout found, then what was added and taken away by hand."""
    return filed_from(row.shapes)


def also_of(row: Find) -> dict[Belonging, Area]:
    """What belongs to a find, by its kind."""
    return _ALSO_ADAPTER.validate_python({each["kind"]: each["area"] for each in row.also})


def found_in(row: Find) -> Box:
    """The box of what the scout itself found."""
    return shapes_of_find(row)[0].box


def rows_of(session: Session, frame: Frame) -> list[Find]:
    """All that was found in a frame as it is."""
    query = select(Find).where(Find.frame_id == frame.id, Find.original == frame.original)
    return list(session.exec(query.order_by(col(Find.id))))
