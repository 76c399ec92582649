"""How much light a place has lost against lit ground of its own kind.

Ground is of one kind where it is of one hue: gravel is compared with gravel, grass with grass, a brick edging with
itself. Comparing regions of like material is what Guo, Dai and Hoiem 2011 ("Single-image shadow detection and removal
using paired regions") do with learned pairs; here the lit ground of a hue is an upper quantile of all that is seen of
it near by. (The paper is quoted from memory; the quantile is ours.)
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Bools, Floats, Numbers

# Hues closer than this are the same, log ratios: skylight makes a shadow bluer by about that much.
MAX_HUE_DISTANCE = 0.15
# Size of the cells in which hues are looked up, log ratios.
HUE_CELL = 0.1
# Number of places of a hue that are needed.
MIN_HUE_PLACES = 20
# Quantile of the lightness of a hue that counts as lit.
LIT_QUANTILE = 0.7
# Number of places that are enough to know the ground.
MAX_GROUND_PLACES = 4_000
# More than the number of cells in a row of the hue plane.
ROW_CELLS = 1_000


def light_of(pixels: Numbers) -> tuple[Floats, Floats]:
    """Lightness and hue of a slightly blurred picture: texture is not shadow.

    Parameters
    ----------
    pixels : (h, w, 3) uint8
        sRGB.

    Returns
    -------
    tuple of (h, w) float32 and (h, w, 2) float32
        Natural logarithm of linear light; logarithms of red and blue over green.
    """
    linear = cv2.GaussianBlur((np.asarray(pixels, np.float32) / 255) ** 2.2, (0, 0), 1.5) + np.float32(0.004)
    light = np.log(linear @ np.array([0.2126, 0.7152, 0.0722], np.float32))
    hue = np.log(linear[..., [0, 2]] / linear[..., 1:2])
    return np.asarray(light, np.float32), np.asarray(hue, np.float32)


def lost_light(light: Floats, hue: Floats, ground: Bools) -> Floats:
    """How much darker each pixel is than lit ground of its hue.

    Parameters
    ----------
    light : (h, w) float32
        Logarithm of linear light.
    hue : (h, w, 2) float32
        Logarithms of red and blue over green.
    ground : (h, w) bool
        Where lit ground is learnt.

    Returns
    -------
    (h, w) float32
        Loss in natural logarithms: negative where a pixel is lighter, 0 where its hue is unknown.

    References
    ----------
    Guo, Dai and Hoiem 2011, "Single-image shadow detection and removal using paired regions" (from memory).
    """
    at = np.flatnonzero(ground)
    if len(at) > MAX_GROUND_PLACES:
        at = at[np.linspace(0, len(at) - 1, MAX_GROUND_PLACES).astype(np.int64)]
    if len(at) < MIN_HUE_PLACES:
        return np.zeros_like(light)
    hues, levels = hue.reshape(-1, 2)[at], light.ravel()[at]
    # Hues lie within a few of zero: a cell is one number.
    steps = np.round(np.clip(hue.reshape(-1, 2), -9, 9) / HUE_CELL).astype(np.int64)
    cells, which = np.unique(steps[:, 0] * ROW_CELLS + steps[:, 1], return_inverse=True)
    row, column = np.divmod(cells + ROW_CELLS // 2, ROW_CELLS)
    near: Any = scipy.spatial.cKDTree(hues).query_ball_point(
        np.stack([row, column - ROW_CELLS // 2], axis=1) * HUE_CELL, MAX_HUE_DISTANCE
    )
    lit = np.array([np.quantile(levels[of], LIT_QUANTILE) if len(of) >= MIN_HUE_PLACES else np.nan for of in near])
    return np.asarray(np.nan_to_num(lit[which.ravel()].reshape(light.shape) - light), np.float32)
