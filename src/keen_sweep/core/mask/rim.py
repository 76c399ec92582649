"""What lies just outside a mask and is still of the thing that goes: its halo, its blur, the dark rim at its foot."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.mask.halo import with_halo
from keen_sweep.core.mask.mask import Mask

# A rim differs from the ground so many times as plainly as where a mask is grown: ground that takes part in nothing
# costs a fill more than a faint rim does.
PLAINLY = 1.5
# How wide the rim of a soft thing is along half of its border and more, pixels.
LEAST_WIDE = 2


def rim_of(pixels: Pixels, hole: Bools) -> Bools:
    """What of a soft thing in a hole (h, w) bool is plainly left round it, (h, w) bool; pixels (h, w, 3) show the same
    place. Nothing of a sharp one, beside which other things may stand."""
    found = with_halo(pixels, Mask(whole(pixels), np.where(hole, 255, 0).astype(np.uint8)), plainly=PLAINLY)
    if found.typical < LEAST_WIDE:
        return np.zeros_like(hole)
    return (found.mask.full(hole.shape[1], hole.shape[0]) > 0) & ~hole
