"""Marks that run into somebody who stays: people and things that were found and are not to go."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.document.mark import Mark
from keen_sweep.store.library import Library
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.found.rows import shapes_of_find
from keen_sweep.studio.open_frame import open_frame

# A mark that covers more than this share of somebody is meant for them.
MEANT_SHARE = 0.4
# How deep a mark has to reach into somebody, and how many pixels of them it has to cover: the outlines of finds are no
# more exact than that. Picture pixels.
MIN_DEPTH_PX = 3
MIN_AREA_PX = 40


@dataclass(frozen=True)
class Stray:
    """Somebody whom a mark reaches into though they stay: the find's number and name, and how many of their pixels the
    mark covers."""

    find: int
    name: str
    pixels: int


def strays_of(library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None) -> list[Stray]:
    """Whom the mark of a sweep reaches into though they stay, the most covered first. Raises NotFound."""
    current = open_frame(library, frame_id, revision_id)
    mask = current.mask(sweep_id)
    out = []
    for row in open_finds(current):
        if not row.kind.stands_by_itself:
            continue
        person = current.mask_of(Mark(shapes=shapes_of_find(row)), unguarded=True)
        common = mask.box.intersect(person.box)
        if common.empty:
            continue
        body = person.pixels >= MASK_THRESHOLD
        covered = np.zeros_like(body)
        covered[common.relative_to(person.box).slices] = mask.pixels[common.relative_to(mask.box).slices] > 0
        covered &= body
        area = int(covered.sum())
        if MIN_AREA_PX <= area <= MEANT_SHARE * body.sum() and (covered & _core(body)).any():
            out.append(Stray(row.id, row.name, area))
    return sorted(out, key=lambda each: -each.pixels)


def _core(body: Bools) -> Bools:
    """What of a body (h, w) lies deeper in it than its outline may be wrong."""
    padded = np.pad(body, 1).astype(np.uint8)
    depth = cv2.distanceTransform(padded, cv2.DIST_L2, cv2.DIST_MASK_5)
    return np.asarray(depth[1:-1, 1:-1] > MIN_DEPTH_PX)
