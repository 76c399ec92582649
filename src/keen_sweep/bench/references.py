"""Reference methods from general libraries: (H, W, 3) uint8 RGB and a bool mask -> filled picture."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit

Fill = Callable[[EightBit, Bools], EightBit]
INPAINT_RADIUS_PX = 3


def telea(picture: EightBit, mask: Bools) -> EightBit:
    """OpenCV, fast marching (Telea 2004)."""
    return np.asarray(cv2.inpaint(picture, mask.astype(np.uint8), INPAINT_RADIUS_PX, cv2.INPAINT_TELEA), np.uint8)


def navier_stokes(picture: EightBit, mask: Bools) -> EightBit:
    """OpenCV, Navier-Stokes (Bertalmio et al. 2001)."""
    return np.asarray(cv2.inpaint(picture, mask.astype(np.uint8), INPAINT_RADIUS_PX, cv2.INPAINT_NS), np.uint8)


def shift_map(picture: EightBit, mask: Bools) -> EightBit:
    """OpenCV xphoto, shift map with dominant offsets (He & Sun 2012). It works in L*a*b*."""
    out = np.zeros_like(picture)
    known = np.where(mask, 0, 255).astype(np.uint8)
    cv2.xphoto.inpaint(cv2.cvtColor(picture, cv2.COLOR_RGB2LAB), known, out, cv2.xphoto.INPAINT_SHIFTMAP)
    return np.asarray(cv2.cvtColor(out, cv2.COLOR_LAB2RGB), np.uint8)


def _fsr(picture: EightBit, mask: Bools, kind: int) -> EightBit:
    out = np.zeros_like(picture)
    cv2.xphoto.inpaint(np.ascontiguousarray(picture), np.where(mask, 0, 255).astype(np.uint8), out, kind)
    return out


def fsr_fast(picture: EightBit, mask: Bools) -> EightBit:
    """OpenCV xphoto, frequency selective reconstruction (Genser et al. 2018), fast."""
    return _fsr(picture, mask, cv2.xphoto.INPAINT_FSR_FAST)


def biharmonic(picture: EightBit, mask: Bools) -> EightBit:
    """scikit-image, biharmonic equation (Damelin & Hoang 2018)."""
    from skimage.restoration import inpaint_biharmonic

    out = inpaint_biharmonic(picture, mask, channel_axis=-1, split_into_regions=True)
    return np.asarray(np.clip(np.rint(out * 255), 0, 255), np.uint8)


REFERENCE_METHODS: dict[str, Fill] = {
    "telea": telea,
    "navier-stokes": navier_stokes,
    "shift-map": shift_map,
    "fsr": fsr_fast,
    "biharmonic": biharmonic,
}
