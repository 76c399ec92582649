"""What patches are compared by: colour in CIE L*a*b* and how much fine texture there is (Newson et al. 2014).

Whole numbers of 16 bit, a sixteenth of a unit each: as exact as a mean of votes asks for, and sums of their squares are
taken twice as fast as those of floats.
"""

from __future__ import annotations

import cv2
import numba
import numpy as np

from keen_sweep.core.arrays import Bools, Features, Floats, Pixels

# Feature steps per unit of L*a*b*.
FEATURE_STEPS = 16
# Weight of lightness relative to colour.
LIGHTNESS_WEIGHT = 1.2
# Weight of texture relative to colour.
TEXTURE_WEIGHT = 1.0


def features_of(pixels: Pixels, known: Bools, spread: int = 3) -> Features:
    """Features of a picture: L*, a*, b* and texture.

    Texture is the mean slope of luma over a square of known pixels, 8-bit levels per pixel.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        The picture.
    known : (H, W) bool
        Known pixels.
    spread : int, optional
        Half the side of the square, pixels.

    Returns
    -------
    (H, W, 4) int16
        The features.
    """
    top = np.float32(1 / np.iinfo(pixels.dtype).max)
    colours = cv2.cvtColor(pixels.astype(np.float32) * top, cv2.COLOR_RGB2LAB)
    out = np.empty((*known.shape, 4), np.int16)
    out[..., 0] = np.rint(colours[..., 0] * (FEATURE_STEPS * LIGHTNESS_WEIGHT))
    out[..., 1:3] = np.rint(colours[..., 1:] * FEATURE_STEPS)
    del colours
    luma = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32) * (255 * top)
    slope = _slope(luma, known)
    size = (2 * spread + 1,) * 2
    weight = known.astype(np.float32)
    mean = cv2.blur(slope, size) / np.maximum(cv2.blur(weight, size), 1e-3)
    out[..., 3] = np.rint(np.minimum(mean * TEXTURE_WEIGHT, 120) * FEATURE_STEPS)
    return out


def colours_of(features: Features) -> Floats:
    """Colours of features.

    Parameters
    ----------
    features : (..., 4) int16
        The features.

    Returns
    -------
    (..., 3) float32
        L*a*b*.
    """
    return np.asarray(
        features[..., :3] / np.array([FEATURE_STEPS * LIGHTNESS_WEIGHT, FEATURE_STEPS, FEATURE_STEPS], np.float32),
        np.float32,
    )


def _slope(luma: Floats, known: Bools) -> Floats:
    """The slope by Sobel's operator of known (H, W) pixels that have known ones on all sides; 0 elsewhere."""
    slope = cv2.magnitude(cv2.Sobel(luma, cv2.CV_32F, 1, 0), cv2.Sobel(luma, cv2.CV_32F, 0, 1)) / 8
    inner = cv2.erode(known.astype(np.uint8), np.ones((3, 3), np.uint8), borderType=cv2.BORDER_CONSTANT, borderValue=1)
    return np.asarray(slope * inner, np.float32)


@numba.njit(cache=True, nogil=True)
def _halve_known(features: Features, known: Bools, out: Features, out_known: Bools) -> None:
    height, width, channels = features.shape
    sums = np.zeros(channels, np.int32)
    for i in range(out.shape[0]):
        for j in range(out.shape[1]):
            count, known_count = 0, 0
            sums[:] = 0
            for y in range(2 * i, min(2 * i + 2, height)):
                for x in range(2 * j, min(2 * j + 2, width)):
                    known_count += 1
                    if known[y, x]:
                        count += 1
                        for c in range(channels):
                            sums[c] += features[y, x, c]
            out_known[i, j] = 2 * count >= known_count
            for c in range(channels):
                out[i, j, c] = np.int16(np.rint(sums[c] / count)) if count else 0


def halve_known(features: Features, known: Bools) -> tuple[Features, Bools]:
    """Next coarser level: means of the known pixels of 2 x 2; known where at least half of them are.

    Parameters
    ----------
    features : (H, W, 4) int16
        The features.
    known : (H, W) bool
        Known pixels.

    Returns
    -------
    tuple of (h, w, 4) int16 and (h, w) bool
        The coarser features and their known pixels.
    """
    height, width = known.shape
    size = ((height + 1) // 2, (width + 1) // 2)
    out = np.empty((*size, features.shape[2]), np.int16)
    out_known = np.empty(size, np.bool_)
    _halve_known(features, known, out, out_known)
    return out, out_known
