"""Sky and sun."""

from __future__ import annotations

import numpy as np


def _octaves(points: np.ndarray, seed: int, octaves: int = 6) -> np.ndarray:
    random = np.random.default_rng(seed)
    total, weight = np.zeros(len(points)), 0.0
    for octave in range(octaves):
        for _ in range(7):
            direction = random.normal(0, 1, points.shape[1]) * 2.0**octave
            total += np.sin(points @ direction + random.uniform(0, 6.28)) / 1.9**octave
        weight += 1.0 / 1.9**octave
    return total / (weight * 3)


def sky(sun: np.ndarray, width: int = 2048, seed: int = 8) -> np.ndarray:
    """An equirectangular picture (width / 2, width, 3) of radiance, y up: blue with lit fractal clouds."""
    height = width // 2
    theta = (np.arange(height) + 0.5) / height * np.pi
    phi = (np.arange(width) + 0.5) / width * 2 * np.pi
    t, p = np.meshgrid(theta, phi, indexing="ij")
    # Directions in the world, z up, for Mitsuba's map turned by 90 degrees round x.
    d = np.stack([np.sin(t) * np.sin(p), np.sin(t) * np.cos(p), np.cos(t)], -1)
    up = np.clip(d[..., 2], 0, 1)[..., None]
    blue = np.array([0.30, 0.50, 0.90]) * (1 - up) ** 1.0 * 0.55 + np.array([0.13, 0.30, 0.75]) * up * 1.1
    haze = np.array([0.80, 0.84, 0.90]) * np.exp(-up * 7)
    colour = blue + haze * 0.75
    plane = (d[..., :2] / (up + 0.22)).reshape(-1, 2)
    warp = np.stack([_octaves(plane * 0.9, seed + 1), _octaves(plane * 0.9, seed + 2)], 1)
    density = _octaves(plane * 0.8 + 0.5 * warp, seed).reshape(height, width)
    towards = (plane + 0.10 * sun[:2] / max(sun[2], 0.2)).reshape(-1, 2)
    ahead = _octaves(towards * 0.8 + 0.5 * warp, seed).reshape(height, width)
    cover = np.clip((density - 0.10) / 0.30, 0, 1)[..., None] ** 0.8
    lit = np.clip(0.75 + 2.2 * (density - ahead), 0.45, 1.25)[..., None]
    cloud = np.array([1.05, 1.02, 0.98]) * lit
    colour = colour * (1 - 0.92 * cover) + cloud * cover * 0.92
    below = d[..., 2] < 0
    colour[below] = np.array([0.13, 0.16, 0.07])
    return colour.astype(np.float32)


def with_sun(sky: np.ndarray, sun: np.ndarray, irradiance: np.ndarray, spread: float) -> np.ndarray:
    """The sky with the sun in it: a soft disc of spread radians that gives the irradiance (3,) on a facing plane."""
    height, width = sky.shape[:2]
    theta, phi = (np.arange(height) + 0.5) / height * np.pi, (np.arange(width) + 0.5) / width * 2 * np.pi
    t, p = np.meshgrid(theta, phi, indexing="ij")
    d = np.stack([np.sin(t) * np.sin(p), np.sin(t) * np.cos(p), np.cos(t)], -1)
    away = np.arccos(np.clip(d @ sun, -1, 1))
    disc = np.exp(-0.5 * (away / spread) ** 2) * (away < 4 * spread)
    solid = np.sin(t) * (np.pi / height) * (2 * np.pi / width)
    return (sky + disc[..., None] / (disc * solid).sum() * irradiance).astype(np.float32)
