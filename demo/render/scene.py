"""One frame of the shoot as data: camera, light, what stays, and what is in the way."""

from __future__ import annotations

from dataclasses import dataclass, field

from mesh import Mesh


@dataclass
class Instanced:
    """A mesh seen many times: placements of x, y, z, size and turn."""

    mesh: Mesh
    places: list[tuple[float, float, float, float, float]]


@dataclass
class Distraction:
    """Something to be removed; kind is one of those that docs/demo.md lists."""

    name: str
    kind: str
    mesh: Mesh


@dataclass
class Lamp:
    """A soft box of size metres half across at a place, turned to a target."""

    at: tuple
    target: tuple
    size: float
    power: float


@dataclass
class Scene:
    """sun: direction to the sun; strengths in Mitsuba's units; size in pixels; samples a pixel."""

    name: str
    size: tuple[int, int]
    samples: int
    camera: tuple
    look: tuple
    fov: float
    exposure: float
    solid: list[Mesh]
    distractions: list[Distraction]
    sun: tuple = (-0.80, -0.40, 0.40)
    sun_strength: float = 3.6
    sky_strength: float = 0.9
    lamps: list[Lamp] = field(default_factory=list)
    glass: Mesh | None = None
    # Refraction index of the panes; coated ones mirror more, as if it were higher.
    index: float = 1.52
    # The mirror image in the glass is itself the distraction.
    reflection: bool = False
    instanced: list[Instanced] = field(default_factory=list)
    dust: bool = False
    # Longest light path that is followed; three is the sun and one bounce.
    depth: int = 5
    grain: float = 0.013
    focus: float = 20.0
    # What points up in the picture: a hand holds a camera a little aslant.
    up: tuple = (0.0, 0.0, 1.0)
    aperture: float = 0.004
    # What the camera notes in the file: seconds, f-number, ISO.
    exif: tuple[str, float, int] = ("1/500", 8.0, 100)
