"""Triangle meshes with a colour per vertex, as numpy arrays, and the simple bodies everything is built from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass
class Mesh:
    """vertices (n, 3) metres, z up; faces (m, 3); colours (n, 3) linear reflectance 0 to 1."""

    vertices: np.ndarray
    faces: np.ndarray
    colours: np.ndarray

    def moved(self, by) -> Mesh:
        return Mesh(self.vertices + np.asarray(by, float), self.faces, self.colours)

    def scaled(self, by) -> Mesh:
        return Mesh(self.vertices * np.asarray(by, float), self.faces, self.colours)

    def turned(self, degrees: float) -> Mesh:
        a = np.radians(degrees)
        turn = np.array([[np.cos(a), -np.sin(a), 0], [np.sin(a), np.cos(a), 0], [0, 0, 1]])
        return Mesh(self.vertices @ turn.T, self.faces, self.colours)


def join(meshes) -> Mesh:
    meshes = list(meshes)
    starts = np.cumsum([0] + [len(m.vertices) for m in meshes[:-1]])
    return Mesh(
        np.concatenate([m.vertices for m in meshes]),
        np.concatenate([m.faces + s for m, s in zip(meshes, starts, strict=True)]),
        np.concatenate([m.colours for m in meshes]),
    )


def paint(vertices: np.ndarray, colour) -> np.ndarray:
    return np.broadcast_to(np.asarray(colour, float), (len(vertices), 3)).copy()


CUBE = np.array([[x, y, z] for x in (-0.5, 0.5) for y in (-0.5, 0.5) for z in (-0.5, 0.5)])
CUBE_FACES = np.array(
    [[0, 1, 3], [0, 3, 2], [4, 6, 7], [4, 7, 5], [0, 4, 5], [0, 5, 1], [2, 3, 7], [2, 7, 6], [0, 2, 6], [0, 6, 4],
     [1, 5, 7], [1, 7, 3]]
)  # fmt: skip


def box(centre, size, colour) -> Mesh:
    vertices = CUBE * np.asarray(size, float) + np.asarray(centre, float)
    return Mesh(vertices, CUBE_FACES.copy(), paint(vertices, colour))


def bar(a, b, width: float, colour) -> Mesh:
    """A square bar from a to b."""
    return tube(np.stack([np.asarray(a, float), np.asarray(b, float)]), width / np.sqrt(2), colour, sides=4)


def tube(path: np.ndarray, radius, colour, sides: int = 10) -> Mesh:
    """A tube along a path (k, 3); radius a number or one for each point."""
    path = np.asarray(path, float)
    along = np.gradient(path, axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True) + 1e-12
    guide = np.where(np.abs(along[:, 2:3]) < 0.9, [[0.0, 0.0, 1.0]], [[1.0, 0.0, 0.0]])
    u = np.cross(along, guide)
    u /= np.linalg.norm(u, axis=1, keepdims=True)
    v = np.cross(along, u)
    angles = np.linspace(0, 2 * np.pi, sides, endpoint=False) + np.pi / 4
    radius = np.broadcast_to(np.asarray(radius, float), (len(path),))
    ring = u[:, None] * np.cos(angles)[None, :, None] + v[:, None] * np.sin(angles)[None, :, None]
    vertices = (path[:, None] + ring * radius[:, None, None]).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(len(path) - 1), np.arange(sides), indexing="ij")
    a, b = i * sides + j, i * sides + (j + 1) % sides
    c, d = a + sides, b + sides
    faces = np.concatenate([np.stack([a, b, d], -1).reshape(-1, 3), np.stack([a, d, c], -1).reshape(-1, 3)])
    return Mesh(vertices, faces, paint(vertices, colour))


def lathe(profile: np.ndarray, colour, sides: int = 48) -> Mesh:
    """A body of revolution round z from a profile (k, 2) of radius and height."""
    profile = np.asarray(profile, float)
    angles = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    ring = np.stack([np.cos(angles), np.sin(angles)], 1)
    vertices = np.concatenate(
        [
            (profile[:, None, :1] * ring[None]),
            np.broadcast_to(profile[:, None, 1:], (len(profile), sides, 1)),
        ],
        axis=2,
    ).reshape(-1, 3)
    i, j = np.meshgrid(np.arange(len(profile) - 1), np.arange(sides), indexing="ij")
    a, b = i * sides + j, i * sides + (j + 1) % sides
    faces = np.concatenate(
        [np.stack([a, b, b + sides], -1).reshape(-1, 3), np.stack([a, b + sides, a + sides], -1).reshape(-1, 3)]
    )
    return Mesh(vertices, faces, paint(vertices, colour))


def grid(points: np.ndarray, colours: np.ndarray) -> Mesh:
    """A surface through an (a, b, 3) grid of points, colours (a, b, 3)."""
    rows, columns = points.shape[:2]
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij")
    a = i * columns + j
    faces = np.concatenate(
        [
            np.stack([a, a + columns, a + columns + 1], -1).reshape(-1, 3),
            np.stack([a, a + columns + 1, a + 1], -1).reshape(-1, 3),
        ]
    )
    return Mesh(points.reshape(-1, 3), faces, colours.reshape(-1, 3))


def leaves(centres: np.ndarray, size: np.ndarray, facing: np.ndarray, colours: np.ndarray, random) -> Mesh:
    """Leaves of two triangles: centres (n, 3), size (n,), facing (n, 3) roughly the normal, colours (n, 3)."""
    n = len(centres)
    normal = facing + random.normal(0, 0.6, (n, 3))
    normal /= np.linalg.norm(normal, axis=1, keepdims=True) + 1e-9
    other = random.normal(0, 1, (n, 3))
    u = np.cross(normal, other)
    u /= np.linalg.norm(u, axis=1, keepdims=True) + 1e-9
    v = np.cross(normal, u)
    s = size[:, None]
    bend = normal * s * 0.18
    corners = np.stack(
        [centres - u * s, centres - v * s * 0.45 + bend, centres + u * s, centres + v * s * 0.45 + bend], 1
    )
    a = np.arange(n)[:, None] * 4
    faces = np.concatenate([a + np.array([0, 1, 2]), a + np.array([0, 2, 3])])
    return Mesh(corners.reshape(-1, 3), faces, np.repeat(colours, 4, axis=0))


def smooth_noise(points: np.ndarray, scale: float, seed: int) -> np.ndarray:
    """Cheap smooth noise in -1 to 1 at (n, d) points: a few sines in random directions."""
    random = np.random.default_rng(seed)
    total = np.zeros(len(points))
    for octave in range(3):
        for _ in range(5):
            direction = random.normal(0, 1, points.shape[1]) / scale * 2.0**octave
            total += np.sin(points @ direction + random.uniform(0, 6.28)) / 2.0**octave
    return np.tanh(total / 4)
