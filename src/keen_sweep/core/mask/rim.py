"""What lies just outside a mask and is still of the thing that goes: its halo, its blur, the dark rim at its foot."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.mask.halo import with_halo
from keen_sweep.core.mask.mask import Mask

# How much stricter the rim is judged here than when a mask is grown: ground that may not be copied costs more than a
# faint rim.
RIM_STRICTNESS = 1.5
# Median width of the rim of a soft thing, pixels.
MIN_RIM_WIDTH_PX = 2


def rim_of(pixels: Pixels, hole: Bools) -> Bools:
    """What is left of a soft thing around a hole.

    Sharp things have no such rim, and other things may stand beside them.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        The picture around the hole.
    hole : (h, w) bool
        The hole.

    Returns
    -------
    (h, w) bool
        The rim.
    """
    found = with_halo(pixels, Mask(whole(pixels), np.where(hole, 255, 0).astype(np.uint8)), plainly=RIM_STRICTNESS)
    if found.typical < MIN_RIM_WIDTH_PX:
        return np.zeros_like(hole)
    return (found.mask.full(hole.shape[1], hole.shape[0]) > 0) & ~hole
