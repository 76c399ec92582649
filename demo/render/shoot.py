"""Render one frame of the demo shoot: as shot, its clean twin, and a mask for each distraction.

    python demo/render/shoot.py ov-0412 --width 1800 --height 1200 --passes 24 --out demo/pictures

Needs the extra "render" of pyproject.toml and an LLVM that Mitsuba can use (docs/demo.md).
"""

from __future__ import annotations

import argparse
import json
import time
from pathlib import Path

import camera as lens
import cv2
import light
import mitsuba as mi
import numpy as np

mi.set_variant("llvm_ad_rgb")

import drjit as dr  # noqa: E402
import pyoidn  # noqa: E402
from mesh import Mesh  # noqa: E402
from scenes import SCENES, Scene  # noqa: E402


def to_mitsuba(mesh: Mesh, name: str, bsdf: dict) -> mi.Mesh:
    properties = mi.Properties()
    properties["mesh_bsdf"] = mi.load_dict(bsdf)
    out = mi.Mesh(name, len(mesh.vertices), len(mesh.faces), props=properties)
    out.add_attribute("vertex_color", 3, np.ascontiguousarray(np.clip(mesh.colours, 0, 1), np.float32).ravel())
    parameters = mi.traverse(out)
    parameters["vertex_positions"] = np.ascontiguousarray(mesh.vertices, np.float32).ravel()
    parameters["faces"] = np.ascontiguousarray(mesh.faces, np.uint32).ravel()
    parameters.update()
    return out


PAINTED = {
    "type": "twosided",
    "bsdf": {"type": "diffuse", "reflectance": {"type": "mesh_attribute", "name": "vertex_color"}},
}
PANES = {"type": "thindielectric", "int_ior": 1.52}


def build(scene: Scene, with_distractions: bool, sun: np.ndarray) -> tuple[mi.Scene, dict[str, mi.Mesh]]:
    parts: dict = {"type": "scene"}
    for k, mesh in enumerate(scene.solid):
        parts[f"solid{k}"] = to_mitsuba(mesh, f"solid{k}", PAINTED)
    if scene.glass is not None:
        parts["panes"] = to_mitsuba(scene.glass, "panes", PANES)
    for k, group in enumerate(scene.instanced):
        parts[f"group{k}"] = {"type": "shapegroup", "mesh": to_mitsuba(group.mesh, f"group{k}", PAINTED)}
        for j, (x, y, z, size, turn) in enumerate(group.places):
            place = mi.ScalarTransform4f().translate([x, y, z]).rotate([0, 0, 1], turn).scale(size)
            parts[f"group{k}i{j}"] = {
                "type": "instance",
                "to_world": place,
                "group": {"type": "ref", "id": f"group{k}"},
            }
    found = {}
    if with_distractions:
        for name, _, mesh in scene.distractions:
            found[name] = parts[f"d {name}".replace(" ", "_")] = to_mitsuba(mesh, name, PAINTED)
    if scene.indoor:
        for k, (origin, target, size, power) in enumerate(
            [
                ((-2.2, -2.4, 2.6), (0, 0, 0.6), 0.75, 17.0),
                ((2.4, -2.8, 2.0), (0, 0, 0.5), 0.6, 5.0),
                ((0, -1.0, 3.0), (0, 0, 0), 1.2, 2.2),
            ]
        ):
            at = mi.ScalarTransform4f().look_at(origin=origin, target=target, up=(0, 0.1, 1)).scale(size)
            parts[f"lamp{k}"] = {
                "type": "rectangle",
                "to_world": at,
                "emitter": {"type": "area", "radiance": {"type": "rgb", "value": [power, power * 0.96, power * 0.9]}},
            }
    else:
        parts["sky"] = {
            "type": "envmap",
            "bitmap": mi.Bitmap(light.sky(np.array(scene.sun)) * scene.sky_strength),
            "to_world": mi.ScalarTransform4f().rotate([1, 0, 0], 90),
        }
        s = scene.sun_strength
        parts["sun"] = {
            "type": "directional",
            "direction": (-sun).tolist(),
            "irradiance": {"type": "rgb", "value": [s, s * 0.90, s * 0.74]},
        }
    return mi.load_dict(parts), found


def sensor(scene: Scene, width: int, height: int) -> mi.Sensor:
    look = mi.ScalarTransform4f().look_at(origin=scene.camera, target=scene.look, up=(0, 0, 1))
    return mi.load_dict(
        {
            "type": "thinlens", "fov": scene.fov, "fov_axis": "x", "to_world": look,
            "aperture_radius": scene.aperture, "focus_distance": scene.focus,
            "film": {
                "type": "hdrfilm", "width": width, "height": height, "rfilter": {"type": "box"}, "pixel_format": "rgb",
            },
        }
    )  # fmt: skip


def render(scene: Scene, with_distractions: bool, width: int, height: int, passes: int, samples: int) -> np.ndarray:
    """Linear radiance (H, W, 3), denoised with albedo and normals; the sun's disc is sampled pass by pass."""
    random = np.random.default_rng(5)
    integrator = mi.load_dict({"type": "aov", "aovs": "a:albedo,n:sh_normal", "img": {"type": "path", "max_depth": 9}})
    view = sensor(scene, width, height)
    base = np.array(scene.sun) / np.linalg.norm(scene.sun)
    world, _ = build(scene, with_distractions, base)
    parameters = mi.traverse(world)
    total = np.zeros((height, width, 9), np.float64)
    for number in range(passes):
        if not scene.indoor:
            sun = base + random.normal(0, 0.004, 3)
            sun /= np.linalg.norm(sun)
            frame = mi.ScalarTransform4f().look_at(origin=[0, 0, 0], target=(-sun).tolist(), up=[0, 0, 1])
            parameters["sun.to_world"] = mi.Transform4f(frame)
            parameters.update()
        image = np.array(mi.render(world, sensor=view, integrator=integrator, spp=samples, seed=number))
        image = np.nan_to_num(image[..., :9])
        image[..., :3] = np.minimum(image[..., :3], 12)
        total += image
    total = (total / passes).astype(np.float32)
    return denoise(total[..., :3], total[..., 3:6], total[..., 6:9])


def denoise(colour: np.ndarray, albedo: np.ndarray, normal: np.ndarray) -> np.ndarray:
    device = pyoidn.Device()
    device.commit()
    # The filter keeps no reference to what it is given: the arrays must live until it has run.
    images = {
        "color": np.ascontiguousarray(colour),
        "albedo": np.ascontiguousarray(np.clip(albedo, 0, 1)),
        "normal": np.ascontiguousarray(normal),
        "output": np.zeros_like(colour),
    }
    with pyoidn.Filter(device, "RT") as work:
        for name, image in images.items():
            work.set_image(name, image, pyoidn.OIDN_FORMAT_FLOAT3)
        work.set_bool("hdr", True)
        work.commit()
        work.execute()
    return images["output"]


def coverage(scene: Scene, width: int, height: int, grid: int = 4) -> dict[str, tuple[np.ndarray, np.ndarray]]:
    """For each distraction: how much of each pixel it covers, and how much of each its shadow; (H, W) 0 to 1."""
    view = sensor(scene, width, height)
    sun = np.array(scene.sun) / np.linalg.norm(scene.sun)
    shot, found = build(scene, True, sun)
    clean, _ = build(scene, False, sun)
    out = {name: (np.zeros(width * height, np.float32), np.zeros(width * height, np.float32)) for name in found}
    alone = {
        name: mi.load_dict({"type": "scene", "m": to_mitsuba(mesh, name, PAINTED)})
        for name, _, mesh in scene.distractions
    }
    index = dr.arange(mi.UInt32, width * height)
    for k in range(grid * grid):
        fx, fy = (k % grid + 0.5) / grid, (k // grid + 0.5) / grid
        place = mi.Point2f((mi.Float(index % width) + fx) / width, (mi.Float(index // width) + fy) / height)
        ray, _ = view.sample_ray(0.0, 0.5, place, mi.Point2f(0.5, 0.5))
        hit = shot.ray_intersect_preliminary(ray)
        ground = clean.ray_intersect(ray)
        towards = ground.spawn_ray(mi.Vector3f(*sun.tolist())) if not scene.indoor else None
        for name, mesh in found.items():
            own = np.array(dr.select(hit.is_valid() & (hit.shape == mi.ShapePtr(mesh)), 1.0, 0.0))
            out[name][0][:] += own / grid**2
            if towards is not None:
                dark = alone[name].ray_test(towards) & ground.is_valid()
                out[name][1][:] += np.array(dr.select(dark, 1.0, 0.0)) / grid**2
    return {n: (a.reshape(height, width), b.reshape(height, width)) for n, (a, b) in out.items()}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("scene", choices=sorted(SCENES))
    parser.add_argument("--width", type=int, default=1800)
    parser.add_argument("--height", type=int, default=1200)
    parser.add_argument("--passes", type=int, default=16)
    parser.add_argument("--samples", type=int, default=2, help="samples a pixel in one pass")
    parser.add_argument("--out", type=Path, default=Path("demo/pictures"))
    parser.add_argument("--look-only", action="store_true", help="the frame as shot, nothing else")
    asked = parser.parse_args()
    started = time.time()
    scene = SCENES[asked.scene]()
    size = (asked.width, asked.height)
    asked.out.mkdir(parents=True, exist_ok=True)
    shot = render(scene, True, *size, asked.passes, asked.samples)
    if asked.look_only:
        lens.save_jpeg(asked.out / f"{scene.name}.jpg", lens.finish(shot, scene.exposure, scene.grain, 3))
        print(f"{scene.name}: {time.time() - started:.0f} s")
        return
    clean = render(scene, False, *size, asked.passes, asked.samples)
    areas = coverage(scene, *size)
    # What a distraction changes: its body, its shadow, and the soft light round its foot.
    touched = np.zeros(shot.shape[:2], np.float32)
    for body, shadow in areas.values():
        touched = np.maximum(touched, np.maximum(body, shadow))
    core = cv2.dilate((touched > 0).astype(np.uint8), np.ones((3, 3), np.uint8))
    reach = 5
    near = cv2.dilate(core, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1)))
    blend = np.clip(cv2.GaussianBlur(core.astype(np.float32), (0, 0), 1.5), 0, 1)
    blend = np.where(core > 0, 1.0, blend) * (near > 0)
    shot = clean + (shot - clean) * blend[..., None]
    finished_clean = lens.finish(clean, scene.exposure, scene.grain, 3)
    finished_shot = lens.finish(shot, scene.exposure, scene.grain, 3)
    outside = near == 0
    finished_shot[outside] = finished_clean[outside]
    entries = []
    for name, kind, _ in scene.distractions:
        for what, area in zip(("object", "shadow"), areas[name], strict=True):
            if (area > 0).sum() < 30:
                continue
            file = f"{scene.name}-{name.replace(' ', '-')}{'-shadow' if what == 'shadow' else ''}.png"
            lens.save_png(asked.out / file, np.rint(np.clip(area, 0, 1) * 255).astype(np.uint8))
            entries.append({"name": name, "kind": kind, "part": what, "mask": file})
    touched_file = f"{scene.name}-touched.png"
    lens.save_png(asked.out / touched_file, near * 255)
    # The pair is lossless, so that it agrees to the bit outside the touched area.
    lens.save_png(asked.out / f"{scene.name}.png", finished_shot)
    lens.save_png(asked.out / f"{scene.name}-clean.png", finished_clean)
    facts = {
        "frame": f"{scene.name}.png",
        "clean": f"{scene.name}-clean.png",
        "touched": touched_file,
        "distractions": entries,
    }
    (asked.out / f"{scene.name}.json").write_text(json.dumps(facts, indent=2) + "\n")
    print(f"{scene.name}: {time.time() - started:.0f} s")


if __name__ == "__main__":
    main()
