"""What kind of place a pixel stands in: its surroundings at large, in the hole as the rim suggests them.

A patch alone does not tell a wall from a door of the same tone, nor the foot of a pot from the ground. Patches that
come from another setting than the one they would stand in are therefore dearer: things beside a hole, which have a
setting of their own, are not copied into ground.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.fill.weave.features import Features
from keen_sweep.core.methods.thin_plate import continuation

# How far round a pixel its setting is looked at, pixels of the coarsest level: about as far as the hole reaches there.
SIGMA = 3.0


class Setting(NamedTuple):
    """values (H, W, 4) int16, features whose pixel (y >> shift, x >> shift) a level's pixel (y, x) lies in; (top, left)
    the corner of the level's window; weight: how many pixels of a patch the setting counts for."""

    values: NDArray[np.int16]
    shift: int
    top: int = 0
    left: int = 0
    weight: int = 0


# Where every place is like every other.
NOWHERE = Setting(np.zeros((1, 1, 4), np.int16), 30)


def setting_of(features: Features, hole: NDArray[np.bool_], known: NDArray[np.bool_]) -> NDArray[np.int16]:
    """The setting of every pixel of a coarse level: features (H, W, 4), hole and known (H, W) bool."""
    if not known.any():
        return np.zeros(features.shape, np.int16)
    weight = known.astype(np.float32)
    near = cv2.GaussianBlur(weight, (0, 0), SIGMA)
    mean = cv2.GaussianBlur(features * weight[..., None], (0, 0), SIGMA) / np.maximum(near, 1e-3)[..., None]
    return np.asarray(np.rint(continuation(mean.astype(np.float32), hole)), np.int16)


@numba.njit(cache=True, nogil=True, inline="always")
def unlike(setting: Any, ty: int, tx: int, sy: int, sx: int) -> Any:
    """What it costs to copy from (sy, sx) of a level to (ty, tx) of the window."""
    values, shift = setting.values, setting.shift
    ay, ax, by, bx = (ty + setting.top) >> shift, (tx + setting.left) >> shift, sy >> shift, sx >> shift
    total = np.int32(0)
    for c in range(4):
        d = np.int32(values[ay, ax, c]) - np.int32(values[by, bx, c])
        total += d * d
    return total * np.int32(setting.weight)
