"""Does a mask fit its picture, and is there something to fill and something to fill it from?"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.errors import BadMask, BadPicture
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.orientation import upright
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.sentences import sentence


def check_mask(mask: NDArray[np.generic], width: int, height: int, may_be_all: bool = False) -> None:
    """Check that a mask fits its picture and can be filled.

    Parameters
    ----------
    mask : (H, W) uint8
        The mask.
    width : int
        Width of the picture, pixels.
    height : int
        Height of the picture, pixels.
    may_be_all : bool, optional
        Whether the mask may cover the whole picture.

    Raises
    ------
    BadMask
        The mask has another size, is empty, or covers everything.
    """
    if mask.shape != (height, width):
        raise BadMask(
            sentence(
                "The mask is {mask_width} x {mask_height} pixels, the picture {width} x {height}: "
                "they must be the same size.",
                mask_width=mask.shape[1],
                mask_height=mask.shape[0],
                width=width,
                height=height,
            )
        )
    if not mask.any():
        raise BadMask(sentence("The mask is empty: nothing is marked for removal."))
    if mask.all() and not may_be_all:
        raise BadMask(sentence("The mask covers the whole picture: there is nothing left to fill it from."))


def read_mask(path: Path, picture: Picture) -> EightBit:
    """Read a mask file for a picture; white removes.

    The mask may have the size of the picture as displayed, or as stored in a file with an orientation. Lossy
    files are thresholded at half; in others grey stays partial coverage.

    Parameters
    ----------
    path : Path
        The mask file, grey or colour.
    picture : Picture
        The picture that it belongs to.

    Returns
    -------
    (H, W) uint8
        The mask, upright like the picture.

    Raises
    ------
    BadMask
        The file cannot be read or does not fit the picture.
    """
    try:
        read = read_picture(path)
    except BadPicture as error:
        raise BadMask(sentence("The mask cannot be used. {error}", error=error)) from error
    red, green, blue = cv2.split(read.pixels)
    mask = to_eight_bit(np.asarray(cv2.max(cv2.max(red, green), blue)))
    if read.format == "jpeg":
        mask = np.where(mask >= 128, 255, 0).astype(np.uint8)
    seen, stored = (picture.height, picture.width), (picture.width, picture.height)
    if mask.shape != seen and mask.shape == stored and picture.metadata.orientation >= 5:
        mask = np.ascontiguousarray(upright(mask, picture.metadata.orientation))
    check_mask(mask, picture.width, picture.height)
    return mask
