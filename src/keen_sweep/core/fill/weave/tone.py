"""Does a fill have the tones that its surroundings lead to expect, each in its place?

Patches say what a fill is made of, not where it lies: gravel where the hedge should be is as good gravel as any. A
smooth continuation of the surroundings knows nothing of texture, but it does know that.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.fill.close.continuation import continuation

# Tones are compared at the finest level whose hole has at most so many pixels, smoothed over a part of its radius.
MOST_PIXELS = 6_000
SMOOTHED = 1 / 3
WEIGHT = 0.5


@dataclass(frozen=True)
class Tone:
    """What is expected at a level: L*, a*, b* (h, w, 3) float32, smoothed over sigma pixels within hole (h, w)."""

    level: int
    hole: NDArray[np.bool_]
    expected: NDArray[np.float32]
    sigma: float


def tone_of(features: NDArray[np.uint8], hole: NDArray[np.bool_], known: NDArray[np.bool_], level: int) -> Tone:
    """The tones that a level's known pixels lead to expect in its hole; features (h, w, 4 or more) uint8."""
    smooth = continuation(features[..., :3].astype(np.float32), ~known)
    depth = cv2.distanceTransform(np.pad(hole.astype(np.uint8), 1), cv2.DIST_L2, 5)
    sigma = max(float(depth.max()) * SMOOTHED, 0.7)
    return Tone(level, hole, _within(smooth, hole, sigma), sigma)


def astray(tone: Tone, lab: NDArray[Any], hole: NDArray[np.bool_], level: int) -> float:
    """The logarithm of how far the tones of a fill are from those expected, root of the mean square.

    lab (h, w, 3) L*, a*, b* as 8 bit has them, with the hole (h, w) filled, at a level as fine as the tone's or
    finer. Lower is better.
    """
    values = lab.astype(np.float32) * hole[..., None]
    weight = hole.astype(np.float32)
    for _ in range(tone.level - level):
        values, weight = _halved(values), _halved(weight)
    values /= np.maximum(weight, 1e-6)[..., None]
    off = (_within(values, tone.hole, tone.sigma) - tone.expected)[tone.hole]
    return float(np.log(np.sqrt((off**2).sum(1).mean()) + 0.25))


def _halved(plane: NDArray[np.float32]) -> NDArray[np.float32]:
    """Sums of 2 x 2, rounding the sides up as the levels do."""
    height, width = plane.shape[:2]
    framed = np.pad(plane, ((0, height % 2), (0, width % 2), *((0, 0),) * (plane.ndim - 2)))
    return np.asarray(framed[::2, ::2] + framed[1::2, ::2] + framed[::2, 1::2] + framed[1::2, 1::2])


def _within(values: NDArray[np.float32], hole: NDArray[np.bool_], sigma: float) -> NDArray[np.float32]:
    weight = hole.astype(np.float32)
    total = cv2.GaussianBlur(values * weight[..., None], (0, 0), sigma)
    return np.asarray(total / np.maximum(cv2.GaussianBlur(weight, (0, 0), sigma), 1e-6)[..., None])
