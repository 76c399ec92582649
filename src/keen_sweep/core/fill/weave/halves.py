"""Pictures and masks at half size and back, sides rounded up as the pyramid does."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats


def halve_planes(planes: Floats, known: Bools | None = None) -> Floats:
    """Means of 2 x 2 pixels.

    Parameters
    ----------
    planes : (H, W, C) float32
        The planes.
    known : (H, W) bool or None, optional
        Pixels that count; None for all.

    Returns
    -------
    (ceil(H / 2), ceil(W / 2), C) float32
        The means.
    """
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
    """Whether any of 2 x 2 pixels is set.

    Parameters
    ----------
    mask : (H, W) bool
        The mask.

    Returns
    -------
    (ceil(H / 2), ceil(W / 2)) bool
        The halved mask.
    """
    framed = np.pad(mask, ((0, mask.shape[0] % 2), (0, mask.shape[1] % 2)))
    return np.asarray(framed[::2, ::2] | framed[1::2, ::2] | framed[::2, 1::2] | framed[1::2, 1::2])


def enlarged(area: NDArray[np.generic], times: int, shape: tuple[int, ...]) -> Bools:
    """Enlarge a mask and cut or pad it to a shape.

    Parameters
    ----------
    area : (h, w) array
        The mask.
    times : int
        Factor.
    shape : tuple of int
        Height and width of the result.

    Returns
    -------
    (H, W) bool
        The enlarged mask.
    """
    out = np.zeros(shape[:2], np.bool_)
    grown = np.kron(area, np.ones((times, times), np.uint8)) > 0
    height, width = min(grown.shape[0], out.shape[0]), min(grown.shape[1], out.shape[1])
    out[:height, :width] = grown[:height, :width]
    return out
