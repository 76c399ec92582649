"""A gravel path between clipped hedges, with visitors near and far."""

from __future__ import annotations

import facade
import garden
import numpy as np
import people
from mesh import Mesh, box, grid, join, lathe, smooth_noise
from people import Outfit
from scene import Distraction, Instanced, Scene

FIRST = 10.0  # where the hedges begin, metres from the camera's foot
HALF = 2.0


def _half(y):
    """The path opens into a square in front of the hedges."""
    return np.where(np.asarray(y) < FIRST - 0.4, 9.0, HALF)


def _ground() -> Mesh:
    xs = np.concatenate([np.linspace(-70, -9, 60)[:-1], np.linspace(-9, 9, 420), np.linspace(9, 70, 60)[1:]])
    ys = np.concatenate([np.linspace(-4, 16, 520)[:-1], np.linspace(16, 130, 420)])
    x, y = np.meshgrid(xs, ys, indexing="ij")
    flat = np.stack([x.ravel(), y.ravel()], 1)
    fine, coarse = smooth_noise(flat, 0.25, 3), smooth_noise(flat, 2.2, 4)
    rut = np.exp(-(((np.abs(flat[:, 0]) - 0.75) / 0.22) ** 2)) * (flat[:, 1] > FIRST - 1)
    leaf_litter = np.clip((np.abs(flat[:, 0]) - 1.35) / 0.6, 0, 1) * (flat[:, 1] > FIRST)
    gravel = np.array([0.40, 0.345, 0.265]) * (1 + 0.10 * fine + 0.14 * coarse - 0.16 * rut)[:, None]
    gravel = gravel * (1 - 0.35 * leaf_litter * (0.6 + 0.4 * coarse))[:, None]
    z = 0.010 * fine - 0.02 * rut
    points = np.stack([flat[:, 0], flat[:, 1], z], 1).reshape(len(xs), len(ys), 3)
    return grid(points, np.clip(gravel, 0.02, 1).reshape(len(xs), len(ys), 3))


def _urn() -> Mesh:
    stone = (0.40, 0.38, 0.33)
    profile = [[0, 0.6], [0.16, 0.6], [0.08, 0.68], [0.09, 0.75], [0.30, 0.95], [0.34, 1.12], [0.29, 1.14], [0.26, 1.0],
               [0, 0.98]]  # fmt: skip
    urn = lathe(np.array(profile), stone)
    urn.colours *= (1 + 0.14 * smooth_noise(urn.vertices, 0.08, 2))[:, None]
    return join([box((0, 0, 0.3), (0.46, 0.46, 0.6), stone), box((0, 0, 0.03), (0.58, 0.58, 0.06), stone), urn])


def _walkers() -> list[Distraction]:
    wear = {
        "visitor in grey": (41, 1.79, Outfit(top=(0.22, 0.23, 0.25), legs=(0.08, 0.10, 0.16), sleeve=0.92,
                                             hair=(0.06, 0.04, 0.03), bag=(0.10, 0.16, 0.13)), (-0.55, 7.7), 4),
        "visitor in cream": (43, 1.65, Outfit(top=(0.55, 0.50, 0.40), skirt=0.42, hair=(0.20, 0.11, 0.05),
                                              long_hair=True, shoulder_bag=(0.30, 0.10, 0.06)), (-0.10, 9.1), -6),
        "visitor at the edge": (45, 1.74, Outfit(top=(0.40, 0.17, 0.07), legs=(0.16, 0.14, 0.12), hem=0.78, sleeve=0.9,
                                                 hair=(0.30, 0.29, 0.27)), (4.88, 8.6), -38),
        "visitor in blue": (47, 1.76, Outfit(top=(0.08, 0.17, 0.32), legs=(0.30, 0.27, 0.22),
                                             hat=(0.45, 0.38, 0.25)), (0.85, 15.5), 5),
        "visitor in white": (49, 1.68, Outfit(top=(0.62, 0.60, 0.56), legs=(0.10, 0.11, 0.13)), (0.25, 27.0), -4),
        "far visitor": (51, 1.75, Outfit(top=(0.45, 0.12, 0.10), legs=(0.12, 0.13, 0.17)), (1.25, 49.0), 8),
    }  # fmt: skip
    out = []
    for name, (seed, height, outfit, (x, y), turn) in wear.items():
        figure = people.visitor(seed, height, outfit, stride=0.75 + 0.07 * (seed % 5))
        out.append(Distraction(name, "person", figure.turned(turn).moved((x, y, 0.012))))
    return out


def _beside(x: float, y: float, z: float, size: float, turn: float) -> tuple[float, float, float, float, float]:
    """Trees stand behind the hedges, or beyond the end of the path."""
    y = y + 2 if abs(x) > 9 else y + 74
    return x, y, z, size, turn


def hedge_path() -> Scene:
    camera = (0.35, 0.0, 1.60)
    random = np.random.default_rng(12)
    block = garden.hedge((1.3, 2.0, 2.15), 30_000, 5, (0.052, 0.092, 0.028))
    other = garden.hedge((1.3, 2.0, 2.15), 30_000, 6, (0.060, 0.096, 0.030))
    along = [(s * (HALF + 0.75), y, 0, 1.0, random.choice([0, 180])) for s in (-1, 1) for y in np.arange(11, 78, 1.97)]
    across = [(s * x, FIRST + 0.35, 0, 1.0, 90 + random.choice([0, 180])) for s in (-1, 1)
              for x in np.arange(HALF + 1.1, 20, 1.97)]  # fmt: skip
    order = random.permutation(len(along) + len(across))
    places = [(along + across)[k] for k in order]
    tuft = garden.crown(61, 900, (0.16, 0.16, 0.10), (0.09, 0.15, 0.04))
    verge = [(s * (HALF + random.normal(0.02, 0.05)), y, 0.02, random.uniform(0.5, 1.2), random.uniform(0, 360))
             for s in (-1, 1) for y in np.arange(FIRST, 60, 0.22)]  # fmt: skip
    trees = [Instanced(i.mesh, [_beside(*place) for place in i.places]) for i in facade.trees_and_shrubs()[:-1]]
    urns = [_urn().moved((s * (HALF + 0.15), FIRST - 0.9, 0)) for s in (-1, 1)]
    plants = [(s * (HALF + 0.15), FIRST - 0.9, 1.25, 1.3, 40 * s) for s in (-1, 1)]
    flowers = garden.crown(62, 5_000, (0.30, 0.30, 0.22), (0.12, 0.16, 0.05))
    return Scene(
        name="ov-0431", size=(2400, 1600), samples=3, camera=camera, look=(0.15, 20.0, 1.85), fov=58, exposure=1.10,
        sun=(-0.42, -0.50, 0.50),
        solid=[_ground(), garden.pebbles(np.array(camera), 220_000, 9, until=70, middle=lambda y: 0 * y, half=_half),
               *urns, garden.bench((-4.6, 9.0, 0.0), 180)],
        instanced=[Instanced(block, places[::2]), Instanced(other, places[1::2]), Instanced(tuft, verge),
                   Instanced(flowers, plants), *trees],
        distractions=_walkers(), focus=12.0, exif=("1/320", 8.0, 100),
    )  # fmt: skip
