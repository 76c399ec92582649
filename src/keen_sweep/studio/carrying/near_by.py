"""Near by: who walked on between two frames, found again among the people of the other."""

from __future__ import annotations

from contextlib import suppress

import numpy as np

from keen_sweep.core.box import Box
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.series.alignment import Alignment
from keen_sweep.core.series.alike import most_similar
from keen_sweep.studio.open_frame import OpenFrame

# People are searched for this far from where somebody was, share of the longer side.
SEARCH_RADIUS_SHARE = 0.4


def found_again(
    current: OpenFrame, other: OpenFrame, mask: Mask, alignment: Alignment
) -> tuple[tuple[Mask, ...], float]:
    """Whoever of another frame looks most like the one under a mask of this one, with shadow and mirror image, and how
    alike they are; nobody where none is, or without the networks."""
    box = mask.box
    middle = alignment.places(np.array([[box.x + box.width / 2, box.y + box.height / 2]]))[0]
    far = SEARCH_RADIUS_SHARE * max(other.frame.width, other.frame.height)
    room = Box(x=round(middle[0] - far), y=round(middle[1] - far), width=round(2 * far), height=round(2 * far))
    room = room.intersect(other.box)
    if room.empty:
        return (), 0.0
    window = np.ascontiguousarray(other.pyramid.level(0)[room.slices])
    with suppress(NoWeights):
        people = find_people(window)
        best, share = most_similar(current.pyramid.level(0), mask, window, [each.mask for each in people])
        if best is not None:
            chosen = people[best]
            return tuple(_placed(each, room) for each in (chosen.mask, *(also.mask for also in chosen.also))), share
        return (), share
    return (), 0.0


def _placed(mask: Mask, room: Box) -> Mask:
    """A mask of a window as one of the picture."""
    box = mask.box
    return Mask(box.moved(room.x, room.y), mask.pixels)
