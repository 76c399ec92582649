"""Dense motion between two pictures that are nearly in place, and how much of it can be believed.

The flow is DIS (Kroeger et al. 2016), as OpenCV has it.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats, Plane

# Distance by which forward and backward flow may differ, pixels.
MAX_ROUND_TRIP_PX = 0.7
# Added to that distance, share of the motion.
MAX_ROUND_TRIP_SHARE = 0.05
# Correlation of the surroundings from which on a place is certain.
SURE_CORRELATION = 0.75
# Grain that lowers the correlation, 8-bit levels.
GRAIN_LEVELS = 3.0
# Standard deviation of the surroundings that are compared, pixels.
SURROUNDINGS_SIGMA_PX = 4.0
# Texture that determines a motion by half: cornerMinEigenVal of 8-bit luma.
HALF_TEXTURE = 2e-4


def flow(first: EightBit, second: EightBit, finest: int = 1) -> Floats:
    """Dense optical flow between two pictures.

    Parameters
    ----------
    first : (h, w) uint8
        The first picture.
    second : (h, w) uint8
        The second picture.
    finest : int, optional
        Finest scale; 0 is full size.

    Returns
    -------
    (h, w, 2) float32
        x and y, pixels.
    """
    # Missing from OpenCV's types.
    search: Any = cv2.DISOpticalFlow_create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)  # type: ignore[attr-defined]
    search.setFinestScale(finest)
    pair = (np.ascontiguousarray(each) for each in (first, second))
    return np.asarray(search.calc(*pair, None), np.float32)


def consistent_flow(first: EightBit, second: EightBit, prior: Floats, finest: int = 1) -> tuple[Floats, Bools]:
    """Dense optical flow near a first estimate, with a consistency check.

    Parameters
    ----------
    first : (h, w) uint8
        The first picture.
    second : (h, w) uint8
        The second picture.
    prior : (h, w, 2) float32
        First estimate, pixels.
    finest : int, optional
        Finest scale; 0 is full size.

    Returns
    -------
    tuple of (h, w, 2) float32 and (h, w) bool
        The flow, and where the backward flow agrees.
    """
    nearer = np.asarray(warp_by(second, prior), np.uint8)
    forth, back = flow(first, nearer, finest), flow(nearer, first, finest)
    same = lengths(forth + warp_by(back, forth)) < MAX_ROUND_TRIP_PX + MAX_ROUND_TRIP_SHARE * lengths(forth)
    return np.asarray(forth + warp_by(prior, forth), np.float32), np.asarray(same)


def warp_by(plane: Plane, motion: Floats) -> Plane:
    """Warp a plane by a flow.

    Parameters
    ----------
    plane : (h, w, ...) array
        The plane.
    motion : (h, w, 2) float32
        The flow, pixels.

    Returns
    -------
    (h, w, ...) array
        The plane as seen from the flow's targets.
    """
    rows, columns = motion.shape[:2]
    across = np.arange(columns, dtype=np.float32) + motion[..., 0]
    down = np.arange(rows, dtype=np.float32)[:, None] + motion[..., 1]
    seen = cv2.remap(plane, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(seen, plane.dtype)


def lengths(motion: Floats) -> Floats:
    """Length of each vector of a flow.

    Parameters
    ----------
    motion : (h, w, 2) float32
        The flow.

    Returns
    -------
    (h, w) float32
        The lengths, pixels.
    """
    return np.asarray(cv2.magnitude(*cv2.split(motion)), np.float32)


def local_similarity(first: EightBit, second: EightBit, wide: float = SURROUNDINGS_SIGMA_PX) -> Floats:
    """Similarity of the surroundings of each place in two pictures: local correlation; where there is no
    texture, whether both are plain.

    Parameters
    ----------
    first : (h, w) uint8
        The first picture.
    second : (h, w) uint8
        The second picture.
    wide : float, optional
        Standard deviation of the surroundings, pixels.

    Returns
    -------
    (h, w) float32
        0 to 1.
    """
    a, b = first.astype(np.float32), second.astype(np.float32)

    def mean(plane: Floats) -> Floats:
        return np.asarray(cv2.GaussianBlur(plane, (0, 0), wide), np.float32)

    ma, mb = mean(a), mean(b)
    va, vb = mean(a * a) - ma * ma, mean(b * b) - mb * mb
    both = mean(a * b) - ma * mb
    # Grain of a few levels is no structure: it neither speaks for a place nor against it.
    correlation = (both + GRAIN_LEVELS**2) / np.sqrt(
        np.maximum(va + GRAIN_LEVELS**2, 1e-3) * np.maximum(vb + GRAIN_LEVELS**2, 1e-3)
    )
    return np.asarray(np.clip((correlation - SURE_CORRELATION / 2) / (SURE_CORRELATION / 2), 0, 1), np.float32)


def texture_strength(grey: EightBit) -> Floats:
    """How well each place determines its motion: the smaller eigenvalue of its structure tensor.

    An edge determines half of it.

    Parameters
    ----------
    grey : (h, w) uint8
        The picture.

    Returns
    -------
    (h, w) float32
        0 to 1.

    References
    ----------
    Shi and Tomasi 1994, "Good features to track".
    """
    least = np.asarray(cv2.cornerMinEigenVal(grey, 7, ksize=3), np.float32)
    return np.asarray(0.01 + 0.99 * least / (least + HALF_TEXTURE), np.float32)


def by_cells(motion: Floats, weight: Floats, cell: int) -> Floats:
    """Average a flow over cells, continued over cells without weight.

    Parameters
    ----------
    motion : (h, w, 2) float32
        The flow.
    weight : (h, w) float32
        Weight of each place.
    cell : int
        Side of the cells, pixels.

    Returns
    -------
    (rows, columns, 2) float32
        The averages.
    """
    size = (-(-motion.shape[1] // cell), -(-motion.shape[0] // cell))
    share = np.asarray(cv2.resize(weight, size, interpolation=cv2.INTER_AREA), np.float32)
    sums = np.asarray(cv2.resize(motion * weight[..., None], size, interpolation=cv2.INTER_AREA), np.float32)
    mean = (sums / np.maximum(share, 1e-6)[..., None]).reshape(size[1], size[0], 2)
    return continue_cells(np.clip(share * 4, 0, 1), mean.astype(np.float32))


def continue_cells(weight: Floats, mean: Floats) -> Floats:
    """Continue averages over cells without weight from the nearest cells that have one.

    Parameters
    ----------
    weight : (h, w) float32
        Weight of each cell.
    mean : (h, w, 2) float32
        Averages.

    Returns
    -------
    (h, w, 2) float32
        The continued averages.
    """
    out, known = np.zeros_like(mean), np.zeros((*weight.shape, 1), np.float32)
    for sigma in (0.7, 1.5, 3.0, 6.0, 12.0, 24.0, 48.0):
        wide = np.asarray(cv2.GaussianBlur(weight, (0, 0), sigma), np.float32)[..., None]
        near = cv2.GaussianBlur(mean * weight[..., None], (0, 0), sigma) / np.maximum(wide, 1e-6)
        share = np.clip(wide * 8, 0, 1) * (1 - known)
        out += near * share
        known += share
    return np.asarray(out / np.maximum(known, 1e-6), np.float32)
