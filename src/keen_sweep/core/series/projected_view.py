"""Seen: what another frame shows where a box of this one is, in this one's place and tones, made small."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.series.alignment import Alignment

# Spacing at which positions are computed, pixels at working size.
SAMPLE_STEP_PX = 8


def reduce_pixels(pixels: Pixels, size: tuple[int, int]) -> EightBit:
    """Reduce pixels to 8 bit and a size.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        The pixels.
    size : tuple of 2 int
        Width and height, not larger.

    Returns
    -------
    (height, width, 3) uint8
        The reduced pixels.
    """
    return np.asarray(cv2.resize(to_eight_bit(pixels), size, interpolation=cv2.INTER_AREA), np.uint8)


def project_view(
    other: Pixels, alignment: Alignment, box: Box, size: tuple[int, int], at: tuple[float, float] = (0.0, 0.0)
) -> tuple[EightBit, Bools]:
    """What another frame shows at a box of this one, in this one's tones.

    Parameters
    ----------
    other : (H', W', 3) uint8 or uint16
        The other frame.
    alignment : Alignment
        Alignment of this frame to the other.
    box : Box
        Box in this frame.
    size : tuple of 2 int
        Width and height of the result.
    at : tuple of 2 float, optional
        Displacement of the box, pixels.

    Returns
    -------
    tuple of (h, w, 3) uint8 and (h, w) bool
        The pixels, and where the other frame shows anything.
    """
    places = _places(alignment, box, size, at)
    room = whole(other)
    across, down = cv2.split(places)
    left, top = int(np.floor(across.min())) - 8, int(np.floor(down.min())) - 8
    right, bottom = int(np.ceil(across.max())) + 9, int(np.ceil(down.max())) + 9
    part = Box(x=left, y=top, width=right - left, height=bottom - top).intersect(room)
    seen = (across > -0.5) & (across < room.width - 0.5) & (down > -0.5) & (down < room.height - 0.5)
    if part.empty or not seen.any():
        return np.zeros((size[1], size[0], 3), np.uint8), np.zeros((size[1], size[0]), np.bool_)
    # Made small before it is moved, so that nothing flickers.
    share = min(1.0, size[0] / box.width)
    less = (max(round(part.width * share), 1), max(round(part.height * share), 1))
    small = reduce_pixels(other[part.slices], less)
    columns = (across - (part.x - 0.5)) * np.float32(less[0] / part.width) - np.float32(0.5)
    rows = (down - (part.y - 0.5)) * np.float32(less[1] / part.height) - np.float32(0.5)
    laid = cv2.remap(small, columns, rows, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(alignment.tones.laid_on(np.asarray(laid, np.uint8)), np.uint8), seen


def _places(alignment: Alignment, box: Box, size: tuple[int, int], at: tuple[float, float]) -> Floats:
    """Where a box of one, made so small and moved by some pixels, is seen in the other, (h, w, 2): worked out for every
    few pixels, and drawn on between them."""
    columns, rows = -(-size[0] // SAMPLE_STEP_PX) + 1, -(-size[1] // SAMPLE_STEP_PX) + 1
    across, down = np.arange(columns) * SAMPLE_STEP_PX + 0.5, np.arange(rows) * SAMPLE_STEP_PX + 0.5
    x, y = np.meshgrid(across * box.width / size[0] - 0.5 + box.x, down * box.height / size[1] - 0.5 + box.y)
    pixels = np.stack([x.ravel() + at[0], y.ravel() + at[1]], 1)
    # Shifts rather than places: OpenCV rounds where it looks to a 32nd of a cell.
    shifts = (alignment.places(pixels) - pixels).reshape(rows, columns, 2).astype(np.float32)
    u, v = np.arange(size[0], dtype=np.float32), np.arange(size[1], dtype=np.float32)
    own = np.asarray(
        cv2.remap(shifts, *np.meshgrid(u / SAMPLE_STEP_PX, v / SAMPLE_STEP_PX), cv2.INTER_LINEAR), np.float32
    )
    wide, high = np.float32(box.width / size[0]), np.float32(box.height / size[1])
    own[..., 0] += (u + np.float32(0.5)) * wide + np.float32(box.x + at[0] - 0.5)
    own[..., 1] += ((v + np.float32(0.5)) * high + np.float32(box.y + at[1] - 0.5))[:, None]
    return own
