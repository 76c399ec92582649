"""Visitors from behind: capsules melted into garments, meshed by marching cubes."""

from __future__ import annotations

import numpy as np
from mesh import Mesh, join, smooth_noise
from skimage.measure import marching_cubes


def _capsule(points, a, b, ra, rb):
    a, b = np.asarray(a, float), np.asarray(b, float)
    d = b - a
    t = np.clip(((points - a) @ d) / (d @ d), 0, 1)
    return np.linalg.norm(points - a - t[..., None] * d, axis=-1) - (ra + (rb - ra) * t)


def _melt(distances, k):
    return -k * np.log(sum(np.exp(-d / k) for d in distances))


def garment(
    capsules, colour, fold: float, seed: int, k: float = 0.025, cut=None, step: float = 0.013, pattern=None
) -> Mesh:
    """capsules: (a, b, radius at a, radius at b) in metres; cut (z below, z above) trims it flat."""
    ends = np.array([[*c[0]] for c in capsules] + [[*c[1]] for c in capsules], float)
    reach = max(max(c[2], c[3]) for c in capsules) + 0.05
    low, high = ends.min(0) - reach, ends.max(0) + reach
    axes = [np.arange(lo, hi, step) for lo, hi in zip(low, high, strict=True)]
    points = np.stack(np.meshgrid(*axes, indexing="ij"), -1)
    field = _melt([_capsule(points, *c) for c in capsules], k)
    if fold:
        flat = points.reshape(-1, 3) * [1, 1, 0.45]
        field = field + fold * smooth_noise(flat, 0.10, seed).reshape(field.shape)
    if cut:
        field = np.maximum(field, np.maximum(cut[0] - points[..., 2], points[..., 2] - cut[1]))
    vertices, faces, _, _ = marching_cubes(field, 0.0, spacing=(step,) * 3)
    vertices = vertices + low
    colours = np.broadcast_to(np.asarray(colour, float), vertices.shape).copy()
    if pattern is not None:
        colours = pattern(vertices, colours)
    return Mesh(vertices, faces[:, ::-1], colours)


def stripes(first, second, period):
    def pattern(vertices, colours):
        on = np.sin(vertices[:, 2] / period * 2 * np.pi) > 0.1
        return np.where(on[:, None], first, second)

    return pattern


def visitor(
    seed: int,
    height: float = 1.74,
    top=(0.5, 0.5, 0.52),
    legs=(0.30, 0.25, 0.18),
    hair=(0.05, 0.03, 0.02),
    striped=None,
    dress: bool = False,
    bag=None,
    hat=None,
    stride: float = 0.5,
) -> Mesh:
    """A person in mid-stride seen from behind, walking along +y, feet on z = 0."""
    s = height / 1.74
    skin = (0.42, 0.26, 0.18)
    f, b = 0.24 * stride, -0.26 * stride
    lift = 0.10 * stride
    pieces = [
        garment(
            [
                ((-0.09, 0.0, 0.90), (-0.10, f * 0.6, 0.50), 0.085, 0.065),
                ((-0.10, f * 0.6, 0.50), (-0.10, f, 0.10), 0.062, 0.05),
                ((0.09, 0.0, 0.90), (0.10, b * 0.3, 0.50), 0.085, 0.065),
                ((0.10, b * 0.3, 0.50), (0.10, b * 1.5, 0.12 + lift), 0.062, 0.05),
                ((-0.08, 0, 0.93), (0.08, 0, 0.93), 0.11, 0.11),
            ],
            skin if dress else legs,
            0.0 if dress else 0.006,
            seed,
            cut=(0.09, 1.02),
        ),
        garment(
            [((-0.10, f - 0.03, 0.05), (-0.11, f + 0.17, 0.035), 0.05, 0.04)],
            (0.06, 0.05, 0.05),
            0,
            seed,
            cut=(0.0, 0.12),
        ),
        garment(
            [((0.10, b * 1.5 - 0.03, 0.06 + lift), (0.11, b * 1.5 + 0.13, 0.02 + lift * 0.3), 0.05, 0.04)],
            (0.06, 0.05, 0.05),
            0,
            seed,
        ),
        garment([((0, -0.01, 1.44), (0, 0.02, 1.56), 0.055, 0.05)], skin, 0, seed),
        garment([((0, 0.03, 1.62), (0, 0.03, 1.66), 0.098, 0.105)], skin, 0, seed),
        garment(
            [
                ((0, 0.00, 1.58 if dress else 1.62), (0, 0.01, 1.69), 0.10, 0.108),
                *([((0, -0.05, 1.42), (0, -0.03, 1.6), 0.07, 0.1)] if dress else []),
            ],
            hair,
            0.006,
            seed,
        ),
    ]
    torso = [
        ((-0.13, 0, 1.38), (0.13, 0, 1.38), 0.085, 0.085),
        ((-0.09, 0, 1.0), (-0.11, 0, 1.32), 0.11, 0.12),
        ((0.09, 0, 1.0), (0.11, 0, 1.32), 0.11, 0.12),
    ]
    arms = [
        ((-0.20, 0, 1.38), (-0.25, -0.07 * stride, 1.12), 0.06, 0.05),
        ((0.20, 0, 1.38), (0.25, 0.09 * stride, 1.12), 0.06, 0.05),
    ]
    if dress:
        torso += [
            ((-0.08, 0, 1.0), (-0.17, 0.02, 0.52), 0.12, 0.14),
            ((0.08, 0, 1.0), (0.17, 0, 0.52), 0.12, 0.14),
            ((0, 0, 1.0), (0, -0.05, 0.52), 0.12, 0.17),
        ]
    pattern = stripes(*striped, 0.085) if striped else None
    pieces.append(
        garment(torso + arms, top, 0.008, seed + 1, k=0.03, cut=(0.50 if dress else 0.90, 1.6), pattern=pattern)
    )
    pieces.append(
        garment(
            [
                ((-0.25, -0.07 * stride, 1.12), (-0.24, 0.05 + 0.1 * stride, 0.88), 0.042, 0.034),
                ((0.25, 0.09 * stride, 1.12), (0.24, 0.2 * stride, 0.9), 0.042, 0.034),
            ],
            skin,
            0,
            seed,
        )
    )
    if bag is not None:
        pieces.append(
            garment(
                [
                    ((-0.09, -0.19, 1.08), (-0.09, -0.18, 1.34), 0.09, 0.085),
                    ((0.09, -0.19, 1.08), (0.09, -0.18, 1.34), 0.09, 0.085),
                ],
                bag,
                0.004,
                seed + 2,
                k=0.05,
            )
        )
        pieces.append(
            garment([((-0.05, -0.29, 1.10), (0.05, -0.29, 1.10), 0.05, 0.05)], np.asarray(bag) * 0.7, 0, seed)
        )
    if hat is not None:
        t = garment([((0, 0.02, 1.70), (0, 0.02, 1.78), 0.115, 0.10)], hat, 0.002, seed, cut=(1.69, 1.9))
        brim = garment(
            [((0, 0.02, 1.70), (0, 0.02, 1.701), 0.20, 0.20)], hat, 0.004, seed, cut=(1.695, 1.715), step=0.008
        )
        pieces += [t, brim]
    return join(pieces).scaled((s, s, s))
