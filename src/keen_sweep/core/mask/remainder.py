"""What is left of a thing outside its mask."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.mask import Mask

# Smallest remainder, pixels.
MIN_REMAINDER_PIXELS = 40
# Smallest remainder, share of the mask.
MIN_REMAINDER_SHARE = 0.04
# Largest remainder, share of the mask.
MAX_REMAINDER_SHARE = 0.35


def remainder_of(picture: Pixels, mask: Mask) -> Mask | None:
    """Find parts of a thing that its mask leaves out.

    The mask is used as a scribble over the thing; what Cling adds is the remainder.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    mask : Mask
        The mask, in the picture.

    Returns
    -------
    Mask or None
        The remainder; None if there is none.
    """
    full = mask.full(picture.shape[1], picture.shape[0]) > 0
    if not full.any() or full.sum() > 0.4 * full.size:
        return None
    found = cling(picture, full)
    box = found.box.intersect(whole(picture))
    square = np.ones((5, 5), np.uint8)
    near = cv2.dilate(full[box.slices].astype(np.uint8), square) > 0
    bits = ((found.pixels > 0) & ~near).astype(np.uint8)
    bits = np.asarray(cv2.morphologyEx(bits, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)), np.uint8)
    labels, stats = cv2.connectedComponentsWithStats(bits, connectivity=8)[1:3]
    area = int(full.sum())
    keep = stats[:, cv2.CC_STAT_AREA] >= max(MIN_REMAINDER_PIXELS, MIN_REMAINDER_SHARE * area)
    keep[0] = False
    kept = keep[labels]
    if not kept.any() or kept.sum() > MAX_REMAINDER_SHARE * area:
        return None
    return Mask(box, np.where(kept, 255, 0).astype(np.uint8))
