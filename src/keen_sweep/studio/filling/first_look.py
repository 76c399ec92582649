"""A first look at the fill of a sweep, while its takes are being made."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.box import Box
from keen_sweep.core.fill.first_look import WORKING_SIDE_PX, FirstLook, first_look
from keen_sweep.core.fill.lead import with_grounds
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.weave.scene import surroundings
from keen_sweep.store.library import Library
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# Methods whose takes look about like a rough fill from the surroundings.
PREVIEWED_METHODS = (Method.AUTO, Method.CLOSE, Method.WEAVE, Method.BORROW)


def look_first(library: Library, frame_id: int, sweep_id: str) -> FirstLook | None:
    """What the hole of a sweep would show, in the picture's own places; None where a rough fill says nothing of what
    its method will make. Raises NotFound."""
    current = open_frame(library, frame_id)
    sweep = current.stack.sweep(sweep_id)
    mask = current.mask(sweep_id)
    if sweep.method not in PREVIEWED_METHODS or mask.box.empty:
        return None
    window = with_grounds(surroundings(mask.box, current.box), sweep.lead, mask.box, current.box)
    halvings = _halvings(current, window)
    small = window.reduced(halvings)
    wide = small.enlarged(halvings)
    cut = np.zeros((wide.height, wide.width), np.uint8)
    cut[mask.box.relative_to(wide).slices] = mask.pixels
    cut = np.asarray(cv2.resize(cut, (small.width, small.height), interpolation=cv2.INTER_AREA))
    lead = tuple(line.moved(-wide.x, -wide.y).reduced(2**halvings) for line in sweep.lead)
    found = first_look(current.below(sweep_id, small, halvings), cut, lead)
    return None if found is None else FirstLook(found.box.moved(small.x, small.y).enlarged(halvings), found.pixels)


def _halvings(current: OpenFrame, window: Box) -> int:
    """The smallest level of the picture that still shows a window as large as it is looked at."""
    most = len(current.pyramid.levels) - 1
    return next((k for k in range(most, 0, -1) if max(window.width, window.height) >> k >= WORKING_SIDE_PX), 0)
