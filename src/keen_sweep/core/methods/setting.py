"""What it costs a patch to be copied from one kind of place into another, beside how unlike the patches are.

The search for nearest patches (patchmatch) adds it to its distances; what makes a kind of place is told by whoever
searches (fill.weave.setting).
"""

from __future__ import annotations

from typing import NamedTuple

import numba
import numpy as np

from keen_sweep.core.arrays import Features


class ContextFeatures(NamedTuple):
    """Features of the context of each pixel, coarser than the level they are used at.

    Attributes
    ----------
    values : (H, W, 4) int16
        Features; the level's pixel (y, x) lies in (y >> shift, x >> shift).
    shift : int
        Halvings from the level to the features.
    top : int
        Row of the level's window.
    left : int
        Column of the level's window.
    weight : int
        Number of pixels of a patch that the context counts for.
    """

    values: Features
    shift: int
    top: int = 0
    left: int = 0
    weight: int = 0


# All places count as equal.
NO_SETTING = ContextFeatures(np.zeros((1, 1, 4), np.int16), 30)


@numba.njit(cache=True, nogil=True, inline="always")
def context_cost(setting: ContextFeatures, ty: int, tx: int, sy: int, sx: int) -> np.int32:
    """Cost of copying between two contexts.

    Parameters
    ----------
    setting : ContextFeatures
        The features.
    ty : int
        Row in the window.
    tx : int
        Column in the window.
    sy : int
        Row of the source in the level.
    sx : int
        Column of the source in the level.

    Returns
    -------
    np.int32
        The cost.
    """
    values, shift = setting.values, setting.shift
    ay, ax, by, bx = (ty + setting.top) >> shift, (tx + setting.left) >> shift, sy >> shift, sx >> shift
    total = np.int32(0)
    for c in range(4):
        d = np.int32(values[ay, ax, c]) - np.int32(values[by, bx, c])
        total += d * d
    return total * np.int32(setting.weight)
