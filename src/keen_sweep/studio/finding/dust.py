"""Dust: specks that sit at the same place of the sensor in several frames of a shoot."""

from __future__ import annotations

import numpy as np
from sqlmodel import Session, col, select

from keen_sweep.core.scout.found import FindKind
from keen_sweep.store.tables import Find, Frame
from keen_sweep.studio.found.rows import found_in

# Specks of two frames match within this share of their diameters.
MATCH_RATIO = 0.6
# Specks of two frames match within this distance in any case, pixels.
MATCH_DISTANCE_PX = 5.0


def specks_elsewhere(session: Session, frame: Frame) -> list[list[Find]]:
    """The specks of each other frame of the shoot that came off a sensor of the same size."""
    query = select(Find).join(Frame, col(Frame.id) == Find.frame_id)
    rows = session.exec(
        query.where(
            Frame.shoot_id == frame.shoot_id,
            Frame.id != frame.id,
            Frame.width == frame.width,
            Frame.height == frame.height,
            Find.original == Frame.original,
            Find.kind == FindKind.SPECKS,
        )
    ).all()
    by_frame: dict[int, list[Find]] = {}
    for row in rows:
        by_frame.setdefault(row.frame_id, []).append(row)
    return list(by_frame.values())


def same_place(a: Find, b: Find) -> bool:
    """Whether two specks sit at one place of the sensor."""
    mine, theirs = found_in(a), found_in(b)
    across = abs((mine.x + mine.right) - (theirs.x + theirs.right)) / 2
    down = abs((mine.y + mine.bottom) - (theirs.y + theirs.bottom)) / 2
    return bool(np.hypot(across, down) <= max(MATCH_RATIO * max(mine.width, theirs.width), MATCH_DISTANCE_PX))
