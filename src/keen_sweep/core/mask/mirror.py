"""The mirror image of a marked thing, in water or a polished floor below it: upside down and beginning at its feet.

Found by normalised correlation (as in OpenCV's matchTemplate) of the thing turned upside down with what lies below.
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit

# Height of the thing at working size, pixels.
WORKING_HEIGHT_PX = 64
# Smallest correlation that counts.
MIN_CORRELATION = 0.6
# How far below the feet a mirror image may begin, share of the thing's height.
MAX_OFFSET_SHARE = 0.3


def mirror_of(picture: Pixels, thing: Mask) -> tuple[Mask, float] | None:
    """Find the mirror image of a thing below it.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    thing : Mask
        Mask of the thing.

    Returns
    -------
    tuple of (Mask, float) or None
        The mask of the mirror image and its correlation, 0 to 1; None if there is none.
    """
    tight = box_of(thing.pixels >= MASK_THRESHOLD)
    if tight.empty or tight.height < 24:
        return None
    box = tight.moved(thing.box.x, thing.box.y)
    room = whole(picture)
    reach = round(MAX_OFFSET_SHARE * box.height)
    # As much of the image as the picture shows of it.
    shown = min(box.height, room.height - box.bottom - reach)
    if box.intersect(room) != box or shown < box.height * 0.3:
        return None
    body = thing.pixels[tight.slices] >= MASK_THRESHOLD
    upside = np.ascontiguousarray(picture[box.slices][::-1][:shown]), np.ascontiguousarray(body[::-1][:shown])
    side = max(box.width // 8, 4)
    under = Box(
        x=box.x - side, y=box.bottom - reach // 3, width=box.width + 2 * side, height=shown + reach + reach // 3
    )
    under = under.intersect(room)
    scale = min(1.0, WORKING_HEIGHT_PX / box.height)
    ground, image = (_small(to_eight_bit(np.ascontiguousarray(p)), scale) for p in (picture[under.slices], upside[0]))
    mask = _small(np.where(upside[1], 255, 0).astype(np.uint8), scale) > 127
    if mask.sum() < 40 or ground.shape[0] < image.shape[0] or ground.shape[1] < image.shape[1]:
        return None
    # Slow changes of light say nothing: both are compared without them.
    fine = [plane - cv2.GaussianBlur(plane, (0, 0), 8) for plane in (_grey(ground), _grey(image))]
    found = cv2.matchTemplate(fine[0], fine[1], cv2.TM_CCOEFF_NORMED, mask=mask.astype(np.float32))
    found[~np.isfinite(found)] = -1
    row, column = np.unravel_index(int(found.argmax()), found.shape)
    likeness = float(found[row, column])
    if not MIN_CORRELATION <= likeness <= 1.001:
        return None
    x, y = under.x + round(column / scale), under.y + round(row / scale)
    place = Box(x=x, y=y, width=box.width, height=shown).intersect(room)
    cover = upside[1][: place.height, : place.width]
    return Mask(place, np.where(cover, 255, 0).astype(np.uint8)), likeness


def _small(pixels: np.ndarray, scale: float) -> np.ndarray:
    size = (max(round(pixels.shape[1] * scale), 4), max(round(pixels.shape[0] * scale), 4))
    return np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA))


def _grey(pixels: np.ndarray) -> np.ndarray:
    return np.asarray(pixels.astype(np.float32).mean(axis=2))
