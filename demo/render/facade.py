"""The glasshouse across the lawn, seen twice, and the sky over its roof."""

from __future__ import annotations

import garden
import glasshouse
import numpy as np
import people
from people import Outfit
from scene import Distraction, Instanced, Scene

BAG = Outfit(legs=(0.27, 0.23, 0.17), striped=((0.55, 0.54, 0.51), (0.05, 0.07, 0.13)), bag=(0.42, 0.19, 0.04),
             hair=(0.07, 0.04, 0.025))  # fmt: skip
RED = Outfit(top=(0.42, 0.11, 0.09), skirt=0.55, hair=(0.13, 0.06, 0.03), long_hair=True, hat=(0.52, 0.43, 0.27))
COAT = Outfit(top=(0.09, 0.13, 0.19), legs=(0.07, 0.07, 0.08), hem=0.72, sleeve=0.9, hair=(0.25, 0.24, 0.22))
GREEN = Outfit(
    top=(0.13, 0.22, 0.15), legs=(0.16, 0.19, 0.26), hair=(0.03, 0.02, 0.015), shoulder_bag=(0.25, 0.15, 0.08)
)
CHILD = Outfit(top=(0.55, 0.42, 0.10), legs=(0.10, 0.14, 0.25), hair=(0.16, 0.10, 0.05))


def trees_and_shrubs() -> list[Instanced]:
    random = np.random.default_rng(1)
    crowns = [garden.crown(30 + k, 26_000, spread, tone) for k, (spread, tone) in enumerate([
        ((3.4, 3.4, 3.0), (0.080, 0.130, 0.036)),
        ((2.6, 2.6, 3.8), (0.060, 0.108, 0.034)),
        ((4.2, 4.2, 3.4), (0.105, 0.142, 0.042)),
        ((1.5, 1.5, 4.6), (0.045, 0.080, 0.032)),
    ])]  # fmt: skip
    out = []
    for k, mesh in enumerate(crowns):
        places = []
        for _ in range(11):
            x, y = random.uniform(-40, 42), random.uniform(13, 34)
            size = random.uniform(0.9, 1.75)
            places.append((x, y, 3.0 * size + random.uniform(0, 1.2), size, random.uniform(0, 360)))
        out.append(Instanced(mesh, places))
        out.append(Instanced(garden.trunk(5.0, k), [(x, y, 0, s, t) for x, y, z, s, t in places]))
    bush = garden.crown(50, 16_000, (1.9, 1.9, 1.3), (0.055, 0.098, 0.030))
    out.append(Instanced(bush, [
        (x, random.uniform(11, 15), 0.7, random.uniform(0.8, 1.5), random.uniform(0, 360))
        for x in np.arange(-46, 48, 1.6)
    ]))  # fmt: skip
    inside = garden.crown(51, 6_000, (1.0, 1.0, 1.3), (0.06, 0.11, 0.035))
    out.append(Instanced(inside, [
        (x, random.uniform(1.6, 5.6), random.uniform(0.9, 1.7), random.uniform(0.6, 1.15), random.uniform(0, 360))
        for x in np.arange(-14.4, 15.6, 0.95)
    ]))  # fmt: skip
    return out


def _cables() -> list[Distraction]:
    ends = ((-30, 3.0, 9.4), (34, -7.0, 7.6))
    return [Distraction(f"cable {k + 1}", "wire", mesh) for k, mesh in enumerate(garden.cables(*ends, (1.1, 1.3)))]


def _on_path(figure, y: float, aside: float, turn: float):
    return figure.turned(turn).moved((float(garden.path_centre(np.array(y))) + aside, y, 0.012))


def _place(
    name: str, samples: int, camera: tuple, look: tuple, visitors: list[Distraction], sown: tuple | None = None
) -> Scene:
    """sown: camera and look that the lawn was sown for, where frames show the same blades and pebbles."""
    solid, glass = glasshouse.glasshouse()
    c, k = (np.array(each) for each in sown or (camera, look))
    balls = [
        garden.topiary(0.85, 40_000, 3).moved((-5.2, -8.5, 0)),
        garden.topiary(0.55, 16_000, 4).moved((-1.2, -2.1, 0)),
        garden.topiary(0.55, 16_000, 6).moved((4.6, -2.1, 0)),
        garden.topiary(0.6, 16_000, 7).moved((-9.5, -2.0, 0)),
    ]
    litter = [
        Distraction("crumpled paper", "litter", garden.crumpled_sheet(3, 0.16).turned(20).moved((-2.9, -13.2, 0.02))),
        Distraction("small paper", "litter", garden.crumpled_sheet(8, 0.09).turned(40).moved((-2.1, -13.9, 0.02))),
        Distraction("cup", "litter", garden.paper_cup().turned(65).moved((-5.4, -14.9, 0.03))),
    ]
    return Scene(
        name=name, size=(2880, 1920), samples=samples, camera=camera, look=look, fov=58, exposure=1.15,
        solid=[solid, garden.ground(), garden.lawn(c, k, 1_000_000), garden.pebbles(c, 160_000), garden.edging(),
               *balls, garden.flower_strip(-15, -2.6, -0.55, 5200, 3), garden.flower_strip(5.6, 16, -0.55, 4200, 4)],
        glass=glass, instanced=trees_and_shrubs(), dust=True,
        distractions=[*_cables(), *visitors, Distraction("hose", "hose", garden.hose()), *litter],
    )  # fmt: skip


FIRST = ((-5.6, -20.0, 1.62), (1.3, 0.0, 2.9))
"""Camera and look of the first frame."""


def facade() -> Scene:
    visitors = [
        ("visitor with bag", _on_path(people.visitor(5, 1.80, BAG), -9.6, -0.44, 22)),
        ("visitor in red", _on_path(people.visitor(9, 1.66, RED, stride=0.8), -9.3, 0.34, 18)),
    ]
    return _place("ov-0412", 3, *FIRST, [Distraction(n, "person", m) for n, m in visitors])


def facade_a_step_on() -> Scene:
    """By hand, half a metre to the right of the first: the two have walked on, a child comes after them."""
    visitors = [
        ("visitor with bag", _on_path(people.visitor(5, 1.80, BAG, stride=0.9), -5.6, -0.44, 16)),
        ("visitor in red", _on_path(people.visitor(9, 1.66, RED), -5.1, 0.34, 14)),
        ("child", _on_path(people.visitor(27, 1.22, CHILD, stride=1.2), -12.3, 0.2, 26)),
    ]
    scene = _place(
        "ov-0414", 3, (-5.05, -20.05, 1.66), (1.6, 0.0, 2.75), [Distraction(n, "person", m) for n, m in visitors], FIRST
    )
    scene.up, scene.exposure = (0.012, 0.0, 1.0), 1.15 * 0.84
    return scene


def facade_a_step_back() -> Scene:
    """By hand, half a metre to the left of the first, a little brighter: another visitor where the two had been."""
    visitors = [
        ("visitor in coat", _on_path(people.visitor(21, 1.77, COAT), -9.7, -0.3, 21)),
        ("visitor in green", _on_path(people.visitor(23, 1.70, GREEN, stride=0.9), -3.2, 0.4, 10)),
    ]
    scene = _place(
        "ov-0415", 3, (-6.1, -19.9, 1.60), (1.15, 0.0, 3.0), [Distraction(n, "person", m) for n, m in visitors], FIRST
    )
    scene.up, scene.exposure = (-0.009, 0.0, 1.0), 1.15 * 1.17
    return scene


def facade_from_the_left() -> Scene:
    visitors = [
        ("visitor in coat", _on_path(people.visitor(21, 1.77, COAT), -5.2, -0.5, 15)),
        ("visitor in green", _on_path(people.visitor(23, 1.70, GREEN, stride=0.9), -12.4, 0.5, 28)),
        ("child", _on_path(people.visitor(27, 1.22, CHILD, stride=1.2), -12.1, -0.35, 20)),
    ]
    return _place(
        "ov-0413", 2, (-6.6, -20.0, 1.62), (1.0, 0.0, 2.75), [Distraction(n, "person", m) for n, m in visitors]
    )


def roof_and_sky() -> Scene:
    """The camera tilted up: roof and tree tops along the lower edge, and sky where every speck shows."""
    solid, glass = glasshouse.glasshouse()
    return Scene(
        name="ov-0418", size=(2880, 1920), samples=2, camera=(-7.5, -15.0, 1.6), look=(0.5, 0.0, 8.6), fov=58,
        exposure=1.12, solid=[solid, garden.ground()], glass=glass, instanced=trees_and_shrubs(), dust=True,
        distractions=[], exif=("1/640", 11.0, 100),
    )  # fmt: skip
