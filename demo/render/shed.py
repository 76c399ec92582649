"""The potting shed: a brick wall with a drainpipe, a tap, a notice board and a bicycle against it."""

from __future__ import annotations

import facade
import garden
import numpy as np
from mesh import Mesh, box, grid, join, lathe, smooth_noise, tube
from scene import Distraction, Instanced, Scene

BRICK = np.array([0.245, 0.125, 0.088])
IRON = (0.03, 0.035, 0.035)
EAVES = 2.75


# Left, right, bottom and top of the door and the window.
OPENINGS = ((-3.14, -1.86, -1.0, 2.26), (1.98, 3.22, 0.90, 2.06))


def _clear(left: float, right: float, z: float) -> tuple[float, float]:
    """What is left of a brick's length beside the door and the window."""
    for a, b, low, high in OPENINGS:
        if low < z < high and right > a and left < b:
            left, right = (left, min(right, a)) if left < a else (max(left, b), right)
    return left, right


def _bricks() -> Mesh:
    random = np.random.default_rng(31)
    parts = [box((0, 0.10, 1.5), (11, 0.16, 3.0), (0.37, 0.34, 0.29))]
    for course, z in enumerate(np.arange(0.0, EAVES, 0.075)):
        step = 0.225
        for x in np.arange(-5.2 + (step / 2 if course % 2 else 0), 5.2, step):
            left, right = _clear(x - 0.1065, x + 0.1065, z + 0.03)
            if right - left < 0.03:
                continue
            tone = (
                BRICK * random.uniform(0.62, 1.28) * np.array([1, random.uniform(0.9, 1.1), random.uniform(0.9, 1.15)])
            )
            out = 0.004 * random.random()
            brick = box(((left + right) / 2, 0.0 - out, z + 0.035), (right - left, 0.05, 0.065), tone)
            brick.colours *= random.uniform(0.93, 1.07, (len(brick.colours), 1))
            parts.append(brick)
    return join(parts)


def _joinery() -> list[Mesh]:
    green = np.array([0.075, 0.13, 0.105])
    boards = [box((-2.5 + 0.155 * k, 0.02, 1.06), (0.15, 0.04, 2.1), green * (0.92 + 0.05 * (k % 3)))
              for k in range(-3, 4)]  # fmt: skip
    frame = [box((x, -0.01, 1.08), (0.09, 0.12, 2.18), green * 1.1) for x in (-3.09, -1.91)]
    head = [box((-2.5, -0.01, 2.2), (1.3, 0.12, 0.10), green * 1.1)]
    hinges = [box((-2.75, -0.02, z), (0.5, 0.02, 0.045), IRON) for z in (0.45, 1.75)]
    ring = np.linspace(0, 2 * np.pi, 24)
    handle = tube(
        np.stack([-2.1 + 0.04 * np.cos(ring), np.full(24, -0.03), 1.05 + 0.05 * np.sin(ring)], 1), 0.008, IRON
    )
    white = (0.56, 0.55, 0.51)
    window = [box((2.6, 0.03, 1.5), (1.2, 0.03, 1.1), (0.035, 0.042, 0.045))]
    window += [box((x, -0.01, 1.5), (0.05, 0.07, 1.12), white) for x in (2.02, 2.6, 3.18)]
    window += [box((2.6, -0.01, z), (1.2, 0.07, 0.05), white) for z in (0.98, 1.5, 2.03)]
    sill = [box((2.6, -0.05, 0.92), (1.4, 0.20, 0.06), (0.38, 0.36, 0.32))]
    lintels = [
        box((x, -0.012, z), (w, 0.06, 0.2), (0.36, 0.34, 0.30)) for x, z, w in ((-2.5, 2.36, 1.5), (2.6, 2.16, 1.6))
    ]
    return [join([*boards, *frame, *head, *hinges, handle, *window, *sill, *lintels])]


def _roof() -> Mesh:
    """Clay tiles in courses over a gutter."""
    random = np.random.default_rng(8)
    tiles = []
    for row in range(18):
        for x in np.arange(-5.6 + (0.09 if row % 2 else 0), 5.6, 0.18):
            y, z = -0.28 + 0.17 * row, EAVES + 0.10 + 0.125 * row
            tile = box((0, 0, 0), (0.172, 0.26, 0.016), np.array([0.195, 0.105, 0.075]) * random.uniform(0.6, 1.2))
            a = np.radians(36 + random.normal(0, 1.2))
            v = tile.vertices
            tile = Mesh(np.stack([v[:, 0], v[:, 1] * np.cos(a) - v[:, 2] * np.sin(a), v[:, 1] * np.sin(a) + v[:, 2] * np.cos(a)], 1),
                        tile.faces, tile.colours)  # fmt: skip
            tiles.append(tile.moved((x, y, z)))
    turn = np.linspace(np.pi, 2 * np.pi, 12)
    xs = np.linspace(-5.6, 5.6, 3)
    gutter = np.stack([np.broadcast_to(xs[:, None], (3, 12)), np.broadcast_to(-0.40 + 0.06 * np.cos(turn), (3, 12)),
                       np.broadcast_to(EAVES + 0.02 + 0.06 * np.sin(turn), (3, 12))], -1)  # fmt: skip
    fascia = box((0, -0.30, EAVES + 0.0), (11.2, 0.03, 0.16), (0.30, 0.29, 0.26))
    return join([*tiles, fascia, grid(gutter, np.full((3, 12, 3), 0.035))])


def _ground() -> Mesh:
    """Stone flags with sandy joints, each flag its own tone and a little out of level."""
    random = np.random.default_rng(17)
    parts = [box((0, -4.5, -0.058), (40, 9.6, 0.06), (0.20, 0.175, 0.13))]
    y = 0.0
    for row in range(18):
        depth = 0.52 + 0.16 * (row % 3)
        x = -7.0 - random.uniform(0, 0.5)
        while x < 7:
            width = random.uniform(0.5, 1.0)
            tone = np.array([0.30, 0.285, 0.25]) * random.uniform(0.78, 1.15)
            nx, ny = 26, 18
            u, v = np.meshgrid(
                np.linspace(0.008, width - 0.008, nx), np.linspace(0.008, depth - 0.008, ny), indexing="ij"
            )
            points = np.stack([x + u, y - v, np.zeros_like(u)], -1)
            rough = smooth_noise(points[..., :2].reshape(-1, 2), 0.12, 6 + row).reshape(nx, ny)
            points[..., 2] = 0.012 * rough + random.normal(0, 0.003) - 0.012
            edge = np.minimum(np.minimum(u, width - u), np.minimum(v, depth - v))
            points[..., 2] -= 0.03 * np.exp(-edge / 0.012)
            stain = (
                1 + 0.14 * rough + 0.08 * smooth_noise(points[..., :2].reshape(-1, 2), 0.03, 60 + row).reshape(nx, ny)
            )
            parts.append(grid(points, np.clip(tone * stain[..., None], 0.02, 1)))
            x += width
        y -= depth
    return join(parts)


def _drainpipe() -> Mesh:
    down = np.array([[1.42, -0.40, EAVES - 0.02], [1.42, -0.40, EAVES - 0.12], [1.42, -0.12, EAVES - 0.38],
                     [1.42, -0.10, EAVES - 0.5], [1.42, -0.10, 0.14], [1.42, -0.16, 0.06], [1.42, -0.26, 0.03]])  # fmt: skip
    pipe = tube(down, 0.034, (0.045, 0.05, 0.05), 16)
    collars = [
        tube(np.array([[1.42, -0.10, z], [1.42, -0.10, z + 0.06]]), 0.044, (0.04, 0.045, 0.045), 16)
        for z in (0.55, 1.45, 2.1)
    ]
    straps = [box((1.42, -0.05, z + 0.03), (0.16, 0.10, 0.03), (0.04, 0.045, 0.045)) for z in (0.55, 1.45, 2.1)]
    return join([pipe, *collars, *straps])


def _tap() -> Mesh:
    brass = (0.42, 0.28, 0.09)
    supply = tube(
        np.array([[0.62, -0.05, 0.0], [0.62, -0.05, 0.72], [0.62, -0.07, 0.76], [0.62, -0.14, 0.76]]),
        0.012,
        (0.36, 0.17, 0.09),
    )
    body = tube(
        np.array([[0.62, -0.12, 0.76], [0.62, -0.20, 0.76], [0.62, -0.23, 0.74], [0.62, -0.235, 0.68]]),
        [0.018, 0.02, 0.018, 0.015],
        brass,
    )
    stem = tube(np.array([[0.62, -0.18, 0.76], [0.62, -0.18, 0.83]]), 0.011, brass)
    grip = tube(np.array([[0.575, -0.18, 0.835], [0.665, -0.18, 0.835]]), 0.010, brass)
    return join([supply, body, stem, grip, box((0.62, -0.04, 0.55), (0.06, 0.05, 0.02), IRON)])


def _notice_board() -> Mesh:
    wood = (0.17, 0.105, 0.06)
    cork = grid(np.stack(np.meshgrid(np.linspace(-1.52, -0.55, 90), [-0.055], np.linspace(1.22, 1.98, 70), indexing="ij"), -1)[:, 0],
                np.full((90, 70, 3), 1.0) * np.array([0.40, 0.27, 0.16]))  # fmt: skip
    cork.colours *= (1 + 0.16 * smooth_noise(cork.vertices, 0.012, 3))[:, None]
    bars = [box((-1.035, -0.06, z), (1.05, 0.05, 0.055), wood) for z in (1.20, 2.0)]
    bars += [box((x, -0.06, 1.6), (0.055, 0.05, 0.85), wood) for x in (-1.54, -0.53)]
    random = np.random.default_rng(5)
    sheets = []
    for x, z, w, h, tone in ((-1.28, 1.68, 0.24, 0.33, (0.66, 0.65, 0.61)), (-0.92, 1.74, 0.30, 0.21, (0.64, 0.60, 0.42)),
                             (-0.85, 1.42, 0.21, 0.28, (0.52, 0.60, 0.62)), (-1.2, 1.36, 0.16, 0.12, (0.62, 0.48, 0.44))):  # fmt: skip
        u, v = np.meshgrid(np.linspace(-w / 2, w / 2, 14), np.linspace(-h / 2, h / 2, 14), indexing="ij")
        a = random.normal(0, 0.05)
        lift = -0.062 - 0.02 * np.clip(-v / h + 0.1, 0, 1) ** 2
        points = np.stack([x + u * np.cos(a) - v * np.sin(a), lift, z + u * np.sin(a) + v * np.cos(a)], -1)
        sheets.append(grid(points, np.full((14, 14, 3), 1.0) * tone))
        sheets.append(box((x, -0.068, z + h / 2 - 0.02), (0.014, 0.012, 0.014), (0.5, 0.06, 0.05)))
    return join([cork, *bars, *sheets])


def _wheel(x: float, z: float) -> list[Mesh]:
    turn = np.linspace(0, 2 * np.pi, 80)
    tyre = tube(
        np.stack([x + 0.335 * np.cos(turn), 0 * turn, z + 0.335 * np.sin(turn)], 1), 0.017, (0.025, 0.025, 0.025), 10
    )
    rim = tube(
        np.stack([x + 0.312 * np.cos(turn), 0 * turn, z + 0.312 * np.sin(turn)], 1), 0.009, (0.40, 0.40, 0.40), 8
    )
    spokes = [tube(np.array([[x, 0.02 * (-1) ** k, z], [x + 0.31 * np.cos(a), 0, z + 0.31 * np.sin(a)]]), 0.0014, (0.45, 0.45, 0.45), 4)
              for k, a in enumerate(np.linspace(0, 2 * np.pi, 28, endpoint=False))]  # fmt: skip
    hub = tube(np.array([[x, -0.05, z], [x, 0.05, z]]), 0.02, (0.4, 0.4, 0.4))
    return [tyre, rim, hub, *spokes]


def _basket() -> list[Mesh]:
    """A wicker basket on the handlebar."""
    basket = []
    for k in range(7):
        z, w = 0.80 + 0.035 * k, 0.13 + 0.006 * k
        turn = np.linspace(0, 2 * np.pi, 40)
        basket.append(
            tube(
                np.stack([0.53 + w * np.cos(turn), 1.1 * w * np.sin(turn), np.full(40, z)], 1),
                0.010,
                (0.24, 0.155, 0.08),
                6,
            )
        )
    for a in np.linspace(0, 2 * np.pi, 22, endpoint=False):
        basket.append(tube(np.array([[0.53 + 0.13 * np.cos(a), 0.143 * np.sin(a), 0.79], [0.53 + 0.17 * np.cos(a), 0.187 * np.sin(a), 1.02]]), 0.006, (0.20, 0.13, 0.07), 5))  # fmt: skip
    return basket


def bicycle() -> Mesh:
    """An upright town bicycle, wheels in the x, z plane, rear axle at the origin's left."""
    paint_ = (0.10, 0.20, 0.28)
    rear, front, r = -0.53, 0.55, 0.352
    crank, seat, head, low_head = (-0.08, 0, 0.29), (-0.23, 0, 0.78), (0.36, 0, 0.83), (0.39, 0, 0.66)

    def pipe(a, b, radius=0.015, colour=paint_):
        return tube(np.array([a, b], float), radius, colour, 12)

    bent = np.array([low_head, (0.22, 0, 0.45), (0.05, 0, 0.33), crank])
    frame = [
        pipe(crank, seat),
        tube(bent, 0.017, paint_, 12),
        pipe((0.36, 0, 0.78), (-0.17, 0, 0.56)),
        pipe(head, low_head, 0.02),
    ]
    frame += [pipe((rear, s * 0.05, r), crank, 0.009) for s in (-1, 1)]
    frame += [pipe((rear, s * 0.05, r), (-0.21, 0, 0.72), 0.008) for s in (-1, 1)]
    frame += [pipe((front, s * 0.05, r), low_head, 0.010) for s in (-1, 1)]
    steel = (0.42, 0.42, 0.42)
    frame += [pipe(seat, (-0.26, 0, 0.92), 0.012, steel), pipe(head, (0.34, 0, 1.02), 0.012, steel)]
    bar_turn = np.linspace(-1, 1, 24)
    handlebar = np.stack([0.34 - 0.16 * np.abs(bar_turn) ** 1.5, 0.29 * bar_turn, 1.02 + 0.07 * np.abs(bar_turn)], 1)
    frame.append(tube(handlebar, 0.011, steel))
    frame += [pipe((0.18, s * 0.29, 1.09), (0.10, s * 0.29, 1.085), 0.017, (0.10, 0.055, 0.03)) for s in (-1, 1)]
    saddle = lathe(
        np.array([[0.0, 0.0], [0.10, 0.01], [0.115, 0.035], [0.07, 0.06], [0.0, 0.065]]), (0.10, 0.055, 0.03)
    )
    saddle = saddle.scaled((1.25, 0.75, 1)).moved((-0.28, 0, 0.92))
    nose = pipe((-0.22, 0, 0.955), (-0.06, 0, 0.95), 0.022, (0.10, 0.055, 0.03))
    ring = np.linspace(0, 2 * np.pi, 40)
    chain_ring = tube(
        np.stack([crank[0] + 0.085 * np.cos(ring), np.full(40, -0.05), 0.29 + 0.085 * np.sin(ring)], 1), 0.006, steel
    )
    arms = [
        pipe((-0.08, -0.06, 0.29), (0.04, -0.06, 0.17), 0.008, steel),
        pipe((-0.08, 0.06, 0.29), (-0.20, 0.06, 0.41), 0.008, steel),
    ]
    pedals = [box((0.04, -0.11, 0.17), (0.09, 0.08, 0.02), IRON), box((-0.20, 0.11, 0.41), (0.09, 0.08, 0.02), IRON)]
    guards = []
    for x, start, stop in ((rear, 0.35, 2.9), (front, 0.5, 2.6)):
        turn = np.linspace(start, stop, 30)
        guards.append(
            tube(np.stack([x + 0.375 * np.cos(turn), 0 * turn, r + 0.375 * np.sin(turn)], 1), 0.014, paint_, 8)
        )
    return join(
        [*_wheel(rear, r), *_wheel(front, r), *frame, saddle, nose, chain_ring, *arms, *pedals, *guards, *_basket()]
    )


def _leaning(mesh: Mesh, degrees: float) -> Mesh:
    a = np.radians(degrees)
    x, y, z = mesh.vertices.T
    return Mesh(
        np.stack([x, y * np.cos(a) + z * np.sin(a), z * np.cos(a) - y * np.sin(a)], 1), mesh.faces, mesh.colours
    )


def _scene(name: str, size: tuple[int, int], samples: int, camera: tuple, look: tuple, **other) -> Scene:
    pots = []
    for x, y, scale, seed in (
        (-3.55, -0.35, 1.25, 1),
        (-1.6, -0.30, 0.9, 2),
        (3.7, -0.4, 1.5, 3),
        (-4.15, -0.5, 0.9, 4),
    ):
        shape = np.array(
            [[0, 0], [0.12, 0], [0.16, 0.25], [0.175, 0.25], [0.175, 0.30], [0.155, 0.30], [0.15, 0.26], [0, 0.26]]
        )
        pot = lathe(shape, np.array([0.36, 0.17, 0.10]) * (0.8 + 0.1 * seed))
        pot.colours *= (1 + 0.12 * smooth_noise(pot.vertices, 0.06, seed))[:, None]
        pots.append(pot.scaled((scale,) * 3).moved((x, y, -0.02)))
    bush = garden.crown(81, 7_000, (0.30, 0.30, 0.34), (0.075, 0.13, 0.04))
    bushes = [
        (-3.55, -0.35, 0.62, 1.1, 10),
        (-1.6, -0.30, 0.46, 0.7, 80),
        (3.7, -0.4, 0.75, 1.4, 200),
        (-4.15, -0.5, 0.45, 0.75, 300),
    ]
    weeds = garden.crown(82, 160, (0.13, 0.10, 0.12), (0.11, 0.14, 0.05))
    random = np.random.default_rng(3)
    small = [
        (
            random.uniform(-5, 5),
            -0.08 - abs(random.normal(0, 0.05)),
            0.0,
            random.uniform(0.4, 1.1),
            random.uniform(0, 360),
        )
        for _ in range(30)
    ]
    trees = [
        Instanced(i.mesh, [(x, y - 2, z, s, t) for x, y, z, s, t in i.places]) for i in facade.trees_and_shrubs()[:-1]
    ]
    bike = _leaning(bicycle(), 11).turned(180).moved((-0.35, -0.42, -0.005))
    return Scene(
        name=name, size=size, samples=samples, camera=camera, look=look, fov=52, exposure=1.12,
        sun=(-0.62, -0.62, 0.55), sun_strength=3.4,
        solid=[_bricks(), *_joinery(), _roof(), _ground(), *pots],
        instanced=[Instanced(bush, bushes), Instanced(weeds, small), *trees],
        distractions=[
            Distraction("drainpipe", "pole", _drainpipe()),
            Distraction("tap", "thing", _tap()),
            Distraction("notice board", "thing", _notice_board()),
            Distraction("bicycle", "thing", bike),
        ],
        focus=6.5, **other,
    )  # fmt: skip


def potting_shed() -> Scene:
    return _scene("ov-0458", (2400, 1600), 4, (-1.3, -6.2, 1.60), (0.0, 0.0, 1.42), exif=("1/250", 8.0, 100))


def potting_shed_large() -> Scene:
    return _scene(
        "ov-0459", (6000, 4000), 1, (0.9, -6.0, 1.62), (0.05, 0.0, 1.40), grain=0.021, depth=3, exif=("1/400", 9.0, 800)
    )
