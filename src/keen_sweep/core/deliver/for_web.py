"""A picture for the web: sRGB, 8 bit, so long at most, sharpened for its size or not."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import cv2
import imagecodecs
import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.profiles import BLACK_POINT_FLAG, RELATIVE_INTENT, srgb

# Standard deviation of the unsharp mask for screens, pixels (common practice, no source).
SHARPEN_SIGMA_PX = 0.6
# Share of the difference to the blurred picture that is added (common practice, no source).
SHARPEN_AMOUNT = 0.55


def for_web(picture: Picture, longest: int, sharpen: bool) -> Picture:
    """Convert a picture for the web: sRGB, upright, reduced, optionally sharpened.

    All other metadata is kept.

    Parameters
    ----------
    picture : Picture
        The picture.
    longest : int
        Longer side at most, pixels; the picture is never enlarged.
    sharpen : bool
        Whether to sharpen it for screens.

    Returns
    -------
    Picture
        The converted picture.
    """
    pixels = _in_srgb(picture.pixels, picture.metadata.icc)
    height, width = pixels.shape[:2]
    share = min(1.0, longest / max(height, width))
    if share < 1:
        size = (max(round(width * share), 1), max(round(height * share), 1))
        pixels = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), pixels.dtype)
        if sharpen:
            pixels = _sharpened(pixels)
    metadata = replace(picture.metadata, icc=srgb())
    return replace(picture, pixels=to_eight_bit(pixels), alpha=None, grey=False, metadata=metadata)


def _in_srgb(pixels: Pixels, icc: bytes | None) -> Pixels:
    if not icc or _is_srgb(icc):
        return pixels
    try:
        made = imagecodecs.cms_transform(
            np.ascontiguousarray(pixels), icc, srgb(), colorspace="rgb", intent=RELATIVE_INTENT, flags=BLACK_POINT_FLAG
        )
    except (imagecodecs.CmsError, ValueError, TypeError):  # a damaged profile, or one that is not of three colours
        return pixels
    return np.asarray(made)


@lru_cache(maxsize=16)
def _is_srgb(icc: bytes) -> bool:
    """Whether a profile changes nothing, to a level of eight bits."""
    steps = np.arange(0, 256, 15, dtype=np.uint8)
    grid = np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(len(steps), -1, 3)
    try:
        made = imagecodecs.cms_transform(
            grid, icc, srgb(), colorspace="rgb", intent=RELATIVE_INTENT, flags=BLACK_POINT_FLAG
        )
    except (imagecodecs.CmsError, ValueError, TypeError):
        return True
    return bool(np.abs(np.asarray(made).astype(int) - grid).max() <= 1)


def _sharpened(pixels: Pixels) -> Pixels:
    """Lightness alone is sharpened: colours get no fringes."""
    most = float(np.iinfo(pixels.dtype).max)
    real = pixels.astype(np.float32)
    light = real @ np.array([0.299, 0.587, 0.114], np.float32)
    finer = light - cv2.GaussianBlur(light, (0, 0), SHARPEN_SIGMA_PX)
    return np.clip(np.rint(real + SHARPEN_AMOUNT * finer[..., None]), 0, most).astype(pixels.dtype)
