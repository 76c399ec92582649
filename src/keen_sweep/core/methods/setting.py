"""What it costs a patch to be copied from one kind of place into another, beside how unlike the patches are.

The search for nearest patches (patchmatch) adds it to its distances; what makes a kind of place is told by whoever
searches (fill.weave.setting).
"""

from __future__ import annotations

from typing import NamedTuple

import numba
import numpy as np

from keen_sweep.core.arrays import Features


class Setting(NamedTuple):
    """values (H, W, 4) int16, features whose pixel (y >> shift, x >> shift) a level's pixel (y, x) lies in; (top, left)
    the corner of the level's window; weight: how many pixels of a patch the setting counts for."""

    values: Features
    shift: int
    top: int = 0
    left: int = 0
    weight: int = 0


# All places count as equal.
NO_SETTING = Setting(np.zeros((1, 1, 4), np.int16), 30)


@numba.njit(cache=True, nogil=True, inline="always")
def unlike(setting: Setting, ty: int, tx: int, sy: int, sx: int) -> np.int32:
    """What it costs to copy from (sy, sx) of a level to (ty, tx) of the window."""
    values, shift = setting.values, setting.shift
    ay, ax, by, bx = (ty + setting.top) >> shift, (tx + setting.left) >> shift, sy >> shift, sx >> shift
    total = np.int32(0)
    for c in range(4):
        d = np.int32(values[ay, ax, c]) - np.int32(values[by, bx, c])
        total += d * d
    return total * np.int32(setting.weight)
