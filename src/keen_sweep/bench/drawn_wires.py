"""Photographs with wires drawn over them: the truth of the wire scout's figures.

Wires of 2 to 8 pixels at a contrast of 10 to 60 %, sagging or straight, over anything; not made by the training code.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

EightBit = NDArray[np.uint8]


def with_wires(picture: EightBit, seed: int) -> tuple[EightBit, NDArray[np.bool_]]:
    """A picture (H, W, 3) with one to three wires, and where they are, (H, W)."""
    random = np.random.default_rng(seed)
    height, width = picture.shape[:2]
    photo = picture.astype(np.float64)
    truth = np.zeros((height, width), np.float64)
    for _ in range(int(random.integers(1, 4))):
        left, right = random.uniform(0.02, 0.95, 2) * height
        sag = random.uniform(0, 0.12) * width * (random.random() < 0.75)
        x = np.linspace(-0.05, 1.05, 400)
        y = left + (right - left) * x + sag * 4 * x * (1 - x)
        thick = random.uniform(2, 8)
        cover = _line(np.stack([x * width, y], axis=1), thick, (height, width))
        share = random.uniform(0.1, 0.6)
        darker = random.random() < 0.85
        ground = cv2.GaussianBlur(photo, (0, 0), 6)
        colour = ground * (1 - share) if darker else ground * (1 - share) + 255 * share
        photo = photo * (1 - cover[..., None]) + colour * cover[..., None]
        truth = np.maximum(truth, cover)
    return photo.clip(0, 255).astype(np.uint8), truth > 0.5


def _line(points: NDArray[np.float64], thick: float, shape: tuple[int, int]) -> NDArray[np.float64]:
    """Coverage of a line of any width: distance to its middle, soft over one pixel."""
    canvas = np.full(shape, 255, np.uint8)
    fixed = np.rint(points * 16).astype(np.int32).reshape(-1, 1, 2)
    cv2.polylines(canvas, [fixed], False, 0, 1, cv2.LINE_8, 4)
    away = np.asarray(cv2.distanceTransform(canvas, cv2.DIST_L2, 5), np.float64)
    return np.clip(thick / 2 - away + 0.5, 0, 1)
