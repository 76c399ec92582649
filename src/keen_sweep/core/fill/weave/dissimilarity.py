"""How unlike its surroundings a fill is on the whole: one of the terms by which fills are judged.

By itself it would take a mosaic of all that is round a hole for the best fill (docs/decisions.md); beside the worst
places it keeps smears from passing for good.
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.methods.sliced_distance import patches, sliced_distance

# The ring a fill is compared to begins and ends at these distances from the hole, pixels.
RING_START_PX = 3
RING_END_PX = 11
MAX_PATCHES = 6_000
PROJECTION_COUNT = 64


def dissimilarity(lab: Floats, hole: Bools, known: Bools) -> float:
    """Logarithm of the sliced distance between the patches of a fill and those of a ring around it.

    Parameters
    ----------
    lab : (h, w, 3) float32
        L*a*b* of the filled picture.
    hole : (h, w) bool
        The hole.
    known : (h, w) bool
        Known pixels.

    Returns
    -------
    float
        Lower is better; 0 when there is no ring.
    """
    distance = cv2.distanceTransform((~hole).astype(np.uint8), cv2.DIST_L2, 5)
    ring = (distance > RING_START_PX) & (distance <= RING_END_PX) & known
    if not ring.any():
        return 0.0
    patch_distance = sliced_distance(patches(lab, hole, MAX_PATCHES), patches(lab, ring, MAX_PATCHES), PROJECTION_COUNT)
    return float(np.log(patch_distance + 1e-3))
