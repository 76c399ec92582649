"""Visitors from behind: capsules melted into garments, meshed by marching cubes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from mesh import Mesh, join, smooth_noise, tube
from skimage.measure import marching_cubes


def _capsule(points, a, b, ra, rb):
    a, b = np.asarray(a, float), np.asarray(b, float)
    d = b - a
    t = np.clip(((points - a) @ d) / (d @ d), 0, 1)
    return np.linalg.norm(points - a - t[..., None] * d, axis=-1) - (ra + (rb - ra) * t)


def _melt(distances, k):
    return -k * np.log(sum(np.exp(-d / k) for d in distances))


def garment(
    capsules, colour, fold: float, seed: int, k: float = 0.025, cut=None, step: float = 0.012, pattern=None
) -> Mesh:
    """capsules: (a, b, radius at a, radius at b) in metres; cut (z below, z above) trims it flat."""
    ends = np.array([[*c[0]] for c in capsules] + [[*c[1]] for c in capsules], float)
    reach = max(max(c[2], c[3]) for c in capsules) + 0.05
    low, high = ends.min(0) - reach, ends.max(0) + reach
    axes = [np.arange(lo, hi, step) for lo, hi in zip(low, high, strict=True)]
    points = np.stack(np.meshgrid(*axes, indexing="ij"), -1)
    field = _melt([_capsule(points, *c) for c in capsules], k)
    if fold:
        # Cloth hangs: its folds run downwards, with a few slanted creases across.
        hanging = points.reshape(-1, 3) * [1, 1, 0.35]
        creases = points.reshape(-1, 3) @ np.array([[1, 0, 0.6], [0, 1, 0.3], [0.2, 0, 1.1]])
        field = field + fold * smooth_noise(hanging, 0.10, seed).reshape(field.shape)
        field = field + 0.6 * fold * smooth_noise(creases, 0.07, seed + 50).reshape(field.shape)
    if cut:
        field = np.maximum(field, np.maximum(cut[0] - points[..., 2], points[..., 2] - cut[1]))
    vertices, faces, _, _ = marching_cubes(field, 0.0, spacing=(step,) * 3)
    vertices = vertices + low
    colours = np.broadcast_to(np.asarray(colour, float), vertices.shape).copy()
    colours *= (1 + 0.08 * smooth_noise(vertices, 0.02, seed + 9))[:, None]
    if pattern is not None:
        colours = pattern(vertices, colours)
    return Mesh(vertices, faces[:, ::-1], colours)


def stripes(first, second, period):
    def pattern(vertices, colours):
        on = np.sin(vertices[:, 2] / period * 2 * np.pi) > 0.1
        return np.where(on[:, None], first, second)

    return pattern


@dataclass
class Outfit:
    """What a visitor wears and carries; colours are linear reflectances."""

    top: tuple = (0.5, 0.5, 0.52)
    legs: tuple = (0.30, 0.25, 0.18)
    hair: tuple = (0.05, 0.03, 0.02)
    striped: tuple | None = None
    hem: float = 0.90
    skirt: float | None = None
    sleeve: float = 1.12
    long_hair: bool = False
    bag: tuple | None = None
    shoulder_bag: tuple | None = None
    hat: tuple | None = None


SKIN = (0.36, 0.22, 0.155)


def _legs(w: Outfit, f: float, b: float, lift: float, seed: int) -> list[Mesh]:
    """One leg in front, the other pushing off behind with its heel up."""
    bare = w.skirt is not None
    hip, knee, ankle = (0.082, 0.056, 0.040) if bare else (0.092, 0.074, 0.060)
    front = [
        ((-0.085, 0.0, 0.90), (-0.095, f * 0.62, 0.50), hip, knee),
        ((-0.095, f * 0.62, 0.50), (-0.095, f, 0.10), knee, ankle),
    ]
    back = [
        ((0.085, 0.0, 0.90), (0.095, b * 0.25, 0.50), hip, knee),
        ((0.095, b * 0.25, 0.50), (0.10, b * 1.45, 0.13 + lift), knee, ankle),
    ]
    seat = [((-0.07, -0.02, 0.93), (0.07, -0.02, 0.93), 0.115, 0.115)]
    colour, fold = (SKIN, 0.0) if bare else (w.legs, 0.009)
    shoe = (0.07, 0.055, 0.05)
    sole = (0.30, 0.29, 0.27)
    out = [
        garment(front + seat, colour, fold, seed, k=0.018, cut=(0.075, 1.02)),
        garment(back, colour, fold, seed + 1, k=0.018),
    ]
    for x, y, z, tip in ((-0.095, f - 0.03, 0.0, 0.0), (0.10, b * 1.45 - 0.03, lift + 0.02, -0.04 - 0.3 * lift)):
        body = [((x, y - 0.01, z + 0.055), (x, y + 0.17, z + 0.045 + tip), 0.046, 0.036)]
        out.append(garment(body, shoe, 0, seed, cut=(max(z - 0.06, 0.016), 1)))
        out.append(garment([((x, y - 0.015, z + 0.02), (x, y + 0.18, z + 0.015 + tip), 0.047, 0.04)], sole, 0, seed,
                           cut=(max(z - 0.06, 0.0), max(z + tip + 0.022, max(z - 0.06, 0.0) + 0.03))))  # fmt: skip
    return out


def _arms(w: Outfit, swing: float, seed: int) -> list[Mesh]:
    out = []
    for side, y in ((-1, -0.16 * swing), (1, 0.20 * swing)):
        shoulder, elbow = (side * 0.185, 0.0, 1.40), (side * 0.245, y * 0.55 - 0.02, 1.13)
        wrist = (side * 0.235, y + 0.05, 0.89)
        covered = w.sleeve < 1.0
        upper = [(shoulder, elbow, 0.062, 0.050)]
        lower = [(elbow, wrist, 0.050 if covered else 0.041, 0.042 if covered else 0.030)]
        sleeve = upper + (lower if covered else [])
        pattern = stripes(*w.striped, 0.085) if w.striped else None
        out.append(garment(sleeve, w.top, 0.008, seed + 3 + side, cut=(w.sleeve, 1.6), pattern=pattern))
        out.append(garment(upper + lower if not covered else lower, SKIN, 0, seed, cut=(0.8, w.sleeve + 0.01)))
        hand = [
            (wrist, (wrist[0], wrist[1] + 0.015, wrist[2] - 0.075), 0.030, 0.036),
            (
                (wrist[0], wrist[1] + 0.015, wrist[2] - 0.075),
                (wrist[0], wrist[1] + 0.03, wrist[2] - 0.15),
                0.034,
                0.020,
            ),
        ]
        out.append(garment(hand, SKIN, 0, seed, k=0.012))
    return out


def visitor(seed: int, height: float, wear: Outfit, stride: float = 1.0) -> Mesh:
    """A person in mid-stride seen from behind, walking along +y, feet on z = 0."""
    s = height / 1.74
    f, b = 0.24 * stride, -0.26 * stride
    pieces = _legs(wear, f, b, 0.10 * stride, seed) + _arms(wear, stride, seed)
    torso = [
        ((-0.15, 0, 1.405), (0.15, 0, 1.405), 0.058, 0.058),
        ((-0.11, -0.005, 1.28), (0.11, -0.005, 1.28), 0.098, 0.098),
        ((-0.10, -0.01, 1.10), (0.10, -0.01, 1.10), 0.100, 0.100),
        ((-0.09, 0, 0.95), (0.09, 0, 0.95), 0.108, 0.108),
        ((0, 0.0, 1.42), (0, 0.01, 1.47), 0.075, 0.058),
    ]
    low = wear.hem
    if wear.skirt is not None:
        low = wear.skirt
        torso += [
            ((-0.08, 0, 0.95), (-0.15, 0.03 + f * 0.4, low), 0.12, 0.14),
            ((0.08, 0, 0.95), (0.15, b * 0.3, low), 0.12, 0.14),
            ((0, 0, 0.95), (0, 0, low), 0.12, 0.17),
        ]
    pattern = stripes(*wear.striped, 0.085) if wear.striped else None
    pieces.append(garment(torso, wear.top, 0.009, seed + 1, k=0.05, cut=(low, 1.6), pattern=pattern))
    pieces.append(garment([((0, 0.0, 1.44), (0, 0.02, 1.56), 0.052, 0.050)], SKIN, 0, seed))
    head = [((0, 0.030, 1.60), (0, 0.030, 1.655), 0.078, 0.090), ((0, 0.06, 1.56), (0, 0.03, 1.64), 0.055, 0.08)]
    pieces.append(garment(head, SKIN, 0, seed, step=0.009))
    for side in (-1, 1):
        pieces.append(garment([((side * 0.086, 0.03, 1.60), (side * 0.09, 0.025, 1.635), 0.014, 0.020)], SKIN, 0, seed,
                              step=0.006))  # fmt: skip
    mop = [((0, 0.005, 1.60), (0, 0.020, 1.675), 0.080, 0.098), ((0, 0.05, 1.70), (0, 0.0, 1.68), 0.07, 0.085)]
    if wear.long_hair:
        mop += [((-0.03, -0.06, 1.40), (-0.02, -0.035, 1.62), 0.055, 0.09),
                ((0.03, -0.06, 1.38), (0.02, -0.035, 1.62), 0.05, 0.09)]  # fmt: skip
    pieces.append(_hair(mop, wear.hair, seed))
    if wear.bag is not None:
        pack = [((x, -0.19, 1.06), (x, -0.175, 1.36), 0.085, 0.075) for x in (-0.075, 0.0, 0.075)]
        pieces.append(garment(pack, wear.bag, 0.008, seed + 2, k=0.035))
        pocket = [((-0.06, -0.265, 1.10), (0.06, -0.265, 1.10), 0.055, 0.055)]
        pieces.append(garment(pocket, np.asarray(wear.bag) * 0.75, 0.004, seed, k=0.02))
        pieces.append(garment([((0, -0.20, 1.43), (0, -0.17, 1.46), 0.014, 0.014)], (0.03, 0.03, 0.03), 0, seed,
                              step=0.008))  # fmt: skip
    if wear.shoulder_bag is not None:
        pieces.append(garment([((0.27, -0.10, 0.92), (0.27, 0.10, 0.92), 0.10, 0.10),
                               ((0.27, -0.08, 0.80), (0.27, 0.08, 0.80), 0.08, 0.08)],
                              wear.shoulder_bag, 0.01, seed + 4, k=0.03, cut=(0.74, 0.98)))  # fmt: skip
        strap = np.array([[0.17, 0.02, 1.46], [0.24, 0.08, 1.30], [0.28, 0.09, 0.97]])
        pieces.append(tube(strap, 0.012, np.asarray(wear.shoulder_bag) * 0.6))
    if wear.hat is not None:
        crown = [((0, 0.02, 1.70), (0, 0.015, 1.765), 0.104, 0.088)]
        pieces.append(garment(crown, wear.hat, 0.003, seed, cut=(1.695, 1.9), step=0.009))
        brim = [((0, 0.02, 1.70), (0, 0.02, 1.701), 0.185, 0.185)]
        pieces.append(garment(brim, wear.hat, 0.006, seed, cut=(1.692, 1.712), step=0.008))
        band = [((0, 0.02, 1.70), (0, 0.02, 1.72), 0.107, 0.104)]
        pieces.append(garment(band, np.asarray(wear.hat) * 0.25, 0, seed, cut=(1.705, 1.735), step=0.007))
    return join(pieces).scaled((s, s, s))


def _hair(capsules, colour, seed: int) -> Mesh:
    """Hair: a cap with strands drawn as ridges that run downwards."""
    mesh = garment(capsules, colour, 0.005, seed, step=0.008)
    strands = smooth_noise(mesh.vertices * [1, 1, 0.12], 0.012, seed + 7)
    mesh.colours *= (1 + 0.35 * strands)[:, None]
    return mesh
