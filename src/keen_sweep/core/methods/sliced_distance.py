"""Small patches of a picture as clouds of points, and how far two clouds are apart."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Floats

PATCH_SIDE_PX = 7


def patches(planes: Floats, centres: Bools, most: int = 20_000) -> Floats:
    """Patches of a picture, mirrored at its edge.

    Parameters
    ----------
    planes : (H, W, C) float32
        The picture.
    centres : (H, W) bool
        Centres of the patches.
    most : int, optional
        Number of patches, at most; evenly chosen and always the same.

    Returns
    -------
    (n, 49 * C) float32
        The patches.
    """
    half = PATCH_SIDE_PX // 2
    framed = cv2.copyMakeBorder(planes, half, half, half, half, cv2.BORDER_REFLECT_101)
    view = np.lib.stride_tricks.sliding_window_view(framed, (PATCH_SIDE_PX, PATCH_SIDE_PX), axis=(0, 1))
    rows, columns = np.nonzero(centres)
    if len(rows) > most:
        chosen = np.random.default_rng(0).choice(len(rows), most, replace=False)
        rows, columns = rows[chosen], columns[chosen]
    return np.asarray(view[rows, columns].reshape(len(rows), -1), np.float32)


def sliced_distance(a: Floats, b: Floats, directions: int = 128) -> float:
    """Sliced 1-Wasserstein distance of two point clouds.

    The mean over random directions of the area between the two distributions of projections. The directions
    are always the same.

    Parameters
    ----------
    a : (n, d) float32
        The first cloud.
    b : (m, d) float32
        The second cloud.
    directions : int, optional
        Number of directions.

    Returns
    -------
    float
        The distance.

    References
    ----------
    Rabin et al. 2011, "Wasserstein barycenter and its application to texture mixing".
    """
    across = unit_directions(a.shape[1], directions)
    first, second = np.sort(a @ across, axis=0), np.sort(b @ across, axis=0)
    if len(first) != len(second):
        steps = (np.arange(512) + 0.5) / 512
        first, second = _quantiles(first, steps), _quantiles(second, steps)
    return float(np.abs(first - second).mean())


def _quantiles(ordered: Floats, shares: Doubles) -> Floats:
    """Quantiles of each column of what is sorted already, between two values in proportion."""
    at = shares * (len(ordered) - 1)
    below = at.astype(np.intp)
    part = (at - below).astype(np.float32)[:, None]
    return np.asarray(ordered[below] * (1 - part) + ordered[np.minimum(below + 1, len(ordered) - 1)] * part)


def unit_directions(dimensions: int, count: int) -> Floats:
    """Random unit vectors, always the same.

    Parameters
    ----------
    dimensions : int
        Length of the vectors.
    count : int
        Number of vectors.

    Returns
    -------
    (dimensions, count) float32
        The vectors as columns.
    """
    across = np.random.default_rng(1).normal(size=(dimensions, count)).astype(np.float32)
    return np.asarray(across / np.linalg.norm(across, axis=0), np.float32)
