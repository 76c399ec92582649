"""The picture cut into pieces, to be taken one by one."""

from __future__ import annotations

from typing import Literal

import cv2
import numpy as np
import skimage
from numpy.typing import NDArray

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit

PieceSize = Literal["small", "medium", "large"]
# By size: scale and smallest segment in pixels (Felzenszwalb & Huttenlocher 2004).
SEGMENT_SETTINGS: dict[PieceSize, tuple[float, int]] = {
    "small": (40.0, 25),
    "medium": (150.0, 120),
    "large": (500.0, 500),
}
WORKING_PIXELS = 500_000


def pieces_of(picture: Pixels, size: PieceSize) -> NDArray[np.int32]:
    """Segment a picture into pieces; a large picture is made smaller first.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    size : PieceSize
        Size of the pieces.

    Returns
    -------
    (h, w) int32
        Labels from 0.

    References
    ----------
    Felzenszwalb and Huttenlocher 2004, "Efficient graph-based image segmentation".
    """
    pixels = to_eight_bit(picture)
    scale = min(1.0, np.sqrt(WORKING_PIXELS / (pixels.shape[0] * pixels.shape[1])))
    if scale < 1:
        smaller = (max(round(pixels.shape[1] * scale), 1), max(round(pixels.shape[0] * scale), 1))
        pixels = np.asarray(cv2.resize(pixels, smaller, interpolation=cv2.INTER_AREA), np.uint8)
    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB) / 100
    likeness, least = SEGMENT_SETTINGS[size]
    return np.asarray(
        skimage.segmentation.felzenszwalb(lab, scale=likeness, sigma=0.8, min_size=least, channel_axis=2), np.int32
    )


def mask_of_pieces(labels: NDArray[np.int32], chosen: list[int], width: int, height: int) -> Mask:
    """Mask of some pieces; staircase borders are smoothed where the labels are smaller than the picture.

    Parameters
    ----------
    labels : (h, w) int32
        Labels as from `pieces_of`.
    chosen : list of int
        Labels in the mask.
    width : int
        Width of the picture, pixels.
    height : int
        Height of the picture, pixels.

    Returns
    -------
    Mask
        The mask.
    """
    hit = np.isin(labels, chosen)
    small = box_of(hit)
    if small.empty:
        return Mask(small, np.zeros((0, 0), np.uint8))
    across, down = width / labels.shape[1], height / labels.shape[0]
    near = small.grow(2, Box(x=0, y=0, width=labels.shape[1], height=labels.shape[0]))
    left, top = int(near.x * across), int(near.y * down)
    box = Box(x=left, y=top, width=round(near.right * across) - left, height=round(near.bottom * down) - top)
    cover = hit[near.slices].astype(np.float32)
    large = cv2.resize(cover, (box.width, box.height), interpolation=cv2.INTER_LINEAR)
    return Mask(box, np.where(large >= 0.5, 255, 0).astype(np.uint8))
