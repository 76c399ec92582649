"""What patches are compared by: colour in CIE L*a*b* and how much fine texture there is (Newson et al. 2014)."""

from __future__ import annotations

from typing import Any

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels

Features = NDArray[np.uint8]
TEXTURE_GAIN = 5.0


def features_of(pixels: Pixels, known: NDArray[np.bool_]) -> Features:
    """(H, W, 3) picture and (H, W) bool of its known pixels -> (H, W, 4) uint8: L*, a*, b*, texture.

    Texture is the local mean slope of L*, taken over known pixels only.
    """
    lab = cv2.cvtColor(to_eight_bit(pixels), cv2.COLOR_RGB2LAB)
    lightness = lab[..., 0].astype(np.float32)
    slope = np.zeros(known.shape, np.float32)
    across = np.abs(np.diff(lightness, axis=1))
    down = np.abs(np.diff(lightness, axis=0))
    across[~(known[:, 1:] & known[:, :-1])] = 0
    down[~(known[1:] & known[:-1])] = 0
    slope[:, :-1] += across
    slope[:-1] += down
    weight = known.astype(np.float32)
    size = (5, 5)
    mean = cv2.blur(slope * weight, size) / np.maximum(cv2.blur(weight, size), 1e-3)
    texture = np.clip(mean * TEXTURE_GAIN, 0, 255).astype(np.uint8)
    return np.dstack([lab, texture])


@numba.njit(cache=True, nogil=True)
def _halve_known(features: Any, hole: Any, out: Any, out_hole: Any) -> None:
    height, width, channels = features.shape
    for i in range(out.shape[0]):
        for j in range(out.shape[1]):
            count = 0
            any_hole = False
            sums = np.zeros(channels, np.int32)
            for y in range(2 * i, min(2 * i + 2, height)):
                for x in range(2 * j, min(2 * j + 2, width)):
                    if hole[y, x]:
                        any_hole = True
                    else:
                        count += 1
                        for c in range(channels):
                            sums[c] += features[y, x, c]
            out_hole[i, j] = any_hole
            for c in range(channels):
                out[i, j, c] = (sums[c] + count // 2) // count if count else 0


def halve_known(features: Features, hole: NDArray[np.bool_]) -> tuple[Features, NDArray[np.bool_]]:
    """The next coarser level: means of the known pixels of 2 x 2; hole where any of them is hole."""
    height, width = hole.shape
    size = ((height + 1) // 2, (width + 1) // 2)
    out = np.empty((*size, features.shape[2]), np.uint8)
    out_hole = np.empty(size, np.bool_)
    _halve_known(features, hole, out, out_hole)
    return out, out_hole
