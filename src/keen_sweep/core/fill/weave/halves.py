"""Pictures and masks at half size and back, sides rounded up as the pyramid does."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats


def halved(planes: Floats, known: Bools | None = None) -> Floats:
    """Means of 2 x 2 of (H, W, C) planes, of the known (H, W) pixels alone if they are given."""
    odd = (0, planes.shape[0] % 2, 0, planes.shape[1] % 2)
    framed = cv2.copyMakeBorder(planes, *odd, cv2.BORDER_REPLICATE)
    size = (framed.shape[1] // 2, framed.shape[0] // 2)
    if known is None:
        return np.asarray(cv2.resize(framed, size, interpolation=cv2.INTER_AREA), np.float32)
    weight = cv2.copyMakeBorder(known.astype(np.float32), *odd, cv2.BORDER_REPLICATE)
    mean = cv2.resize(framed * weight[..., None], size, interpolation=cv2.INTER_AREA)
    share = np.maximum(cv2.resize(weight, size, interpolation=cv2.INTER_AREA), 1e-3)
    return np.asarray(mean / share[..., None], np.float32)


def any_of_four(mask: Bools) -> Bools:
    """True where any of 2 x 2 is."""
    framed = np.pad(mask, ((0, mask.shape[0] % 2), (0, mask.shape[1] % 2)))
    return np.asarray(framed[::2, ::2] | framed[1::2, ::2] | framed[::2, 1::2] | framed[1::2, 1::2])


def enlarged(area: NDArray[np.generic], times: int, shape: tuple[int, ...]) -> Bools:
    """A mask so many times as large, cut or filled up to a shape."""
    out = np.zeros(shape[:2], np.bool_)
    grown = np.kron(area, np.ones((times, times), np.uint8)) > 0
    height, width = min(grown.shape[0], out.shape[0]), min(grown.shape[1], out.shape[1])
    out[:height, :width] = grown[:height, :width]
    return out
