"""The glasshouse: patches of glazing bars and panes, a hall with a barrel vault between two lower wings."""

from __future__ import annotations

import numpy as np
from mesh import Mesh, bar, box, join

WHITE = (0.74, 0.73, 0.69)
BRICK = np.array([0.34, 0.14, 0.085])


def glazed(patch, rows: int, columns: int, bar_width: float, random, heavy: int = 0) -> tuple[Mesh, Mesh]:
    """Bars and panes over patch(u, v) -> (..., 3), u and v in 0 to 1. Every heavy-th upright is thicker.

    Panes are tilted by a few thousandths, each its own way, so that reflections break up as they do.
    """
    us, vs = np.linspace(0, 1, columns + 1), np.linspace(0, 1, rows + 1)
    u, v = np.meshgrid(us, vs, indexing="ij")
    points = patch(u, v)
    bars = []
    for i in range(columns + 1):
        width = bar_width * (1.9 if heavy and i % heavy == 0 else 1.0)
        bars += [bar(points[i, j], points[i, j + 1], width, WHITE) for j in range(rows)]
    for j in range(rows + 1):
        width = bar_width * (1.6 if j in (0, rows) else 0.9)
        bars += [bar(points[i, j], points[i + 1, j], width, WHITE) for i in range(columns)]
    corners = np.stack([points[:-1, :-1], points[1:, :-1], points[1:, 1:], points[:-1, 1:]], 2).reshape(-1, 4, 3)
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 3] - corners[:, 0])
    normal /= np.linalg.norm(normal, axis=1, keepdims=True) + 1e-9
    tilt = random.normal(0, 0.004, (len(corners), 4, 1))
    corners = corners + normal[:, None] * tilt
    a = np.arange(len(corners))[:, None] * 4
    faces = np.concatenate([a + np.array([0, 1, 2]), a + np.array([0, 2, 3])])
    vertices = corners.reshape(-1, 3)
    return join(bars), Mesh(vertices, faces, np.ones_like(vertices))


def flat(origin, along, up):
    origin, along, up = (np.asarray(v, float) for v in (origin, along, up))
    return lambda u, v: origin + u[..., None] * along + v[..., None] * up


def quarter_roof(x0, x1, y0, y1, z0, z1):
    """From the eaves at y0, z0 up to the ridge at y1, z1, a quarter of an ellipse."""

    def patch(u, v):
        angle = v * np.pi / 2
        return np.stack([x0 + (x1 - x0) * u, y0 + (y1 - y0) * (1 - np.cos(angle)), z0 + (z1 - z0) * np.sin(angle)], -1)

    return patch


def vault(x0, x1, y0, y1, z0):
    """A barrel vault that springs at z0, its axis along y."""
    radius, middle = (x1 - x0) / 2, (x0 + x1) / 2

    def patch(u, v):
        angle = np.pi * u
        return np.stack([middle - radius * np.cos(angle), y0 + (y1 - y0) * v, z0 + radius * np.sin(angle)], -1)

    return patch


def fan(x0, x1, y, z0):
    """The half-round window below the vault."""
    radius, middle = (x1 - x0) / 2, (x0 + x1) / 2

    def patch(u, v):
        angle, r = np.pi * u, radius * (0.16 + 0.84 * v)
        return np.stack([middle - r * np.cos(angle), np.full_like(u, y), z0 + r * np.sin(angle)], -1)

    return patch


def plinth(x0, x1, y0, y1, height, random) -> Mesh:
    """A low brick wall: every brick a box of its own tone, on a mortar core."""
    bricks = [
        box(((x0 + x1) / 2, (y0 + y1) / 2, height / 2), (x1 - x0 - 0.02, y1 - y0 - 0.02, height), (0.42, 0.39, 0.34))
    ]
    for course, z in enumerate(np.arange(0.0, height - 0.03, 0.075)):
        for x in np.arange(x0 + (0.1125 if course % 2 else 0), x1 - 0.1, 0.225):
            bricks.append(box((x + 0.107, y0, z + 0.035), (0.212, 0.03, 0.064), BRICK * random.uniform(0.65, 1.25)))
    bricks.append(box(((x0 + x1) / 2, y0 + 0.02, height + 0.02), (x1 - x0, 0.16, 0.05), (0.50, 0.48, 0.43)))
    return join(bricks)


def glasshouse() -> tuple[Mesh, Mesh]:
    """(everything solid, the panes). The front stands on y = 0; the hall spans x -2.5 to 5.5."""
    random = np.random.default_rng(7)
    solid, panes = [], []

    def add(pair):
        solid.append(pair[0])
        panes.append(pair[1])

    for x0, x1, columns in ((-15.0, -2.5, 30), (5.5, 16.0, 26)):
        solid.append(plinth(x0, x1, 0.0, 0.3, 0.62, random))
        add(glazed(flat((x0, 0.0, 0.66), (x1 - x0, 0, 0), (0, 0, 1.9)), 2, columns, 0.042, random, heavy=5))
        add(glazed(quarter_roof(x0, x1, 0.0, 3.4, 2.56, 4.3), 7, columns, 0.034, random, heavy=5))
        add(glazed(flat((x0, 6.8, 0.66), (x1 - x0, 0, 0), (0, 0, 1.9)), 2, columns // 2, 0.04, random))
        add(glazed(quarter_roof(x0, x1, 6.8, 3.4, 2.56, 4.3), 5, columns // 2, 0.034, random))
        solid.append(box(((x0 + x1) / 2, -0.03, 2.58), (x1 - x0, 0.16, 0.14), WHITE))
        solid.append(box(((x0 + x1) / 2, 3.4, 4.34), (x1 - x0, 0.2, 0.10), WHITE))
        for x in np.arange(x0, x1, 0.42):  # cresting on the ridge
            solid.append(box((x, 3.4, 4.47), (0.03, 0.03, 0.2), WHITE))
    x0, x1 = -2.5, 5.5
    add(glazed(flat((x0, -0.6, 0.5), (3.1, 0, 0), (0, 0, 3.3)), 4, 6, 0.045, random, heavy=3))
    add(glazed(flat((2.4, -0.6, 0.5), (3.1, 0, 0), (0, 0, 3.3)), 4, 6, 0.045, random, heavy=3))
    add(glazed(flat((0.6, -0.6, 2.5), (1.8, 0, 0), (0, 0, 1.3)), 2, 4, 0.045, random))
    add(glazed(fan(x0, x1, -0.6, 3.95), 4, 18, 0.05, random, heavy=3))
    add(glazed(vault(x0, x1, -0.6, 9.0, 3.95), 14, 20, 0.045, random, heavy=5))
    for side in (x0, x1):
        add(glazed(flat((side, -0.6, 0.5), (0, 9.6, 0), (0, 0, 3.3)), 4, 12, 0.045, random))
    add(glazed(flat((x0, 9.0, 0.5), (8, 0, 0), (0, 0, 3.3)), 4, 10, 0.045, random))
    solid.append(plinth(x0, 0.6, -0.6, -0.3, 0.48, random))
    solid.append(plinth(2.4, x1, -0.6, -0.3, 0.48, random))
    for x in (x0, 0.6, 2.4, x1):
        solid.append(box((x, -0.62, 1.95), (0.22, 0.22, 3.9), WHITE))
    solid.append(box(((x0 + x1) / 2, -0.64, 3.9), (8.5, 0.26, 0.2), WHITE))
    solid.append(box((1.5, -0.6, 8.35), (0.1, 0.1, 0.9), WHITE))
    # The double door, painted.
    for left in (0.72, 1.56):
        solid.append(box((left + 0.39, -0.6, 0.35), (0.76, 0.06, 0.7), (0.11, 0.20, 0.15)))
        for x in (left, left + 0.78):
            solid.append(box((x, -0.6, 1.25), (0.07, 0.07, 2.5), (0.11, 0.20, 0.15)))
        for z in (0.7, 1.3, 1.9, 2.48):
            solid.append(box((left + 0.39, -0.6, z), (0.76, 0.06, 0.06), (0.11, 0.20, 0.15)))
        add(glazed(flat((left, -0.6, 0.7), (0.78, 0, 0), (0, 0, 1.8)), 3, 2, 0.02, random))
    return join(solid), join(panes)
