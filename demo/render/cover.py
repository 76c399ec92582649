"""Where each distraction is seen: its body, its cast shadow and its mirror image."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import drjit as dr
import mitsuba as mi
import numpy as np
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


def cover_of(scene: Scene, size: tuple[int, int], grid: int = 4, rows: int = 500) -> dict[str, Cover]:
    """The cover of each distraction by name, from grid x grid rays in each pixel."""
    if not scene.distractions:
        return {}
    width, height = size
    shot, found = build(scene, True)
    clean, _ = build(scene, False)
    glass = next((s for s in clean.shapes() if s.id() == "panes"), None)
    alone = {
        t.name: mi.load_dict({"type": "scene", "m": to_mitsuba(t.mesh, t.name, PAINTED)}) for t in scene.distractions
    }
    view = sensor(scene, size)
    random = np.random.default_rng(6)
    out = {name: Cover(*(np.zeros((height, width), np.float32) for _ in range(3))) for name in found}
    for k in range(grid * grid):
        fx, fy = (k % grid + 0.5) / grid, (k // grid + 0.5) / grid
        sun = mi.Vector3f(*to_sun(scene, random).tolist())
        for top in range(0, height, rows):
            count = min(rows, height - top) * width
            index = dr.arange(mi.UInt32, count)
            x, y = mi.Float(index % width) + fx, mi.Float(index // width) + top + fy
            ray, _ = view.sample_ray(0.0, 0.5, mi.Point2f(x / width, y / height), mi.Point2f(0.5, 0.5))
            hit = shot.ray_intersect_preliminary(ray)
            behind = clean.ray_intersect(ray)
            mirrored = None
            if glass is not None:
                on_glass = behind.is_valid() & (behind.shape == mi.ShapePtr(glass))
                mirrored = behind.spawn_ray(behind.to_world(mi.reflect(behind.wi)))
            window = slice(top, top + count // width)

            def add(target: np.ndarray, seen, window=window) -> None:
                target[window] += np.array(dr.select(seen, 1.0, 0.0)).reshape(-1, width) / grid**2

            for name, mesh in found.items():
                own = hit.is_valid() & (hit.shape == mi.ShapePtr(mesh))
                add(out[name].object, own)
                if not scene.lamps:
                    dark = alone[name].ray_test(behind.spawn_ray(sun)) & behind.is_valid() & ~own
                    add(out[name].shadow, dark & ~on_glass if glass is not None else dark)
                if mirrored is not None:
                    add(out[name].mirror, on_glass & alone[name].ray_test(mirrored) & ~own)
    return out


def add_soft_shadows(cover: dict[str, Cover], shot: np.ndarray, clean: np.ndarray, least: float = 0.035) -> None:
    """Add what no single ray tells: the dimming round a foot, and the soft shadows of lamps.

    Where the two renders (H, W, 3) differ by more than a share of the light near a distraction, that place
    goes to the nearest one's shadow.
    """
    change = np.abs(cv2.GaussianBlur(shot - clean, (0, 0), 3)).max(2)
    base = cv2.GaussianBlur(clean, (0, 0), 3).max(2) + 0.02
    seen = (change / base > least).astype(np.uint8)
    seen = cv2.morphologyEx(seen, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7)))
    # The blur above carries the body's own difference outwards; its rim is no shadow.
    bodies = np.zeros(seen.shape, np.uint8)
    for each in cover.values():
        bodies |= (each.object > 0).astype(np.uint8)
    rim = cv2.dilate(bodies, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (15, 15)))
    count, labels = cv2.connectedComponents(seen)
    wide = np.bincount(labels[(seen > 0) & (rim == 0)], minlength=count)
    near = np.unique(labels[(rim > 0) & (seen > 0)])
    keep = np.zeros(count, bool)
    keep[near] = wide[near] > 40
    keep[0] = False
    soft = keep[labels]
    if not soft.any():
        return
    names = list(cover)
    distances = [cv2.distanceTransform((cover[n].object <= 0).astype(np.uint8), cv2.DIST_L2, 5) for n in names]
    nearest = np.argmin(np.stack(distances), 0)
    for k, name in enumerate(names):
        own = soft & (nearest == k) & (cover[name].object <= 0)
        cover[name].shadow = np.maximum(cover[name].shadow, own.astype(np.float32))


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
