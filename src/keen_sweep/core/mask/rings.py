"""The outline of a mask, to be drawn at any zoom."""

from __future__ import annotations

import cv2

from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask

Ring = list[float]


def rings_of(mask: Mask, tolerance: float = 0.6) -> list[Ring]:
    """Closed lines through the centres of the outermost pixels that are at least half covered, outer and inner.

    Each ring is x, y, x, y, ... in picture pixels; filled by the even-odd rule and drawn one pixel thick they
    show the mask to within the tolerance, in pixels.
    """
    if mask.box.empty:
        return []
    hard = (mask.pixels >= MASK_THRESHOLD).astype("uint8")
    found, _ = cv2.findContours(hard, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE, offset=(mask.box.x, mask.box.y))
    out = []
    for contour in found:
        slim = cv2.approxPolyDP(contour, tolerance, closed=True) if len(contour) > 4 else contour
        out.append((slim.reshape(-1) + 0.5).tolist())
    return out
