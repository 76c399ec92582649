"""The studio: a potted plant on a paper backdrop that is too narrow, with what it should have hidden."""

from __future__ import annotations

import numpy as np
from mesh import Mesh, box, grid, join, lathe, leaves, paint, smooth_noise, tube
from scene import Distraction, Lamp, Scene


def backdrop(width: float = 1.55) -> Mesh:
    """Paper from a roll: down the wall, round a curve, along the floor."""
    down = np.stack([np.full(40, 1.2), np.linspace(2.02, 0.5, 40)], 1)
    a = np.linspace(0, np.pi / 2, 40)
    curve = np.stack([1.2 - 0.5 + 0.5 * np.cos(a), 0.5 - 0.5 * np.sin(a)], 1)
    floor = np.stack([np.linspace(0.69, -1.6, 40), np.full(40, 0.0)], 1)
    profile = np.concatenate([down, curve, floor])
    x = np.linspace(-width / 2, width / 2, 60)
    points = np.empty((len(profile), len(x), 3))
    points[..., 0] = x
    points[..., 1] = profile[:, :1]
    points[..., 2] = profile[:, 1:] + 0.004
    wave = smooth_noise(points.reshape(-1, 3), 0.8, 21).reshape(len(profile), len(x)) * 0.006
    points[..., 1] += wave
    return grid(points, np.broadcast_to(np.array([0.62, 0.60, 0.56]), points.shape).copy())


def room() -> Mesh:
    random = np.random.default_rng(3)
    wall = box((0, 1.75, 1.5), (7, 0.05, 3.2), (0.44, 0.43, 0.40))
    side = box((-1.75, 0, 1.5), (0.05, 4, 3.2), (0.38, 0.37, 0.35))
    skirting = box((0, 1.71, 0.06), (7, 0.03, 0.12), (0.6, 0.59, 0.56))
    boards = [
        box((-3.2 + 0.14 * k, 0, -0.012), (0.136, 5, 0.02), np.array([0.23, 0.14, 0.075]) * random.uniform(0.75, 1.2))
        for k in range(48)
    ]
    return join([wall, side, skirting, *boards])


def pot_and_plant(seed: int, stems: int = 26, broad: float = 1.0, upright: float = 1.0) -> Mesh:
    """A clay pot with a plant of long leaves: how many, how broad, how upright."""
    random = np.random.default_rng(seed)
    clay = np.array([0.42, 0.19, 0.11]) * random.uniform(0.85, 1.1)
    profile = np.array(
        [
            [0.0, 0.01],
            [0.115, 0.01],
            [0.15, 0.22],
            [0.165, 0.22],
            [0.168, 0.275],
            [0.152, 0.275],
            [0.147, 0.245],
            [0.0, 0.245],
        ]
    )
    pot = lathe(profile, clay, 96)
    pot.colours *= (1 + 0.10 * smooth_noise(pot.vertices, 0.05, seed))[:, None]
    soil = lathe(np.array([[0.148, 0.24], [0.08, 0.25], [0.0, 0.253]]), (0.05, 0.035, 0.025))
    stalks, leaf_parts = [], []
    for _ in range(stems):
        turn, lean = random.uniform(0, 6.28), random.uniform(0.15, 0.95) / upright
        length = random.uniform(0.35, 0.75) * (1.15 - 0.4 * lean)
        t = np.linspace(0, 1, 14)
        r = 0.03 + lean * length * t**1.4
        z = 0.24 + length * t - 0.35 * lean * length * t**3
        path = np.stack([r * np.cos(turn), r * np.sin(turn), z], 1)
        stalks.append(tube(path, 0.006 * (1.2 - t), (0.10, 0.17, 0.05), 8))
        leaf_parts.append(_blade(path, random, broad))
    return join([pot, soil, *stalks, *leaf_parts])


def _blade(path, random, broad: float) -> Mesh:
    """A long leaf along the upper part of a stem, folded along its rib."""
    spine = path[5:]
    along = np.gradient(spine, axis=0)
    side = np.cross(along, [0, 0, 1.0])
    side /= np.linalg.norm(side, axis=1, keepdims=True) + 1e-9
    t = np.linspace(0, 1, len(spine))
    half = broad * random.uniform(0.035, 0.06) * np.sin(np.pi * np.clip(t * 0.97 + 0.03, 0, 1)) ** 0.8
    up = np.cross(side, along)
    up /= np.linalg.norm(up, axis=1, keepdims=True) + 1e-9
    rows = [spine + side * (half * k)[:, None] + up * (abs(k) * half * 0.5)[:, None] for k in (-1, -0.5, 0, 0.5, 1)]
    points = np.stack(rows, 1)
    tone = np.array([0.075, 0.17, 0.05]) * random.uniform(0.7, 1.35)
    colours = np.broadcast_to(tone, points.shape).copy()
    colours[:, 2] *= 1.5
    colours *= (1 + 0.12 * smooth_noise(points.reshape(-1, 3), 0.03, 5)).reshape(points.shape[:2])[..., None]
    return grid(points, colours)


def light_stand(x: float, y: float) -> Mesh:
    black = (0.025, 0.025, 0.027)
    legs = [
        tube(np.array([[0, 0, 0.55], [0.45 * np.cos(a), 0.45 * np.sin(a), 0.02]]), 0.011, black)
        for a in (0.3, 2.4, 4.5)
    ]
    column = tube(np.array([[0, 0, 0.4], [0, 0, 2.2]]), 0.015, black)
    knob = [tube(np.array([[0, 0, z], [0.05, 0, z]]), 0.02, (0.3, 0.3, 0.31)) for z in (0.6, 1.25)]
    return join([*legs, column, *knob]).moved((x, y, 0))


def _clamp(x: float) -> Mesh:
    """A spring clamp: two jaws that close on the bar, two grips that stand apart."""
    orange, black = (0.55, 0.17, 0.03), (0.03, 0.03, 0.03)
    parts = []
    for side in (-1, 1):
        jaw = np.array([[0, side * 0.05, -0.09], [0, side * 0.028, -0.02], [0, side * 0.012, 0.06]])
        parts.append(tube(jaw, [0.012, 0.016, 0.012], black, 8))
        grip = np.array([[0, side * 0.028, -0.02], [0, side * 0.06, -0.11]])
        parts.append(tube(grip, [0.013, 0.017], orange, 8))
    parts.append(tube(np.array([[-0.02, 0, 0.0], [0.02, 0, 0.0]]), 0.018, (0.4, 0.4, 0.4), 10))
    return join(parts).moved((x, 1.19, 1.95))


def clamps_and_tape(width: float = 1.55) -> list[Mesh]:
    crossbar = tube(np.array([[-1.3, 1.23, 2.0], [1.3, 1.23, 2.0]]), 0.02, (0.5, 0.5, 0.52))
    clamps = [_clamp(s * width * 0.47) for s in (-1, 1)]
    tape = [
        box((s * (width / 2 - 0.02), y, 0.008), (0.16, 0.05, 0.004), (0.08, 0.24, 0.42))
        for s, y in ((-1, -0.15), (1, -0.30), (1, 0.35))
    ]
    return [crossbar, *clamps, *tape]


def curled_cable() -> Mesh:
    t = np.linspace(0, 1, 300)
    x = 0.75 + 0.9 * t + 0.05 * np.sin(20 * t)
    y = -0.75 + 0.5 * t + 0.12 * np.cos(9 * t)
    return tube(np.stack([x, y, np.full_like(t, 0.012)], 1), 0.008, (0.03, 0.03, 0.03))


def spare_leaves(seed: int = 4) -> Mesh:
    """A few fallen leaves on the paper."""
    random = np.random.default_rng(seed)
    centres = np.stack([random.uniform(-0.5, 0.55, 5), random.uniform(-0.75, -0.3, 5), np.full(5, 0.02)], 1)
    mesh = leaves(centres, np.full(5, 0.035), np.tile([0, 0, 1.0], (5, 1)), paint(centres, (0.16, 0.17, 0.05)), random)
    return mesh


PLANTS = {
    1: {"stems": 26},
    2: {"stems": 16, "broad": 1.7},
    3: {"stems": 44, "broad": 0.5},
    4: {"stems": 20, "broad": 1.25, "upright": 1.7},
    5: {"stems": 34, "broad": 0.8, "upright": 1.25},
}


def potted_plant(number: int) -> Scene:
    """One of the series: the same set, another plant, the camera moved a little by hand."""
    random = np.random.default_rng(100 + number)
    dx, dz = random.normal(0, 0.03), random.normal(0, 0.02)
    plant = pot_and_plant(number + 4, **PLANTS[number]).turned(random.uniform(0, 360))
    bar, left, right, *tape = clamps_and_tape()
    distractions = [
        Distraction("light stand", "backdrop clutter", light_stand(1.22, 0.25)),
        Distraction("cross bar", "backdrop clutter", bar),
        Distraction("left clamp", "backdrop clutter", left),
        Distraction("right clamp", "backdrop clutter", right),
        *[Distraction(f"tape {k + 1}", "backdrop clutter", mesh) for k, mesh in enumerate(tape)],
        Distraction("cable on the floor", "wire", curled_cable()),
        Distraction("fallen leaves", "litter", spare_leaves(number)),
    ]
    return Scene(
        name=f"ov-052{number}", size=(1500, 1000), samples=5,
        camera=(0.10 + dx, -3.3 + random.normal(0, 0.04), 1.08 + dz), look=(0.02 + dx * 0.5, 0.3, 0.86 + dz), fov=51,
        exposure=0.92, solid=[backdrop(), room(), plant.moved((random.normal(0, 0.02), -0.35, 0.005))],
        distractions=distractions,
        lamps=[Lamp((-2.2, -2.4, 2.6), (0, 0, 0.6), 0.75, 17.0), Lamp((2.4, -2.8, 2.0), (0, 0, 0.5), 0.6, 5.0),
               Lamp((0, -1.0, 3.0), (0, 0, 0), 1.2, 2.2)],
        grain=0.009, focus=3.3, aperture=0.008, exif=("1/60", 8.0, 100),
    )  # fmt: skip
