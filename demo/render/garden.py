"""The garden of Orrin Vale: lawn with mowing stripes, gravel path, trees, hedges, flowers."""

from __future__ import annotations

import numpy as np
from mesh import Mesh, box, grid, join, lathe, leaves, paint, smooth_noise, tube


def path_centre(y: np.ndarray) -> np.ndarray:
    """Where the middle of the path runs, x for each y; it leads to the door at (1.5, 0)."""
    t = np.clip(-y / 26.0, 0.0, 1.4)
    return 1.5 + 4.6 * t**1.7


PATH_HALF = 1.55


def on_path(x: np.ndarray, y: np.ndarray, extra: float = 0.0) -> np.ndarray:
    return np.abs(x - path_centre(y)) < PATH_HALF + extra


def ground() -> Mesh:
    """Earth below the grass and gravel below the pebbles."""
    xs = np.concatenate([np.linspace(-90, -25, 30)[:-1], np.linspace(-25, 30, 500), np.linspace(30, 90, 30)[1:]])
    ys = np.concatenate([np.linspace(-40, -26, 40)[:-1], np.linspace(-26, 3, 500), np.linspace(3, 90, 40)[1:]])
    x, y = np.meshgrid(xs, ys, indexing="ij")
    flat = np.stack([x.ravel(), y.ravel()], 1)
    noise = smooth_noise(flat, 0.35, 3)
    coarse = smooth_noise(flat, 3.0, 4)
    gravel = on_path(flat[:, 0], flat[:, 1])
    colours = np.where(
        gravel[:, None],
        np.array([0.46, 0.40, 0.31]) * (1 + 0.10 * noise + 0.10 * coarse)[:, None],
        np.array([0.060, 0.095, 0.025]) * (1 + 0.25 * noise)[:, None],
    )
    z = np.where(gravel, 0.012 * noise, -0.02)
    points = np.stack([flat[:, 0], flat[:, 1], z], 1).reshape(len(xs), len(ys), 3)
    return grid(points, np.clip(colours, 0.01, 1).reshape(len(xs), len(ys), 3))


def lawn(camera: np.ndarray, look: np.ndarray, blades: int, seed: int = 1) -> Mesh:
    """Grass in front of the camera, dense near and sparse far, one bent triangle pair a blade."""
    random = np.random.default_rng(seed)
    heading = np.arctan2(look[1] - camera[1], look[0] - camera[0])
    angle = heading + random.uniform(-0.62, 0.62, blades)
    distance = np.exp(random.uniform(np.log(2.2), np.log(42), blades))
    x, y = camera[0] + distance * np.cos(angle), camera[1] + distance * np.sin(angle)
    keep = ~on_path(x, y, 0.10) & (y < -0.9) & (np.abs(x) < 45)
    x, y, distance = x[keep], y[keep], distance[keep]
    n = len(x)
    flat = np.stack([x, y], 1)
    tuft = smooth_noise(flat, 0.25, 5)
    patchy = smooth_noise(flat, 2.5, 6)
    stripe = np.sign(np.sin((x - path_centre(y)) / 1.15 * np.pi))
    height = 0.045 * (1 + 0.35 * tuft) * random.uniform(0.6, 1.3, n) * (1 + 0.05 * distance / 10)
    width = 0.0045 * (1 + distance / 6.0)
    # The mower lays the grass over along the path, away and towards in turn.
    lean = random.normal(0, 0.4, (n, 2)) + np.stack([np.zeros(n), stripe * 0.55], 1)
    base = np.stack([x, y, np.full(n, -0.01)], 1)
    tip = base + np.stack([lean[:, 0] * height, lean[:, 1] * height, height], 1)
    side = random.uniform(0, np.pi, n)
    across = np.stack([np.cos(side), np.sin(side), np.zeros(n)], 1) * width[:, None]
    vertices = np.stack([base - across, base + across, tip], 1).reshape(-1, 3)
    faces = np.arange(3 * n).reshape(-1, 3)
    dry = random.random(n) < 0.11
    colour = np.array([0.115, 0.180, 0.042]) * (1 + 0.30 * patchy + 0.09 * stripe + random.normal(0, 0.18, n))[:, None]
    colour[dry] = np.array([0.34, 0.30, 0.13]) * random.uniform(0.6, 1.1, (dry.sum(), 1))
    return Mesh(vertices, faces, np.clip(np.repeat(colour, 3, axis=0), 0.01, 0.9))


def pebbles(camera: np.ndarray, count: int, seed: int = 2, until: float = -0.3, middle=path_centre, half=None) -> Mesh:
    """Gravel on a path: flattened stones with a colour each, dense near the camera."""
    random = np.random.default_rng(seed)
    y = camera[1] + np.exp(random.uniform(np.log(0.8), np.log(24), count))
    reach = PATH_HALF if half is None else half(y)
    x = middle(y) + random.uniform(-1, 1, count) * reach
    keep = y < until
    x, y = x[keep], y[keep]
    n = len(x)
    corners = np.array([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1]], float)
    size = random.lognormal(np.log(0.011), 0.35, (n, 1, 1)) * (1 + (y - camera[1]) / 14)[:, None, None]
    turn = random.uniform(0, 6.28, n)
    c, s = np.cos(turn)[:, None], np.sin(turn)[:, None]
    shape = corners[None] * size * random.uniform(0.6, 1.2, (n, 1, 3)) * [1, 1, 0.7]
    vertices = np.stack(
        [shape[..., 0] * c - shape[..., 1] * s, shape[..., 0] * s + shape[..., 1] * c, shape[..., 2]], -1
    )
    vertices += np.stack([x, y, np.full(n, 0.006)], 1)[:, None]
    faces = np.array([[0, 2, 4], [2, 1, 4], [1, 3, 4], [3, 0, 4]])
    faces = (np.arange(n)[:, None, None] * 5 + faces[None]).reshape(-1, 3)
    tone = np.array([[0.52, 0.46, 0.37], [0.40, 0.36, 0.30], [0.60, 0.54, 0.45], [0.34, 0.27, 0.20]])
    colours = tone[random.integers(0, 4, n)] * random.uniform(0.75, 1.15, (n, 1))
    return Mesh(vertices.reshape(-1, 3), faces, np.clip(np.repeat(colours, 5, axis=0), 0.02, 0.9))


def edging() -> Mesh:
    """Bricks on both sides of the path, each a little out of line."""
    random = np.random.default_rng(11)
    bricks = []
    for side in (-1, 1):
        for y in np.arange(-24, -0.5, 0.235):
            x = path_centre(np.array(y)) + side * (PATH_HALF + 0.05)
            tone = np.array([0.36, 0.15, 0.09]) * random.uniform(0.7, 1.2)
            slope = float(np.degrees(np.arctan(path_centre(np.array(y)) - path_centre(np.array(y + 1)))))
            brick = box((0, 0, 0.02), (0.10, 0.22, 0.07 + random.normal(0, 0.006)), tone)
            bricks.append(brick.turned(slope + random.normal(0, 2)).moved((x, y, random.normal(0, 0.004))))
    return join(bricks)


def crown(seed: int, leaf_count: int, spread=(2.6, 2.6, 3.2), tone=(0.075, 0.135, 0.03)) -> Mesh:
    """The leaves of a tree: several clumps on noise, with gaps where the sky shows through."""
    random = np.random.default_rng(seed)
    clumps = random.normal(0, 1, (22, 3))
    clumps *= random.uniform(0.35, 1.0, (22, 1)) / np.linalg.norm(clumps, axis=1, keepdims=True)
    clumps[:, 2] = clumps[:, 2] * 0.8 + 0.2
    sizes = random.uniform(0.22, 0.50, 22)
    pick = random.choice(22, leaf_count, p=sizes**2 / (sizes**2).sum())
    direction = random.normal(0, 1, (leaf_count, 3))
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    shell = sizes[pick, None] * random.beta(5, 1.6, (leaf_count, 1))
    centres = (clumps[pick] + direction * shell) * np.asarray(spread)
    centres += 0.12 * np.stack([smooth_noise(centres, 0.5, seed + k) for k in range(3)], 1)
    colours = np.asarray(tone) * random.lognormal(0, 0.22, (leaf_count, 1)) * (0.8 + 0.5 * random.random((22, 1))[pick])
    return leaves(centres, random.uniform(0.06, 0.12, leaf_count), direction, np.clip(colours, 0.01, 0.8), random)


def trunk(height: float, seed: int) -> Mesh:
    random = np.random.default_rng(seed)
    t = np.linspace(0, 1, 8)
    path = np.stack([0.15 * np.sin(3 * t + seed), 0.12 * np.cos(2 * t), t * height], 1)
    body = tube(path, 0.22 * (1 - 0.6 * t), (0.12, 0.09, 0.06), 10)
    twigs = [
        tube(
            np.stack([path[5], path[5] + random.normal(0, 1, 3) * [0.5, 0.5, 0.3] + [0, 0, 1.6]]),
            0.06,
            (0.12, 0.09, 0.06),
            6,
        )
        for _ in range(6)
    ]
    return join([body, *twigs])


def hedge(size, leaf_count: int, seed: int, tone=(0.045, 0.095, 0.022)) -> Mesh:
    """A clipped box of leaves, centre of its base at the origin."""
    random = np.random.default_rng(seed)
    size = np.asarray(size, float)
    u = random.uniform(-0.5, 0.5, (leaf_count, 3))
    face = random.integers(0, 5, leaf_count)
    facing = np.zeros((leaf_count, 3))
    for k, (axis, sign) in enumerate([(0, -1), (0, 1), (1, -1), (1, 1), (2, 1)]):
        u[face == k, axis] = sign * 0.5
        facing[face == k, axis] = sign
    centres = u * size + random.normal(0, 0.03, (leaf_count, 3)) + [0, 0, size[2] / 2]
    centres += facing * (0.06 * smooth_noise(centres, 0.5, seed))[:, None]
    colours = np.asarray(tone) * random.lognormal(0, 0.25, (leaf_count, 1))
    core = box((0, 0, size[2] / 2), size * 0.93, (0.015, 0.025, 0.008))
    return join(
        [core, leaves(centres, random.uniform(0.02, 0.045, leaf_count), facing, np.clip(colours, 0.01, 0.8), random)]
    )


def topiary(radius: float, leaf_count: int, seed: int) -> Mesh:
    random = np.random.default_rng(seed)
    direction = random.normal(0, 1, (leaf_count, 3))
    direction /= np.linalg.norm(direction, axis=1, keepdims=True)
    bump = 1 + 0.03 * smooth_noise(direction, 0.3, seed)
    centres = direction * (radius * bump * random.normal(1, 0.015, leaf_count))[:, None] + [0, 0, radius * 0.95]
    colours = np.array([0.045, 0.10, 0.022]) * random.lognormal(0, 0.25, (leaf_count, 1))
    t = np.linspace(0.05, np.pi - 0.05, 20)
    core = lathe(
        np.stack([radius * 0.94 * np.sin(t), radius * 0.95 - radius * 0.94 * np.cos(t)], 1), (0.012, 0.02, 0.006)
    )
    return join([core, leaves(centres, random.uniform(0.018, 0.036, leaf_count), direction, colours, random)])


def flower_strip(x0: float, x1: float, y: float, count: int, seed: int) -> Mesh:
    random = np.random.default_rng(seed)
    x = random.uniform(x0, x1, count)
    high = random.random(count) < 0.4
    centres = np.stack(
        [
            x,
            y + random.normal(0, 0.16, count),
            np.where(high, random.uniform(0.22, 0.36, count), random.uniform(0.03, 0.28, count)),
        ],
        1,
    )
    petals = np.array([[0.62, 0.20, 0.22], [0.66, 0.46, 0.16], [0.70, 0.62, 0.58], [0.45, 0.20, 0.42]])
    bed = petals[(np.floor((x - x0) / 0.9).astype(int) + random.integers(0, 2, count)) % 4]
    green = np.array([0.07, 0.14, 0.03]) * random.lognormal(0, 0.25, (count, 1))
    facing = np.tile([0.0, -0.4, 1.0], (count, 1))
    return leaves(centres, np.where(high, 0.035, 0.05), facing, np.where(high[:, None], bed, green), random)


def cables(a, b, sags, radius: float = 0.014) -> list[Mesh]:
    """Cables between two points (x, y, z), one for each sag in metres, a little apart."""
    wires = []
    for k, sag in enumerate(sags):
        t = np.linspace(0, 1, 200)[:, None]
        path = np.asarray(a, float) * (1 - t) + np.asarray(b, float) * t
        # A shallow catenary is a parabola to within its third order.
        path[:, 2] -= (4 * sag * t * (1 - t))[:, 0]
        path += [0, 0.35 * k, 0.42 * k]
        wires.append(tube(path, radius, (0.025, 0.025, 0.028), 8))
    return wires


def hose(seed: int = 5, start=(-8.2, -13.6)) -> Mesh:
    """A garden hose on the lawn, both ends in view."""
    t = np.linspace(0, 1, 600)
    x = start[0] + 6.4 * t + 0.30 * np.sin(11 * t + seed) + 0.06 * np.sin(37 * t)
    y = start[1] + 0.7 * np.sin(4.3 * t) + 0.30 * np.cos(13 * t) + 0.05 * np.sin(41 * t + 1)
    path = np.stack([x, y, 0.030 + 0.012 * np.sin(23 * t) ** 2], 1)
    end = path[-1] + (path[-1] - path[-6]) / np.linalg.norm(path[-1] - path[-6]) * np.array([[0.0], [0.05], [0.16]])
    brass = tube(end, [0.018, 0.020, 0.012], (0.45, 0.30, 0.08), 12)
    return join([tube(path, 0.0125, (0.035, 0.16, 0.075), 12), brass])


def crumpled_sheet(seed: int, size: float = 0.22) -> Mesh:
    """A sheet of paper that was crushed and let go: flat facets that meet in sharp folds."""
    random = np.random.default_rng(seed)
    u, v = np.meshgrid(np.linspace(-1, 1, 60), np.linspace(-1, 1, 60), indexing="ij")
    height = np.zeros_like(u)
    for _ in range(16):
        a, shift = random.uniform(0, np.pi), random.uniform(-0.7, 0.7)
        height += random.uniform(0.05, 0.22) * np.abs(u * np.cos(a) + v * np.sin(a) - shift)
    height -= height.min()
    curl = 1 - 0.22 * height
    points = np.stack([u * size * curl, v * size * 0.75 * curl, height * size * 0.30 + 0.02], -1)
    return grid(points, paint(points.reshape(-1, 3), (0.66, 0.65, 0.61)).reshape(60, 60, 3))


def paper_cup() -> Mesh:
    """A cup that was dropped, lying on its side."""
    cup = lathe(np.array([[0.0, 0.0], [0.030, 0.0], [0.043, 0.105], [0.046, 0.108], [0.041, 0.102], [0.0, 0.01]]),
                (0.62, 0.60, 0.55))  # fmt: skip
    band = (cup.vertices[:, 2] > 0.035) & (cup.vertices[:, 2] < 0.11)
    cup.colours[band] *= np.array([0.75, 0.45, 0.30])
    x, y, z = cup.vertices.T
    return Mesh(np.stack([z, y, 0.044 - x], 1), cup.faces, cup.colours)


def bench(at, turn: float) -> Mesh:
    """A garden seat of slats."""
    wood = np.array([0.20, 0.13, 0.075])
    slats = [box((0, 0.10 * k, 0.44), (1.5, 0.08, 0.03), wood * (0.9 + 0.06 * k)) for k in range(5)]
    back = [box((0, 0.46, 0.60 + 0.12 * k), (1.5, 0.03, 0.09), wood * (1.1 - 0.06 * k)) for k in range(3)]
    feet = [box((x, y, 0.22 if y < 0.4 else 0.45), (0.06, 0.06, 0.44 if y < 0.4 else 0.9), wood * 0.8)
            for x in (-0.68, 0.68) for y in (0.0, 0.44)]  # fmt: skip
    return join([*slats, *back, *feet]).turned(turn).moved(at)
