"""What stands in each frame, and what in it is a distraction."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import garden
import glasshouse
import numpy as np
import people
from mesh import Mesh, box, join

import studio


@dataclass
class Instanced:
    """A mesh seen many times: placements of x, y, z, size and turn."""

    mesh: Mesh
    places: list[tuple[float, float, float, float, float]]


@dataclass
class Scene:
    """One frame: camera, light, what stays, and the distractions by name and kind, each a mesh."""

    name: str
    camera: tuple
    look: tuple
    fov: float
    sun: tuple
    sun_strength: float
    sky_strength: float
    exposure: float
    solid: list[Mesh]
    glass: Mesh | None
    instanced: list[Instanced]
    distractions: list[tuple[str, str, Mesh]]
    translucent: bool = True
    indoor: bool = False
    grain: float = 0.013
    focus: float = 20.0
    aperture: float = 0.004


def trees_and_shrubs(random) -> list[Instanced]:
    crowns = [garden.crown(30 + k, 26_000, spread, tone) for k, (spread, tone) in enumerate([
        ((3.4, 3.4, 3.0), (0.075, 0.135, 0.030)),
        ((2.6, 2.6, 3.8), (0.055, 0.115, 0.030)),
        ((4.2, 4.2, 3.4), (0.095, 0.150, 0.035)),
        ((1.5, 1.5, 4.6), (0.040, 0.085, 0.030)),
    ])]  # fmt: skip
    out = []
    for k, mesh in enumerate(crowns):
        places = []
        for _ in range(11):
            x, y = random.uniform(-40, 42), random.uniform(13, 34)
            size = random.uniform(1.0, 1.75)
            places.append((x, y, 3.0 * size + random.uniform(0, 1.2), size, random.uniform(0, 360)))
        out.append(Instanced(mesh, places))
        out.append(Instanced(garden.trunk(5.0, k), [(x, y, 0, s, t) for x, y, z, s, t in places]))
    bush = garden.crown(50, 16_000, (1.9, 1.9, 1.3), (0.05, 0.10, 0.025))
    out.append(
        Instanced(
            bush,
            [
                (x, random.uniform(11, 15), 0.7, random.uniform(0.8, 1.5), random.uniform(0, 360))
                for x in np.arange(-46, 48, 1.6)
            ],
        )
    )
    inside = garden.crown(51, 6_000, (1.0, 1.0, 1.3), (0.05, 0.11, 0.03))
    out.append(
        Instanced(
            inside,
            [
                (
                    x,
                    random.uniform(1.6, 5.6),
                    random.uniform(0.9, 1.7),
                    random.uniform(0.6, 1.15),
                    random.uniform(0, 360),
                )
                for x in np.arange(-14.4, 15.6, 0.95)
            ],
        )
    )
    return out


def facade(blades: int = 900_000) -> Scene:
    random = np.random.default_rng(1)
    camera, look = (-5.6, -20.0, 1.62), (1.3, 0.0, 2.9)
    solid, glass = glasshouse.glasshouse()
    c, k = np.array(camera), np.array(look)
    balls = [
        garden.topiary(0.85, 40_000, 3).moved((-5.2, -8.5, 0)),
        garden.topiary(0.55, 16_000, 4).moved((-1.2, -2.1, 0)),
        garden.topiary(0.55, 16_000, 6).moved((4.6, -2.1, 0)),
        garden.topiary(0.6, 16_000, 7).moved((-9.5, -2.0, 0)),
    ]
    walker_a = people.visitor(
        5,
        1.80,
        legs=(0.33, 0.28, 0.20),
        striped=((0.62, 0.61, 0.58), (0.045, 0.06, 0.12)),
        bag=(0.55, 0.22, 0.03),
        hair=(0.07, 0.04, 0.025),
    )
    walker_b = people.visitor(
        9, 1.66, top=(0.56, 0.16, 0.12), hair=(0.13, 0.06, 0.03), dress=True, hat=(0.60, 0.50, 0.30), stride=0.4
    )
    y = -8.8
    x = float(garden.path_centre(np.array(y)))
    pair = [walker_a.turned(22).moved((x - 0.42, y, 0.01)), walker_b.turned(18).moved((x + 0.32, y + 0.25, 0.01))]
    return Scene(
        name="ov-0412",
        camera=camera, look=look, fov=58, sun=(-0.55, -0.62, 0.62), sun_strength=3.6, sky_strength=0.9, exposure=1.15,
        solid=[solid, garden.ground(), garden.lawn(c, k, blades), garden.pebbles(c, 160_000), garden.edging(), *balls,
               garden.flower_strip(-15, -2.6, -0.55, 5200, 3), garden.flower_strip(5.6, 16, -0.55, 4200, 4)],
        glass=glass,
        instanced=trees_and_shrubs(random),
        distractions=[
            ("cables", "wire", garden.cables((-30, 3.0, 9.4), (34, -7.0, 7.6), (1.1, 1.25))),
            ("visitor with bag", "person", pair[0]),
            ("visitor in red", "person", pair[1]),
            ("hose", "hose", garden.hose()),
            ("litter", "litter", join([
                garden.crumpled_sheet(3).moved((-3.9, -14.4, 0.02)),
                garden.crumpled_sheet(8, 0.13).turned(40).moved((-3.3, -14.8, 0.02)),
                garden.crumpled_sheet(12, 0.10).moved((-5.6, -15.6, 0.02)),
            ])),
        ],
    )  # fmt: skip


def studio_plant(seed: int = 1) -> Scene:
    lights = [box((-2.6, -2.6, 2.9), (0.02, 0.02, 0.02), (0, 0, 0))]
    return Scene(
        name=f"ov-05{20 + seed:02d}",
        camera=(0.10, -3.3, 1.08), look=(0.02, 0.3, 0.74), fov=46,
        sun=(-0.5, -0.6, 0.7), sun_strength=0.0, sky_strength=0.0, exposure=0.92,
        solid=[
            studio.backdrop(), studio.room(), studio.pot_and_plant(seed + 4).moved((0, -0.35, 0.005)), *lights,
        ],
        glass=None, instanced=[],
        distractions=[
            ("light stand", "backdrop clutter", studio.light_stand(1.22, 0.25)),
            ("clamps and tape", "backdrop clutter", join(studio.clamps_and_tape())),
            ("cable on the floor", "wire", studio.curled_cable()),
            ("fallen leaves", "litter", studio.spare_leaves(seed)),
        ],
        indoor=True, grain=0.009, focus=3.3, aperture=0.008,
    )  # fmt: skip


SCENES: dict[str, Callable[[], Scene]] = {"ov-0412": facade, "ov-0521": studio_plant}
