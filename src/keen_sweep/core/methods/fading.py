"""How much of a seam's mismatch is the rim's alone: a shadow, a halo, a dark edge that a thing left beside its mask.

The copy is compared with the picture not only at the rim but in a band outside, where the places that are copied from
would go on. What it differs by farther out is how the grounds differ, and is carried through the hole; what it differs
by at the rim and no more farther out ends there, and fades within some pixels instead of tinting all that is filled.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, whole

# Rows and columns of some pixels.
Places = tuple[NDArray[np.integer], NDArray[np.integer]]
# Width of the band that is read, share of the square root of the hole's area.
BAND_SHARE = 0.1
MIN_BAND_PX = 4.0
MAX_BAND_PX = 24.0
# Distance from the hole that counts as its rim, pixels.
RIM_WIDTH_PX = 2.0
# What lies farther out than this share of the band is ground.
GROUND_SHARE = 0.5
# A difference counts from this many standard errors on.
MIN_STANDARD_ERRORS = 2.0
# Pixels of a texture that say as much as one independent sample.
PIXELS_PER_SAMPLE = 6.0
ROW_SAMPLES = 1024
# What only the rim has fades over this share of the band.
FADE_SHARE = 0.35


def rim_only_mismatch(
    picture: Pixels,
    known: Bools,
    hole: Bools,
    offsets: NDArray[np.int32],
    window: Box,
    ground: Box,
    loose: Bools | None = None,
) -> tuple[Floats, Floats]:
    """The part of the mismatch at a hole's rim that belongs to the rim alone.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    known : (H, W) bool
        Pixels that may be read.
    hole : (h, w) bool
        The hole in the window.
    offsets : (h, w, 2) int32
        dx and dy from each pixel of the hole to its source.
    window : Box
        The window in the picture.
    ground : Box
        Part of the picture that may be read.
    loose : (h, w) bool or None, optional
        Pixels that need not match their rim.

    Returns
    -------
    tuple of (h, w, 3) float32
        That part at the pixels beside the rim, in the picture's units; and the same faded into the hole.
    """
    band = float(np.clip(BAND_SHARE * np.sqrt(hole.sum()), MIN_BAND_PX, MAX_BAND_PX))
    room = window.grow(int(np.ceil(band)) + 1, whole(picture))
    inner = window.relative_to(room).slices
    room_hole = np.zeros((room.height, room.width), np.bool_)
    room_hole[inner] = hole
    away, nearest = cv2.distanceTransformWithLabels(
        (~room_hole).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    rows, columns = np.nonzero(~room_hole & (away <= band) & known[room.slices])
    # To each the offset of the hole's pixel that is nearest to it.
    at = np.zeros((int(nearest.max()) + 1, 2), np.int32)
    at[nearest[room_hole]] = offsets[hole]
    y, x = rows + room.y, columns + room.x
    step = at[nearest[rows, columns]]
    v, u = y + step[:, 1], x + step[:, 0]
    outer = np.zeros(len(at), np.bool_)
    if loose is not None:
        outer[nearest[room_hole]] = loose[hole]
    good = ~outer[nearest[rows, columns]] & (v >= ground.y) & (u >= ground.x) & (v < ground.bottom) & (u < ground.right)
    good[good] = known[v[good], u[good]]
    rows, columns, y, x, v, u = (each[good] for each in (rows, columns, y, x, v, u))
    differs = picture[y, x].astype(np.float32) - picture[v, u].astype(np.float32)
    far_off = away[rows, columns]
    rim = hole & (cv2.erode(hole.astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=0) == 0)
    if loose is not None:
        rim &= ~loose
    own = np.zeros((*hole.shape, 3), np.float32)
    if not rim.any():
        return own, own
    top, left = np.nonzero(rim)
    wanted = (top + window.y - room.y, left + window.x - room.x)
    means = []
    for those in (far_off <= RIM_WIDTH_PX, far_off >= GROUND_SHARE * band):
        places = (rows[those], columns[those])
        means.append(_mean(differs[those], places, wanted, room_hole.shape, band / 2))
    (near, near_spread), (far, far_spread) = means
    found = near - far
    # Texture that does not agree says little of either: only what is surely different ends at the rim.
    doubt = MIN_STANDARD_ERRORS * np.sqrt(near_spread + far_spread)
    found *= np.clip(np.abs(found) / np.maximum(doubt, 1e-3) - 1, 0, 1)
    # A shadow takes light away; what else ends at a rim is mostly the picture's own.
    own[rim] = np.where(found.mean(axis=1, keepdims=True) < 0, found, 0)
    return own, _faded(own, rim, hole, FADE_SHARE * band)


def _faded(own: Floats, rim: Bools, hole: Bools, over: float) -> Floats:
    """What is told at the rim (h, w, 3), carried into the hole and fading over some pixels."""
    deep, edge = cv2.distanceTransformWithLabels(
        (~rim).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    values = np.zeros((int(edge.max()) + 1, 3), np.float32)
    values[edge[rim]] = own[rim]
    return np.asarray(values[edge] * (np.exp(-deep / over) * hole)[..., None], np.float32)


def _mean(
    values: Floats, places: Places, wanted: Places, shape: tuple[int, ...], sigma: float
) -> tuple[Floats, Floats]:
    """Means (m, 3) of values (n, 3) that lie near some places, weighted by a Gaussian, and how far such a mean is off,
    squared; without end where there are none. Places are rows and columns."""
    # In cells: what is averaged this widely needs no single pixels.
    cell = max(1, int(sigma / 2))
    size = (-(-shape[0] // cell), -(-shape[1] // cell))
    index = (places[0] // cell) * size[1] + places[1] // cell
    # In rows: the library takes no longer ones.
    many = len(wanted[0])
    rows, columns = (
        np.resize((each.astype(np.float32) + 0.5) / cell - 0.5, (-(-many // ROW_SAMPLES), ROW_SAMPLES))
        for each in wanted
    )
    sums = []
    for plane in (*values.T, *(values**2).T, np.ones(len(values), np.float32)):
        full = np.bincount(index, plane, minlength=size[0] * size[1]).reshape(size).astype(np.float32)
        soft = cv2.GaussianBlur(full, (0, 0), sigma / cell, borderType=cv2.BORDER_CONSTANT)
        sums.append(cv2.remap(soft, columns, rows, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).ravel()[:many])
    share = np.maximum(sums[6], 1e-6)[:, None]
    mean = np.stack(sums[:3], 1) / share
    spread = np.maximum(np.stack(sums[3:6], 1) / share - mean**2, 0)
    # Neighbours are not independent of each other.
    count = share * 4 * np.pi * (sigma / cell) ** 2 / PIXELS_PER_SAMPLE
    off = np.asarray(np.where(count > 0.5, spread / count, np.inf), np.float32)
    return np.asarray(mean, np.float32), off
