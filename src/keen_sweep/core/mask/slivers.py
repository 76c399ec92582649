"""Slivers: gaps of a mask so narrow that they hold the rim of what is to go rather than picture."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools

# Gaps narrower than this are slivers, pixels.
SLIVER_WIDTH_PX = 5


def slivers_of(hole: Bools) -> Bools:
    """Narrow gaps of a hole, such as two strokes leave that almost touch.

    They stay unfilled, but no fill is copied from them or matched to them.

    Parameters
    ----------
    hole : (H, W) bool
        The hole.

    Returns
    -------
    (H, W) bool
        The gaps.
    """
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (SLIVER_WIDTH_PX, SLIVER_WIDTH_PX))
    framed = np.pad(hole, SLIVER_WIDTH_PX).astype(np.uint8)
    whole = (
        cv2.morphologyEx(framed, cv2.MORPH_CLOSE, disc)[
            SLIVER_WIDTH_PX:-SLIVER_WIDTH_PX, SLIVER_WIDTH_PX:-SLIVER_WIDTH_PX
        ]
        > 0
    )
    found = whole & ~hole
    # A gap is open at its ends: what lies there beside the hole is of the same kind.
    ends = cv2.dilate(found.astype(np.uint8), disc) > 0
    return np.asarray(found | (ends & ~hole & (cv2.dilate(hole.astype(np.uint8), disc) > 0)))
