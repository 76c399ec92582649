"""Pictures with drawn wires, dust and reflections: the truth of the scouts' figures. None of it trains anything."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
from scipy import ndimage

from keen_sweep.core.arrays import Bools, Doubles, EightBit
from keen_sweep.core.scout.specks import Speck

# Places that are tried for specks before a picture counts as full.
MAX_TRIES = 2_000
# Middle, diameter in pixels, and the share of light that is lost.
Dust = tuple[float, float, float, float]


def sky(seed: int, height: int = 700, width: int = 1000) -> EightBit:
    """A made-up sky (height, width, 3) with a gradient, soft cloud and grain."""
    random = np.random.default_rng(seed)
    down = np.linspace(0, 1, height)[:, None, None]
    clear = np.array([110.0, 150.0, 205.0]) * (1 - down) + np.array([190.0, 205.0, 220.0]) * down
    cloud = ndimage.gaussian_filter(random.normal(size=(height, width)), 60)
    cloud = cloud / np.abs(cloud).max() * 18
    grain = ndimage.gaussian_filter(random.normal(size=(height, width, 3)), (0.7, 0.7, 0)) * 3
    return np.asarray((clear + cloud[..., None] + grain).clip(0, 255).astype(np.uint8))


def with_dust(picture: EightBit, seed: int, count: int = 24) -> tuple[EightBit, list[Dust]]:
    """A picture (H, W, 3) with soft discs of 6 to 40 px that take 4 to 40 % of the light, apart from each other; fewer
    where there is no room for so many."""
    random = np.random.default_rng(seed)
    height, width = picture.shape[:2]
    drawn: list[Dust] = []
    shade = np.ones((height, width))
    yy, xx = np.mgrid[0:height, 0:width] + 0.5
    for _ in range(MAX_TRIES):
        if len(drawn) == count:
            break
        x, y = random.uniform(60, width - 60), random.uniform(60, height - 60)
        if any(np.hypot(x - a, y - b) < 90 for a, b, *_ in drawn):
            continue
        diameter = float(np.exp(random.uniform(np.log(6), np.log(40))))
        depth = float(np.exp(random.uniform(-3.2, -0.9)))
        shade *= 1 - depth * np.clip((diameter / 2 - np.hypot(xx - x, yy - y)) / (0.25 * diameter) + 0.5, 0, 1)
        drawn.append((x, y, diameter, depth))
    return (picture * shade[..., None]).clip(0, 255).astype(np.uint8), drawn


def dust_hits(found: Sequence[Speck], drawn: Sequence[Dust]) -> list[bool]:
    """Which of the drawn specks were found."""
    return [any(np.hypot(s.x - x, s.y - y) < max(0.6 * d, 4) for s in found) for x, y, d, _ in drawn]


def reflected(picture: EightBit, other: EightBit, share: float) -> EightBit:
    """A picture (H, W, 3) behind glass that reflects a share of another one's light, out of focus."""
    image = cv2.resize(other, picture.shape[1::-1]).astype(np.float64)
    soft = cv2.GaussianBlur(image, (0, 0), max(picture.shape) / 120)
    return (picture + share * soft).clip(0, 255).astype(np.uint8)


def with_wires(picture: EightBit, seed: int) -> tuple[EightBit, Bools]:
    """A picture (H, W, 3) with one to three wires of 2 to 8 px at 10 to 60 % contrast, and where they are, (H, W)."""
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


def _line(points: Doubles, thick: float, shape: tuple[int, int]) -> Doubles:
    """Coverage of a line of any width: distance to its middle, soft over one pixel."""
    canvas = np.full(shape, 255, np.uint8)
    fixed = np.rint(points * 16).astype(np.int32).reshape(-1, 1, 2)
    cv2.polylines(canvas, [fixed], False, 0, 1, cv2.LINE_8, 4)
    away = np.asarray(cv2.distanceTransform(canvas, cv2.DIST_L2, 5), np.float64)
    return np.clip(thick / 2 - away + 0.5, 0, 1)
