"""The grain of the surroundings, laid over a smooth fill: real residuals from nearby places, so that its
size, colour and strength are the picture's own."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats

BLOCK_SIDE_PX = 24
TRIES_PER_BLOCK = 40


def smooth_known(pixels: Floats, known: Bools, sigma: float) -> Floats:
    """Gaussian mean of known pixels.

    Parameters
    ----------
    pixels : (h, w, C) float32
        Values.
    known : (h, w) bool
        Pixels that count.
    sigma : float
        Standard deviation, pixels.

    Returns
    -------
    (h, w, C) float32
        The mean; 0 far from any known pixel.
    """
    weight = known.astype(np.float32)
    total = cv2.GaussianBlur(pixels * weight[..., None], (0, 0), sigma).reshape(pixels.shape)
    return np.asarray(total / np.maximum(cv2.GaussianBlur(weight, (0, 0), sigma), 1e-6)[..., None])


def grain_for(
    residual: Floats,
    known: Bools,
    hole: Bools,
    random: np.random.Generator,
) -> Floats:
    """Synthesise grain for a hole from blocks near by whose strength is typical of the surroundings.

    Parameters
    ----------
    residual : (h, w, C) float32
        The picture less its smooth version.
    known : (h, w) bool
        Where the residual is valid.
    hole : (h, w) bool
        The hole.
    random : np.random.Generator
        Source of randomness.

    Returns
    -------
    (h, w, C) float32
        Grain in the hole, 0 elsewhere.
    """
    height, width = hole.shape
    out = np.zeros_like(residual)
    energy = (residual.mean(axis=2) ** 2) * known
    usable = known.astype(np.float32)
    sums = np.asarray(cv2.integral(energy.astype(np.float64)), np.float64)
    counts = np.asarray(cv2.integral(usable.astype(np.float64)), np.float64)
    rim = (
        cv2.dilate(hole.astype(np.uint8), np.ones((2 * BLOCK_SIDE_PX + 1, 2 * BLOCK_SIDE_PX + 1), np.uint8)).astype(
            bool
        )
        & known
    )
    if not rim.any():
        return out
    # Edges are not grain: what exceeds nine medians (three of amplitude) counts as so much.
    typical = float(np.minimum(energy[rim], 9 * np.median(energy[rim]) / 0.455).mean())
    rows, columns = np.nonzero(hole)
    cells = np.unique(np.stack([rows // BLOCK_SIDE_PX, columns // BLOCK_SIDE_PX], axis=1), axis=0)
    for row, column in cells:
        top, left = int(row) * BLOCK_SIDE_PX, int(column) * BLOCK_SIDE_PX
        tall, wide = min(BLOCK_SIDE_PX, height - top), min(BLOCK_SIDE_PX, width - left)
        y = _near(top, height - tall, random)
        x = _near(left, width - wide, random)
        count = _sum(counts, y, x, tall, wide)
        strength = _sum(sums, y, x, tall, wide) / np.maximum(count, 1)
        misfit = np.abs(np.log((strength + 1e-3) / (typical + 1e-3))) + 20.0 * (1 - count / (tall * wide))
        best = int(misfit.argmin())
        source = residual[y[best] : y[best] + tall, x[best] : x[best] + wide]
        target = (slice(top, top + tall), slice(left, left + wide))
        have = known[y[best] : y[best] + tall, x[best] : x[best] + wide]
        out[target] = np.where((hole[target] & have)[..., None], source, 0)
    return out


def _near(start: int, most: int, random: np.random.Generator) -> NDArray[np.int64]:
    return np.clip(start + random.integers(-5 * BLOCK_SIDE_PX, 5 * BLOCK_SIDE_PX + 1, TRIES_PER_BLOCK), 0, max(most, 0))


def _sum(integral: Doubles, y: NDArray[np.int64], x: NDArray[np.int64], tall: int, wide: int) -> Doubles:
    total: Doubles = integral[y + tall, x + wide] - integral[y, x + wide] - integral[y + tall, x] + integral[y, x]
    return total
