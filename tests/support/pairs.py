"""Pairs of pictures whose geometry is known: a picture of a registry package seen through a homography, with noise and
another exposure."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Pair:
    """Two pictures (h, w, 3) and the homography from the one to the other."""

    one: NDArray[np.uint8]
    other: NDArray[np.uint8]
    homography: NDArray[np.float64]


def pair(picture: NDArray[np.uint8], seed: int, bent: float = 0.06, stops: float = 0.5, noise: float = 4.0) -> Pair:
    """bent: how far corners move, of the longer side; stops: of exposure, at most; noise: standard deviation."""
    random = np.random.default_rng(seed)
    height, width = picture.shape[:2]
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    ends = corners + random.uniform(-bent, bent, (4, 2)) * max(height, width)
    matrix = cv2.getPerspectiveTransform(corners, ends.astype(np.float32))
    laid = cv2.warpPerspective(picture, matrix, (width, height), flags=cv2.INTER_CUBIC)
    light = (laid / 255.0) ** 2.2 * 2 ** random.uniform(-stops, stops) * np.array([1.05, 1.0, 0.93])
    other = np.clip(light, 0, 1) ** (1 / 2.2) * 255 + random.normal(0, noise, laid.shape)
    return Pair(picture, np.clip(np.rint(other), 0, 255).astype(np.uint8), np.asarray(matrix, np.float64))
