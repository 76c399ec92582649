"""From the channels of a file to picture and alpha, and back."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.orientation import as_stored, upright
from keen_sweep.core.sentences import sentence


def split(stored: NDArray[np.generic], orientation: int) -> tuple[Pixels, Pixels | None, bool]:
    """Split stored channels into upright colour and transparency.

    Parameters
    ----------
    stored : (H, W) or (H, W, 1 to 4) uint8 or uint16
        The pixels in the file's order.
    orientation : int
        Exif orientation, 1 to 8.

    Returns
    -------
    tuple of (H, W, 3), (H, W) or None, and bool
        Pixels, transparency, and whether the file is grey.
    """
    if stored.dtype not in (np.uint8, np.uint16):
        raise BadPicture(
            sentence("Pixels of type {dtype} are not supported: save the picture with 8 or 16 bit.", dtype=stored.dtype)
        )
    array = stored[..., None] if stored.ndim == 2 else stored
    if array.ndim != 3 or not 1 <= array.shape[2] <= 4:
        raise BadPicture(sentence("The picture has more channels than colour and transparency."))
    array = upright(array, orientation)
    channels = array.shape[2]
    alpha = np.ascontiguousarray(array[..., -1]) if channels in (2, 4) else None
    grey = channels <= 2
    colour = np.repeat(array[..., :1], 3, axis=2) if grey else array[..., :3]
    return np.ascontiguousarray(colour), alpha, grey


def join(pixels: Pixels, alpha: Pixels | None, grey: bool, orientation: int) -> Pixels:
    """The inverse of `split`.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        Upright pixels.
    alpha : (H, W) of the same dtype, or None
        Transparency.
    grey : bool
        Whether one grey channel is stored.
    orientation : int
        Exif orientation, 1 to 8.

    Returns
    -------
    (H, W, C)
        The channels in the file's order.
    """
    colour = pixels[..., :1] if grey else pixels
    array: Pixels = colour if alpha is None else np.concatenate([colour, alpha[..., None]], axis=2)
    array = np.ascontiguousarray(as_stored(array, orientation))
    return array[..., 0] if array.shape[2] == 1 else array


def in_depth_of(pixels: Pixels, like: Pixels) -> Pixels:
    """Convert pixels to the bit depth of others.

    Parameters
    ----------
    pixels : (H, W, C) uint8 or uint16
        The pixels.
    like : uint8 or uint16 array
        An array of the wanted depth.

    Returns
    -------
    (H, W, C)
        The converted pixels.
    """
    if pixels.dtype == like.dtype:
        return pixels
    return to_eight_bit(pixels) if like.dtype == np.uint8 else pixels.astype(np.uint16) * 257


def to_eight_bit(pixels: Pixels) -> EightBit:
    """Convert 16 bit to 8 bit by rounding: 65535 becomes 255. 8 bit is returned unchanged.

    Parameters
    ----------
    pixels : uint8 or uint16 array
        The pixels.

    Returns
    -------
    uint8 array
        The converted pixels.
    """
    if pixels.dtype == np.uint8:
        return pixels
    return ((pixels.astype(np.uint32) + 128) // 257).astype(np.uint8)
