"""Where each distraction is seen: its body, its cast shadow and its mirror image."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import drjit as dr
import mitsuba as mi
import numpy as np
from mesh import Mesh
from scene import Scene
from world import PAINTED, build, sensor, to_mitsuba, to_sun


@dataclass
class Cover:
    """How much of each pixel is covered, (H, W) float32, 0 to 1."""

    object: np.ndarray
    shadow: np.ndarray
    mirror: np.ndarray

    @property
    def any(self) -> np.ndarray:
        return np.maximum(self.object, np.maximum(self.shadow, self.mirror))


# Rays traced at once.
AT_ONCE = 4_000_000
# How far a ray starts from the surface it leaves, metres.
STEP = 2e-3


def cover_of(scene: Scene, size: tuple[int, int], grid: int = 4) -> dict[str, Cover]:
    """The cover of each distraction by name, from grid x grid rays in each pixel."""
    if not scene.distractions:
        return {}
    width, height = size
    shot, found = build(scene, True)
    clean, _ = build(scene, False)
    alone = {t.name: _only(t.mesh) for t in scene.distractions}
    glass = _only(scene.glass) if scene.glass is not None else None
    view = sensor(scene, size)
    random = np.random.default_rng(6)
    out = {name: Cover(*(np.zeros((height, width), np.float32) for _ in range(3))) for name in found}
    rows = max(AT_ONCE // width, 1)
    for k in range(grid * grid):
        fx, fy = (k % grid + 0.5) / grid, (k // grid + 0.5) / grid
        sun = mi.Vector3f(*to_sun(scene, random).tolist())
        for top in range(0, height, rows):
            window = slice(top, min(top + rows, height))
            count = (window.stop - top) * width
            index = dr.arange(mi.UInt32, count)
            x, y = mi.Float(index % width) + fx, mi.Float(index // width) + top + fy
            ray, _ = view.sample_ray(0.0, 0.5, mi.Point2f(x / width, y / height), mi.Point2f(0.5, 0.5))
            hit = shot.ray_intersect_preliminary(ray)
            behind = clean.ray_intersect_preliminary(ray)
            place = ray(behind.t)
            seen = behind.is_valid()
            # Evaluated here once: every use below would trace the large scenes again.
            dr.eval(ray, hit, place, seen)
            on_glass = mirrored = None
            if glass is not None:
                pane = glass.ray_intersect(ray)
                on_glass = pane.is_valid() & (dr.abs(pane.t - behind.t) < STEP)
                away = ray.d - 2 * dr.dot(ray.d, pane.n) * pane.n
                mirrored = mi.Ray3f(place + away * STEP, away)
                dr.eval(on_glass, mirrored)

            def add(target: np.ndarray, where, window: slice = window) -> None:
                target[window] += np.array(dr.select(where, 1.0, 0.0)).reshape(-1, width) / grid**2

            for name, mesh in found.items():
                own = hit.is_valid() & (hit.shape == mi.ShapePtr(mesh))
                dr.eval(own)
                add(out[name].object, own)
                if not scene.lamps:
                    dark = alone[name].ray_test(mi.Ray3f(place + sun * STEP, sun)) & seen & ~own
                    add(out[name].shadow, dark if on_glass is None else dark & ~on_glass)
                if mirrored is not None:
                    add(out[name].mirror, on_glass & alone[name].ray_test(mirrored) & ~own)
    return out


def _only(mesh: Mesh) -> mi.Scene:
    return mi.load_dict({"type": "scene", "m": to_mitsuba(mesh, "m", PAINTED)})


# Share of the light that must go before a soft shadow counts, and from which on it counts in full: indoors, where
# all shadows are soft.
INDOORS = (0.012, 0.04)
# The same in daylight, where leaves and grass differ as much from one render to the next.
DAYLIGHT = (0.05, 0.10)
# In daylight only the dimming round a foot is soft: so near the body, pixels of a frame 3000 wide.
FOOT = 70


def soft_shadows(scene: Scene, cover: dict[str, Cover], shot: np.ndarray, clean: np.ndarray) -> np.ndarray:
    """What no single ray tells: the dimming round a foot, and the soft shadows of lamps; (H, W), 0 to 1.

    Where the two renders (H, W, 3) differ by more than a share of the light, near a distraction, that place joins
    the nearest one's shadow. The weight fades to nothing, so that no step shows where the shadow ends.
    """
    change = np.abs(cv2.GaussianBlur(shot - clean, (0, 0), 5)).max(2)
    base = cv2.GaussianBlur(clean, (0, 0), 5).max(2) + 0.02
    faint, plain = INDOORS if scene.lamps else DAYLIGHT
    weight = np.clip((change / base - faint) / (plain - faint), 0, 1)
    weight = (weight * weight * (3 - 2 * weight)).astype(np.float32)
    # The blur above carries the body's own difference outwards; its rim is no shadow.
    bodies = np.zeros(weight.shape, np.uint8)
    wires = {thing.name for thing in scene.distractions if thing.kind == "wire" and not scene.lamps}
    for name, each in cover.items():
        if name not in wires:
            bodies |= (each.object > 0).astype(np.uint8)
    if not scene.lamps:
        away = cv2.distanceTransform(1 - bodies, cv2.DIST_L2, 5) * (3000 / shot.shape[1])
        weight *= np.clip(2 - 2 * away / FOOT, 0, 1).astype(np.float32)
    rim = cv2.dilate(bodies, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (21, 21)))
    count, labels = cv2.connectedComponents((weight > 0).astype(np.uint8))
    wide = np.bincount(labels[(weight > 0.5) & (rim == 0)], minlength=count)
    near = np.zeros(count, bool)
    near[np.unique(labels[rim > 0])] = True
    keep = near & (wide > 60)
    keep[0] = False
    weight = weight * keep[labels]
    names = [name for name in cover if name not in wires]
    distances = [cv2.distanceTransform((cover[n].object <= 0).astype(np.uint8), cv2.DIST_L2, 5) for n in names]
    nearest = np.argmin(np.stack(distances), 0)
    for k, name in enumerate(names):
        own = weight * ((nearest == k) & (cover[name].object <= 0))
        cover[name].shadow = np.maximum(cover[name].shadow, own)
    return weight


def pane_cover(scene: Scene, size: tuple[int, int], grid: int = 4) -> np.ndarray:
    """How much of each pixel shows a pane, (H, W) 0 to 1."""
    world, _ = build(scene, False)
    glass = next(s for s in world.shapes() if s.id() == "panes")
    width, height = size
    view = sensor(scene, size)
    index = dr.arange(mi.UInt32, width * height)
    total = np.zeros((height, width), np.float32)
    for k in range(grid * grid):
        x = mi.Float(index % width) + (k % grid + 0.5) / grid
        y = mi.Float(index // width) + (k // grid + 0.5) / grid
        ray, _ = view.sample_ray(0.0, 0.5, mi.Point2f(x / width, y / height), mi.Point2f(0.5, 0.5))
        hit = world.ray_intersect_preliminary(ray)
        seen = hit.is_valid() & (hit.shape == mi.ShapePtr(glass))
        total += np.array(dr.select(seen, 1.0, 0.0)).reshape(height, width) / grid**2
    return total
