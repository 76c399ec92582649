"""Whether an area looks like skin to a service that would rather not touch any."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit

# Skin in the YCrCb plane after Chai & Ngan 1999 (Cr 133 to 173, Cb 77 to 127), from memory; the lower end of Cr is
# raised, since theirs includes grey gravel.
SKIN_LOW = (50, 141, 77)
SKIN_HIGH = (245, 173, 124)
# Areas with more skin are refused, share of what is to be painted.
MAX_SKIN_SHARE = 0.15


def looks_like_skin(picture: EightBit, hole: Bools) -> bool:
    """picture (h, w, 3) RGB; hole (h, w)."""
    found = cv2.inRange(cv2.cvtColor(picture, cv2.COLOR_RGB2YCrCb), np.array(SKIN_LOW), np.array(SKIN_HIGH)) > 0
    return bool(found[hole].mean() > MAX_SKIN_SHARE) if hole.any() else False
