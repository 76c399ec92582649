"""The outline of a mask, to be drawn at any zoom."""

from __future__ import annotations

import cv2

from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask

Ring = list[float]


def rings_of(mask: Mask, tolerance: float = 0.6) -> list[Ring]:
    """Trace a mask as closed lines through the centres of its outermost pixels.

    Filled by the even-odd rule and drawn one pixel wide, the rings show the mask to within the tolerance.

    Parameters
    ----------
    mask : Mask
        The mask; pixels at least half covered count.
    tolerance : float, optional
        Largest deviation, pixels.

    Returns
    -------
    list of Ring
        Outer and inner rings, each as x, y, x, y, ... in picture pixels.
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
