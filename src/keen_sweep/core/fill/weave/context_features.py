"""What kind of place a pixel stands in: its surroundings at large, in the hole as the rim suggests them.

A patch alone does not tell a wall from a door of the same tone, nor the foot of a pot from the ground. Patches that
come from another setting than the one they would stand in are therefore dearer: things beside a hole, which have a
setting of their own, are not copied into ground.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Features
from keen_sweep.core.methods.thin_plate import continuation

# Standard deviation of the context of a pixel, pixels of the coarsest level: about the size of the hole there.
CONTEXT_SIGMA_PX = 3.0


def context_of(features: Features, hole: Bools, known: Bools) -> NDArray[np.int16]:
    """Features of the context of each pixel of a coarse level.

    Parameters
    ----------
    features : (H, W, 4) int16
        Features of the level.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    (H, W, 4) int16
        The context.
    """
    if not known.any():
        return np.zeros(features.shape, np.int16)
    weight = known.astype(np.float32)
    near = cv2.GaussianBlur(weight, (0, 0), CONTEXT_SIGMA_PX)
    mean = cv2.GaussianBlur(features * weight[..., None], (0, 0), CONTEXT_SIGMA_PX) / np.maximum(near, 1e-3)[..., None]
    return np.asarray(np.rint(continuation(mean.astype(np.float32), hole)), np.int16)
