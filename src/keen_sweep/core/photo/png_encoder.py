"""Pixels packed as a bare PNG (ISO/IEC 15948), without loss: by the quickest coder of those at hand at equal size.

Measured on five photographs of 1 to 18 MP in 8 and 16 bit, on drawings and on masks: OpenCV's coder at level 1, with
runs as the only repeats that are sought, takes a third to a half of the time of imagecodecs' at level 4. Its files are
7 % larger at most and 2 % smaller in the median: filtered photographs hardly repeat themselves but in runs.
"""

from __future__ import annotations

import cv2
import imagecodecs
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.errors import BadPicture
from keen_sweep.core.sentences import sentence

FAST_PARAMETERS = (cv2.IMWRITE_PNG_COMPRESSION, 1, cv2.IMWRITE_PNG_STRATEGY, cv2.IMWRITE_PNG_STRATEGY_RLE)
# Conversions to OpenCV's channel order; it has no grey with transparency.
BGR_CONVERSIONS = {3: cv2.COLOR_RGB2BGR, 4: cv2.COLOR_RGBA2BGRA}


def packed_png(pixels: EightBit | NDArray[np.uint16]) -> bytes:
    """Encode pixels as a PNG without metadata.

    Parameters
    ----------
    pixels : (H, W) or (H, W, 1 to 4) uint8 or uint16
        The pixels.

    Returns
    -------
    bytes
        The file.

    Raises
    ------
    BadPicture
        The pixels cannot be encoded.
    """
    channels = 1 if pixels.ndim == 2 else pixels.shape[2]
    if channels == 2:
        return bytes(imagecodecs.png_encode(np.ascontiguousarray(pixels), level=1))
    swapped = cv2.cvtColor(np.ascontiguousarray(pixels), BGR_CONVERSIONS[channels]) if channels > 2 else pixels
    done, data = cv2.imencode(".png", np.ascontiguousarray(swapped), FAST_PARAMETERS)
    if not done:
        raise BadPicture(sentence("These pixels cannot be written as a PNG."))
    return data.tobytes()
