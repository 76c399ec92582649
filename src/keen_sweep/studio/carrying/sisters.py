"""Sisters: the frames of a shoot that may show what is hidden in one of them."""

from __future__ import annotations

from contextlib import suppress

import numpy as np
from sqlmodel import select

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.errors import NotTheSamePlace, NoWeights
from keen_sweep.core.fill.borrow.sister import Sister, surroundings_in
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.series.alignment import Alignment
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.carrying.aligning import alignment_of
from keen_sweep.studio.gathering.names import natural
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# Frames before and after a frame that are used.
NEIGHBOUR_COUNT = 2


def series_of(library: Library, frame_id: int) -> list[Frame]:
    """All frames of a frame's shoot by name, itself among them. Raises NotFound."""
    shoot = open_frame(library, frame_id).frame.shoot_id
    with library.session() as session:
        return sorted(session.exec(select(Frame).where(Frame.shoot_id == shoot)).all(), key=lambda f: natural(f.name))


def neighbours_of(library: Library, frame_id: int) -> list[Frame]:
    """The frames next to one by name, the nearest first."""
    series = series_of(library, frame_id)
    at = next(k for k, frame in enumerate(series) if frame.id == frame_id)
    near = sorted(range(len(series)), key=lambda k: (abs(k - at), k))[1 : 2 * NEIGHBOUR_COUNT + 1]
    return [series[k] for k in near if abs(k - at) <= NEIGHBOUR_COUNT]


def sisters_of(current: OpenFrame, sweep_id: str) -> list[Sister]:
    """The neighbours that show what a sweep hides, or may: each as far as it is looked at, without what is marked in it
    and its people."""
    out = []
    for frame in neighbours_of(current.library, current.frame.id):
        other = open_frame(current.library, frame.id)
        with suppress(NotTheSamePlace):
            out.append(_sister(current, other, sweep_id, alignment_of(current, other)))
    return [sister for sister in out if sister is not None]


def _sister(current: OpenFrame, other: OpenFrame, sweep_id: str, alignment: Alignment) -> Sister | None:
    pixels = other.pyramid.level(0)
    window = surroundings_in(pixels, alignment, current.mask(sweep_id).box)
    if window.empty:
        return None
    cut = np.array(pixels[window.slices])
    barred = people_in(cut)
    for each in other.stack.sweeps:
        # What was carried over from this sweep may not have been there: it is looked at.
        if each.carried is not None and each.carried.sweep == sweep_id:
            continue
        marked = other.mask_of(each.mark, unguarded=True)
        common = marked.box.intersect(window)
        barred[common.relative_to(window).slices] |= marked.pixels[common.relative_to(marked.box).slices] > 0
    return Sister(other.frame.name.rsplit(".", 1)[0], cut, alignment.cut_other(window), barred)


def people_in(pixels: Pixels) -> Bools:
    """The people in a picture (H, W, 3), with their shadows: (H, W). Nobody is found without the networks."""
    out = np.zeros(pixels.shape[:2], np.bool_)
    with suppress(NoWeights):
        for found in find_people(np.ascontiguousarray(pixels)):
            for each in (found.mask, *(also.mask for also in found.also)):
                out[each.box.slices] |= each.pixels > 0
    return out
