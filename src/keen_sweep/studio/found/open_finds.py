"""What scouts found in a frame, as it is now: what is still open, and all that stands there by itself."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import numpy as np
from cachetools import LRUCache, cached

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import Method
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.document.mark import Mark
from keen_sweep.store.tables import Find
from keen_sweep.studio.found.rows import rows_of, shapes_of_find
from keen_sweep.studio.open_frame import OpenFrame

# A find that is marked over this share of its area is not offered.
MARKED_SHARE = 0.6
# Number of these shares that are kept.
CACHED_SHARES = 2_000


def open_finds(current: OpenFrame) -> list[Find]:
    """The finds of a frame that are neither dropped nor sweeps by now, nor marked or guarded in another way."""
    with current.library.session() as session:
        rows = rows_of(session, current.frame)
    sweeps = {sweep.id for sweep in current.stack.sweeps}
    return [row for row in rows if not row.dropped and row.sweep_id not in sweeps and not _marked_already(current, row)]


def _marked_already(current: OpenFrame, row: Find) -> bool:
    """Whether sweeps or the guard cover what a scout found: it is not offered again to who painted it by hand."""
    first = shapes_of_find(row)[0]
    if not isinstance(first, Area):
        return False
    # A reflection's mask may be the whole picture.
    # What was found in the takes of some sweeps is not gone with them.
    ignored = {sweep.id for sweep in current.stack.sweeps if sweep.method is Method.REFLECTION} | {*row.seen_past}
    sweeps = [sweep for sweep in current.stack.sweeps if sweep.id not in ignored]
    over = tuple(sweep.mark for sweep in sweeps if not sweep.reach(current.box).intersect(first.box).empty)
    if current.stack.guard:
        over = (*over, Mark(shapes=current.stack.guard))
    return bool(over) and _covered_share(current, first, over) >= MARKED_SHARE


def _told_by(current: OpenFrame, area: Area, marks: tuple[Mark, ...]) -> tuple[Box, Area, tuple[Mark, ...]]:
    return current.box, area, marks


@cached(LRUCache(CACHED_SHARES), _told_by, lock=threading.Lock())
def _covered_share(current: OpenFrame, area: Area, marks: tuple[Mark, ...]) -> float:
    """How much of an area some marks cover, 0 to 1."""
    window = area.box.intersect(current.box)
    found = area.cover(window, current.shelf.read) >= MASK_THRESHOLD
    covered = np.zeros_like(found)
    for mark in marks:
        mask = current.mask_of(mark, unguarded=True)
        common = mask.box.intersect(window)
        if not common.empty:
            covered[common.relative_to(window).slices] |= (
                mask.pixels[common.relative_to(mask.box).slices] >= MASK_THRESHOLD
            )
    return float((found & covered).sum() / max(int(found.sum()), 1))


def things_of(current: OpenFrame) -> Iterator[Bools]:
    """The people and things that were found in a frame and not dropped, gone or not, (H, W) bool each."""
    with current.library.session() as session:
        rows = rows_of(session, current.frame)
    for row in rows:
        if row.kind.stands_by_itself and not row.dropped:
            yield current.full(current.mask_of(Mark(shapes=shapes_of_find(row)), unguarded=True)) >= MASK_THRESHOLD
