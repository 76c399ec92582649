"""Dust on the sensor: soft dark specks at the same places in every frame of the camera."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass
class Speck:
    """x, y and diameter in pixels of a 2880 x 1920 frame; depth is the light lost in its middle, 0 to 1."""

    x: float
    y: float
    diameter: float
    depth: float


def specks(count: int = 20, seed: int = 412) -> list[Speck]:
    """Spread over the sensor, most of them in its upper part."""
    random = np.random.default_rng(seed)
    out: list[Speck] = []
    while len(out) < count:
        x, y = random.uniform(60, 2820), 60 + 1800 * random.beta(1.0, 1.7)
        diameter = float(np.exp(random.uniform(np.log(6), np.log(40))))
        if all(np.hypot(x - s.x, y - s.y) > 80 for s in out):
            depth = random.uniform(0.10, 0.24) if diameter < 16 else random.uniform(0.06, 0.15)
            out.append(Speck(round(x, 1), round(y, 1), round(diameter, 1), round(depth, 3)))
    return out


def veil(speck: Speck, size: tuple[int, int]) -> np.ndarray:
    """The share of light lost to a speck, (H, W): flat in the middle, a soft rim, nothing beyond its diameter."""
    width, height = size
    out = np.zeros((height, width), np.float32)
    half = int(speck.diameter) + 2
    x0, y0 = max(int(speck.x) - half, 0), max(int(speck.y) - half, 0)
    y, x = np.mgrid[y0 : min(y0 + 2 * half, height), x0 : min(x0 + 2 * half, width)]
    random = np.random.default_rng(int(speck.x))
    angle = np.arctan2(y + 0.5 - speck.y, x + 0.5 - speck.x)
    uneven = 1 + 0.10 * np.cos(2 * angle + random.uniform(0, 6)) + 0.06 * np.cos(3 * angle + random.uniform(0, 6))
    r = np.hypot(x + 0.5 - speck.x, y + 0.5 - speck.y) / (speck.diameter / 2 * uneven / 1.16)
    t = np.clip((1 - r) / 0.55, 0, 1)
    out[y0 : y0 + y.shape[0], x0 : x0 + x.shape[1]] = speck.depth * t * t * (3 - 2 * t)
    return out
