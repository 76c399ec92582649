"""A bed of plants behind the panes of the glasshouse, with the garden mirrored in the glass."""

from __future__ import annotations

import facade
import garden
import numpy as np
from glasshouse import flat, glazed
from mesh import Mesh, box, grid, join, lathe, smooth_noise, tube
from scene import Instanced, Scene

import studio

FRAME = (0.60, 0.59, 0.54)


def _back_wall() -> Mesh:
    """Whitewashed bricks."""
    random = np.random.default_rng(4)
    bricks = [box((0, 3.05, 1.7), (9, 0.1, 3.6), (0.42, 0.40, 0.36))]
    for course, z in enumerate(np.arange(0.0, 3.4, 0.075)):
        for x in np.arange(-4 + (0.1125 if course % 2 else 0), 4, 0.225):
            tone = np.array([0.56, 0.54, 0.49]) * random.uniform(0.86, 1.06)
            bricks.append(box((x, 3.0, z + 0.035), (0.214, 0.03 + random.uniform(0, 0.006), 0.066), tone))
    return join(bricks)


def _bed() -> list[Mesh]:
    xs, ys = np.linspace(-4, 4, 240), np.linspace(0.25, 2.7, 90)
    x, y = np.meshgrid(xs, ys, indexing="ij")
    points = np.stack([x.ravel(), y.ravel(), np.zeros(x.size)], 1)
    lumps = smooth_noise(points[:, :2], 0.08, 4) + 0.5 * smooth_noise(points[:, :2], 0.03, 5)
    points[:, 2] = 0.55 + 0.03 * lumps
    soil = grid(points.reshape(240, 90, 3),
                (np.array([0.070, 0.048, 0.032]) * (1 + 0.3 * lumps)[:, None]).clip(0.01).reshape(240, 90, 3))  # fmt: skip
    kerb = box((0, 0.2, 0.3), (8, 0.12, 0.62), (0.40, 0.38, 0.34))
    pots = []
    for k, (px, py, size) in enumerate(
        [(-1.45, 0.8, 1.5), (-0.75, 1.35, 1.8), (0.1, 0.75, 1.35), (0.75, 1.5, 2.1), (1.5, 0.9, 1.45), (-0.2, 2.1, 2.3),
         (-2.2, 1.6, 2.0), (2.3, 1.7, 1.9)]
    ):  # fmt: skip
        plant = studio.pot_and_plant(20 + k)
        pots.append(plant.scaled((size, size, size)).moved((px, py, 0.50 - 0.12 * size)))
    can = lathe(np.array([[0, 0], [0.13, 0], [0.12, 0.26], [0.10, 0.27], [0, 0.26]]), (0.25, 0.28, 0.28))
    spout = tube(
        np.array([[0.11, 0, 0.06], [0.24, 0, 0.20], [0.33, 0, 0.30]]), [0.022, 0.017, 0.03], (0.25, 0.28, 0.28)
    )
    handle_turn = np.linspace(0.2, np.pi - 0.2, 20)
    handle = tube(np.stack([0.13 * np.cos(handle_turn), 0 * handle_turn, 0.25 + 0.12 * np.sin(handle_turn)], 1), 0.010,
                  (0.22, 0.25, 0.25))  # fmt: skip
    return [soil, kerb, *pots, join([can, spout, handle]).turned(200).moved((0.72, 0.55, 0.58))]


def _behind_the_camera() -> list[Mesh]:
    """What the glass mirrors: a light wall with windows, and the tripod beside the photographer."""
    wall = [
        box((5.5, -13.0, 2.2), (6.0, 0.3, 4.4), (0.62, 0.58, 0.50)),
        box((5.5, -13.1, 4.7), (6.6, 1.2, 0.3), (0.20, 0.12, 0.09)),
    ]
    for x in (3.6, 5.5, 7.4):
        wall.append(box((x, -12.83, 2.3), (1.0, 0.08, 1.6), (0.05, 0.06, 0.07)))
        wall += [box((x + d, -12.78, 2.3), (0.06, 0.06, 1.6), (0.7, 0.7, 0.66)) for d in (-0.5, 0, 0.5)]
        wall += [box((x, -12.78, z), (1.0, 0.06, 0.06), (0.7, 0.7, 0.66)) for z in (1.5, 2.3, 3.1)]
    legs = [tube(np.array([[0, 0, 1.3], [0.5 * np.cos(a), 0.5 * np.sin(a), 0]]), 0.016, (0.02, 0.02, 0.02))
            for a in (0.4, 2.5, 4.6)]  # fmt: skip
    camera = [box((0, 0, 1.42), (0.16, 0.10, 0.11), (0.015, 0.015, 0.015))]
    return [*wall, join([*legs, *camera]).moved((-0.62, -3.1, 0))]


def through_the_pane() -> Scene:
    random = np.random.default_rng(19)
    bars, panes = glazed(flat((-2.55, 0.0, 0.62), (5.1, 0, 0), (0, 0, 2.0)), 2, 6, 0.05, random, heavy=3)
    plain = [box((0, 0, 0.3), (6, 0.24, 0.62), (0.40, 0.37, 0.32)), box((0, -0.03, 0.64), (6, 0.2, 0.06), FRAME)]
    lawn = box((0, -25, -0.05), (80, 36, 0.1), (0.08, 0.12, 0.04))
    terrace = box((0, -3.6, -0.05), (30, 7, 0.1), (0.13, 0.12, 0.105))
    behind = [Instanced(i.mesh, [(x * 1.1, -1.3 * y - 16.0, z, s, t) for x, y, z, s, t in i.places])
              for i in facade.trees_and_shrubs()[:-1]]  # fmt: skip
    foliage = garden.crown(71, 5_000, (0.5, 0.4, 0.5), (0.07, 0.12, 0.035))
    inside = [(x, 2.55, 1.0 + 0.3 * np.sin(5 * x), 1.0, 90 * x) for x in np.arange(-3, 3.2, 0.62)]
    return Scene(
        name="ov-0446", size=(2100, 1400), samples=3, camera=(0.25, -2.75, 1.62), look=(0.0, 0.0, 1.52), fov=50,
        exposure=1.25, sun=(-0.45, -0.40, 0.85), sun_strength=3.6,
        solid=[bars, *plain, *_bed(), _back_wall(), lawn, terrace, *_behind_the_camera()],
        glass=panes, index=1.85, reflection=True, instanced=[Instanced(foliage, inside), *behind], distractions=[],
        focus=3.6, aperture=0.004, exif=("1/125", 8.0, 200),
    )  # fmt: skip
