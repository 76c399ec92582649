"""A job file, and pictures with specks for it."""

from __future__ import annotations

import cv2
import imagecodecs
import numpy as np

JOB = """
shoot = "Night"
[gather]
folder = "pictures"
[scouts]
kinds = ["specks"]
[fill]
takes = 2
quality = "fast"
[review]
pick = "first"
[deliver]
folder = "out"
"""


def picture(seed: int, specks: tuple[tuple[int, int], ...]) -> bytes:
    random = np.random.default_rng(seed)
    sky = np.linspace(150, 220, 120)[:, None, None] * np.array([0.8, 0.9, 1.0])
    pixels = (sky + random.normal(0, 1.2, (120, 180, 3))).clip(0, 255).astype(np.uint8)
    for middle in specks:
        cv2.circle(pixels, middle, 4, (70, 70, 75), -1, cv2.LINE_AA)
    return bytes(imagecodecs.png_encode(pixels))
