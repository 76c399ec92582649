"""Things: what stands in a picture on its own, a visitor or a chair, and must not be copied into ground."""

from __future__ import annotations

from collections.abc import Iterable

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import box_of, whole

# A hole lies in a thing, not beside it, when the thing covers this share of the hole's rim.
MIN_RIM_SHARE = 0.3
# Things are excluded only while this share of the possible source area is left.
MIN_SOURCE_SHARE = 0.4
# A thing's edge and contact shadow reach this far, pixels.
EDGE_MARGIN_PX = 3


def things_to_exclude(hole: Bools, things: Iterable[Bools]) -> Bools | None:
    """Things that a fill must not copy: all except those the hole lies in.

    Parameters
    ----------
    hole : (H, W) bool
        The hole.
    things : iterable of (H, W) bool
        The things.

    Returns
    -------
    (H, W) bool or None
        Pixels of these things; None where there are none.
    """
    ellipse = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * EDGE_MARGIN_PX + 1,) * 2)
    near = box_of(hole).grow(EDGE_MARGIN_PX + 1, whole(hole)).slices
    rim = (cv2.dilate(hole[near].astype(np.uint8), ellipse) > 0) & ~hole[near]
    out: Bools | None = None
    for thing in things:
        if (thing[near] & rim).sum() <= MIN_RIM_SHARE * rim.sum():
            out = thing.copy() if out is None else np.logical_or(out, thing, out=out)
    if out is None or not out.any():
        return None
    return np.asarray(cv2.dilate(out.astype(np.uint8), ellipse) > 0) & ~hole


def excludable(things: Bools, ground: Bools) -> Bools:
    """Exclude things if enough of the possible source remains.

    Parameters
    ----------
    things : (h, w) bool
        The things.
    ground : (h, w) bool
        Pixels that could be copied.

    Returns
    -------
    (h, w) bool
        Pixels to exclude.
    """
    left = (ground & ~things).sum()
    return things if left >= MIN_SOURCE_SHARE * ground.sum() else np.zeros_like(things)
