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
from keen_sweep.studio.sitting import Sitting

# A find that is marked over this share of its area is not offered.
MARKED_SHARE = 0.6
# Number of these shares that are kept.
CACHED_SHARES = 2_000


def open_finds(here: Sitting) -> list[Find]:
    """The finds of a frame that are neither dropped nor sweeps by now, nor marked or guarded in another way."""
    with here.library.session() as session:
        rows = rows_of(session, here.frame)
    sweeps = {sweep.id for sweep in here.stack.sweeps}
    return [row for row in rows if not row.dropped and row.sweep_id not in sweeps and not _marked_already(here, row)]


def _marked_already(here: Sitting, row: Find) -> bool:
    """Whether sweeps or the guard cover what a scout found: it is not offered again to who painted it by hand."""
    first = shapes_of_find(row)[0]
    if not isinstance(first, Area):
        return False
    # A reflection's mask may be the whole picture.
    # What was found in the takes of some sweeps is not gone with them.
    apart = {sweep.id for sweep in here.stack.sweeps if sweep.method is Method.REFLECTION} | {*row.seen_past}
    sweeps = [sweep for sweep in here.stack.sweeps if sweep.id not in apart]
    over = tuple(sweep.mark for sweep in sweeps if not sweep.reach(here.box).intersect(first.box).empty)
    if here.stack.guard:
        over = (*over, Mark(shapes=here.stack.guard))
    return bool(over) and _covered_share(here, first, over) >= MARKED_SHARE


def _told_by(here: Sitting, area: Area, marks: tuple[Mark, ...]) -> tuple[Box, Area, tuple[Mark, ...]]:
    return here.box, area, marks


@cached(LRUCache(CACHED_SHARES), _told_by, lock=threading.Lock())
def _covered_share(here: Sitting, area: Area, marks: tuple[Mark, ...]) -> float:
    """How much of an area some marks cover, 0 to 1."""
    window = area.box.intersect(here.box)
    found = area.cover(window, here.shelf.read) >= MASK_THRESHOLD
    covered = np.zeros_like(found)
    for mark in marks:
        mask = here.mask_of(mark, unguarded=True)
        common = mask.box.intersect(window)
        if not common.empty:
            covered[common.relative_to(window).slices] |= (
                mask.pixels[common.relative_to(mask.box).slices] >= MASK_THRESHOLD
            )
    return float((found & covered).sum() / max(int(found.sum()), 1))


def things_of(here: Sitting) -> Iterator[Bools]:
    """The people and things that were found in a frame and not dropped, gone or not, (H, W) bool each."""
    with here.library.session() as session:
        rows = rows_of(session, here.frame)
    for row in rows:
        if row.kind.stands_by_itself and not row.dropped:
            yield here.full(here.mask_of(Mark(shapes=shapes_of_find(row)), unguarded=True)) >= MASK_THRESHOLD
