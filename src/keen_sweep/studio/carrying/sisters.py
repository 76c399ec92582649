"""Sisters: the frames of a shoot that may show what is hidden in one of them."""

from __future__ import annotations

from contextlib import suppress

import numpy as np
from numpy.typing import NDArray
from sqlmodel import select

from keen_sweep.core.box import Box
from keen_sweep.core.errors import NotTheSamePlace, NoWeights
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.series.alignment import Alignment
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.carrying.aligning import alignment_of
from keen_sweep.studio.gathering.names import natural
from keen_sweep.studio.sitting import Sitting, sit

# So many frames before one and after it are asked.
NEIGHBOURS = 2
# People are looked for round a hole, as a share of its longer side, at least so many pixels.
ROUND, LEAST = 1.0, 200


def series_of(library: Library, frame_id: int) -> list[Frame]:
    """All frames of a frame's shoot by name, itself among them. Raises NotFound."""
    shoot = sit(library, frame_id).frame.shoot_id
    with library.session() as session:
        return sorted(session.exec(select(Frame).where(Frame.shoot_id == shoot)).all(), key=lambda f: natural(f.name))


def neighbours_of(library: Library, frame_id: int) -> list[Frame]:
    """The frames next to one by name, the nearest first."""
    series = series_of(library, frame_id)
    at = next(k for k, frame in enumerate(series) if frame.id == frame_id)
    near = sorted(range(len(series)), key=lambda k: (abs(k - at), k))[1 : 2 * NEIGHBOURS + 1]
    return [series[k] for k in near if abs(k - at) <= NEIGHBOURS]


def sisters_of(here: Sitting, sweep_id: str) -> list[Sister]:
    """The neighbours that show what a sweep hides, or may: each without what is marked in it and its people near by."""
    out = []
    for frame in neighbours_of(here.library, here.frame.id):
        there = sit(here.library, frame.id)
        with suppress(NotTheSamePlace):
            out.append(_sister(here, there, sweep_id, alignment_of(here, there)))
    return out


def _sister(here: Sitting, there: Sitting, sweep_id: str, alignment: Alignment) -> Sister:
    mask = here.mask(sweep_id)
    pixels = there.pyramid.level(0)
    barred = without_people(pixels, mask.box, alignment)
    for each in there.stack.sweeps:
        # What was carried over from this sweep may not have been there: it is looked at.
        if each.carried is not None and each.carried.sweep == sweep_id:
            continue
        marked = there.mask_of(each.mark, free=True)
        barred[marked.box.slices] |= marked.pixels > 0
    return Sister(there.frame.name.rsplit(".", 1)[0], pixels, alignment, barred)


def without_people(pixels: Pixels, box: Box, alignment: Alignment) -> NDArray[np.bool_]:
    """The people of a sister (H', W', 3), with their shadows, near where a box of the frame is seen in it: (H', W').
    Nobody is found without the networks."""
    barred = np.zeros(pixels.shape[:2], np.bool_)
    window = _seen_in(box, alignment)
    if window.empty:
        return barred
    with suppress(NoWeights):
        for found in find_people(np.ascontiguousarray(pixels[window.slices])):
            for each in (found.mask, *(also.mask for also in found.also)):
                at = each.box
                place = Box(x=at.x + window.x, y=at.y + window.y, width=at.width, height=at.height)
                barred[place.slices] |= each.pixels > 0
    return barred


def _seen_in(box: Box, alignment: Alignment) -> Box:
    """Where the surroundings of a box are seen in the other frame."""
    width, height = alignment.other
    x, y = np.meshgrid(np.linspace(box.x, box.right, 9), np.linspace(box.y, box.bottom, 9))
    ends = alignment.places(np.stack([x.ravel(), y.ravel()], 1))
    left, top = (int(each) for each in np.floor(ends.min(axis=0)))
    right, bottom = (int(each) for each in np.ceil(ends.max(axis=0)))
    place = Box(x=left, y=top, width=right - left, height=bottom - top)
    return place.grow(max(LEAST, round(ROUND * max(box.width, box.height))), Box(x=0, y=0, width=width, height=height))
