"""From the numbers of the file to what a screen shows: 8 bit sRGB."""

from __future__ import annotations

import io
from functools import lru_cache

import numpy as np
from PIL import Image, ImageCms

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.photo.channels import to_eight_bit


@lru_cache(maxsize=16)
def _transform(icc: bytes) -> ImageCms.ImageCmsTransform | None:
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        if profile.profile.xcolor_space.strip() != "RGB":
            return None
        screen = ImageCms.createProfile("sRGB")
        transform = ImageCms.buildTransform(
            profile,
            screen,
            "RGB",
            "RGB",
            ImageCms.Intent.RELATIVE_COLORIMETRIC,
            ImageCms.Flags.BLACKPOINTCOMPENSATION,
        )
        # A picture that is in sRGB already, as most are, need not be converted for every look.
        grid = np.stack(np.meshgrid(*[np.arange(0, 256, 5, dtype=np.uint8)] * 3), axis=-1).reshape(52, -1, 3)
        return None if np.array_equal(_converted(grid, transform), grid) else transform
    except (ImageCms.PyCMSError, OSError):  # a damaged profile is kept in the file but not believed
        return None


def for_screen(pixels: Pixels, icc: bytes | None) -> EightBit:
    """(H, W, 3) in the picture's own profile -> uint8 sRGB, relative colorimetric with black point."""
    eight = to_eight_bit(pixels)
    transform = _transform(icc) if icc else None
    if transform is None:
        return eight
    return _converted(eight, transform)


def _converted(eight: EightBit, transform: ImageCms.ImageCmsTransform) -> EightBit:
    shown = ImageCms.applyTransform(Image.fromarray(np.ascontiguousarray(eight)), transform)
    assert shown is not None
    return np.asarray(shown)
