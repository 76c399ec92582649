"""Figures in the sun, made so that their shadows are known."""

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.mask import Mask

Picture = NDArray[np.uint8]


Bools = NDArray[np.bool_]


SIZE = (420, 640)


def figure(x: int, foot: int, height: int) -> Bools:
    """Somebody upright, feet at (x, foot)."""
    out = np.zeros(SIZE, np.uint8)
    top, half = foot - height, height // 7
    cv2.circle(out, (x, top + half), half, 1, -1)
    cv2.rectangle(out, (x - half, top + 2 * half), (x + half, foot - height // 3), 1, -1)
    for side in (-1, 1):
        cv2.line(out, (x + side * half // 2, foot - height // 3), (x + side * half, foot), 1, max(half // 2, 3))
    return out > 0


def ground(seed: int = 0) -> Picture:
    noise = ndimage.gaussian_filter(np.random.default_rng(seed).normal(size=SIZE), 1.2)
    return (np.array([150.0, 140.0, 120.0]) + noise[..., None] * 28).clip(0, 255).astype(np.uint8)


def masked(thing: Bools) -> Mask:
    box = box_of(thing)
    return Mask(box, np.where(thing[box.slices], 255, 0).astype(np.uint8))


def in_sun(things: list[Bools], across: float, down: float) -> tuple[Picture, list[Bools]]:
    """A picture of things with the shadows that a sun throws, and those shadows."""
    picture, shadows = ground().astype(np.float32), []
    for thing in things:
        foot = float(np.flatnonzero(thing.any(1))[-1])
        move = np.array([[1, -across, foot * across], [0, -down, foot * (1 + down)]], np.float32)
        thrown = cv2.warpAffine(thing.astype(np.float32), move, thing.shape[::-1]) > 0.5
        shadows.append(thrown & ~thing)
        picture[shadows[-1]] *= 0.62
    for thing in things:
        picture[thing] = (60, 80, 160)
    return cv2.GaussianBlur(picture, (0, 0), 0.8).clip(0, 255).astype(np.uint8), shadows
