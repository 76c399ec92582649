"""From offsets to pixels: copy, join without a seam, and match the grain."""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Labels, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.fill.bands import match_grain
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.methods.fading import rim_only_mismatch
from keen_sweep.core.methods.seam import correction

# Smallest margin around the window in which grain is measured, pixels.
MIN_GRAIN_MARGIN_PX = 24
# Largest distance over which grain is compared, pixels.
MAX_GRAIN_RADIUS_PX = 48.0
# Relative residual of the seam equation in the 2-norm.
SOLVER_TOLERANCE: dict[Quality, float] = {Quality.FAST: 3e-2, Quality.FINE: 1e-4}


def lay_offsets(
    picture: Pixels,
    known: Bools,
    hole: Bools,
    offsets: NDArray[np.int32],
    window: Box,
    ground: Box,
    radius: float,
    quality: Quality = Quality.FINE,
    loose: Bools | None = None,
    pieces: Labels | None = None,
) -> Floats:
    """Fill a window of a picture by copying along offsets, joined to the rim and with matching grain; fast
    quality is joined roughly and keeps its grain.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    known : (H, W) bool
        Known pixels.
    hole : (h, w) bool
        The hole in the window, with a rim of known pixels except along the picture's edge.
    offsets : (h, w, 2) int32
        dx and dy to the source of each pixel.
    window : Box
        The window in the picture.
    ground : Box
        Surroundings of the hole in the picture.
    radius : float
        Radius of the largest disc in the hole, pixels.
    quality : Quality, optional
        How carefully to fill.
    loose : (h, w) bool or None, optional
        Pixels that need not match what is beside the hole.
    pieces : (h, w) int32 or None, optional
        Numbers of strips and cells, see `core.methods.seam.correction`.

    Returns
    -------
    (h, w, 3) float32
        The picture, valid in the hole only.
    """
    pixels = copy_along(picture, hole, offsets, window.y, window.x)
    if quality == Quality.FAST:
        return pixels + correction(
            picture, hole, offsets, window.y, window.x, SOLVER_TOLERANCE[quality], loose, ground=ground, pieces=pieces
        )
    own, faded = rim_only_mismatch(picture, known, hole, offsets, window, ground, loose)
    pixels += (
        correction(picture, hole, offsets, window.y, window.x, SOLVER_TOLERANCE[quality], loose, own, ground, pieces)
        + faded
    )
    radius = min(radius, MAX_GRAIN_RADIUS_PX)
    around = window.grow(max(MIN_GRAIN_MARGIN_PX, round(2 * radius)), whole(picture))
    canvas = picture[around.slices].astype(np.float32)
    inner = window.relative_to(around).slices
    inside = np.zeros(canvas.shape[:2], bool)
    inside[inner] = hole
    canvas[inner][hole] = pixels[hole]
    scale = np.float32(255 / np.iinfo(picture.dtype).max)
    canvas *= scale
    match_grain(canvas, inside, known[around.slices], radius)
    pixels[hole] = canvas[inner][hole] / scale
    return pixels


@numba.njit(cache=True, nogil=True)
def copy_along(pixels: Pixels | Floats, hole: Bools, offsets: NDArray[np.int32], top: int, left: int) -> Floats:
    """Copy a picture into a hole along offsets.

    Parameters
    ----------
    pixels : (H, W, 3) uint8, uint16 or float32
        The picture.
    hole : (h, w) bool
        The hole in its window.
    offsets : (h, w, 2) int32
        dx and dy to the source of each pixel.
    top : int
        First row of the window in the picture.
    left : int
        First column of the window.

    Returns
    -------
    (h, w, 3) float32
        What is copied; 0 outside of the hole.
    """
    out = np.zeros((hole.shape[0], hole.shape[1], 3), np.float32)
    for i in range(hole.shape[0]):
        for j in range(hole.shape[1]):
            if hole[i, j]:
                for c in range(3):
                    out[i, j, c] = pixels[i + top + offsets[i, j, 1], j + left + offsets[i, j, 0], c]
    return out
