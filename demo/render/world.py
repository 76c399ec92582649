"""Scenes handed to Mitsuba, rendered in windows and denoised."""

from __future__ import annotations

from functools import cache

import mitsuba as mi
import numpy as np
import pyoidn

mi.set_variant("llvm_ad_rgb")

import light  # noqa: E402
from mesh import Mesh  # noqa: E402
from scene import Scene  # noqa: E402

PAINTED = {
    "type": "twosided",
    "bsdf": {"type": "diffuse", "reflectance": {"type": "mesh_attribute", "name": "vertex_color"}},
}
# Half the angle the sun's disc is smeared over, radians.
SUN_SPREAD = 0.004
# Samples taken at once: what fits into memory.
AT_ONCE = 16_000_000

Window = tuple[int, int, int, int]
"""x, y, width, height in pixels."""


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


def panes(index: float, reflects: float = 1.0, lets_through: float = 1.0) -> dict:
    return {
        "type": "thindielectric", "int_ior": index,
        "specular_reflectance": {"type": "rgb", "value": reflects},
        "specular_transmittance": {"type": "rgb", "value": lets_through},
    }  # fmt: skip


def build(scene: Scene, with_distractions: bool, glass: dict | None = None) -> tuple[mi.Scene, dict[str, mi.Mesh]]:
    """The scene for Mitsuba, and the meshes of its distractions by name."""
    parts: dict = {"type": "scene"}
    for k, mesh in enumerate(scene.solid):
        parts[f"solid{k}"] = to_mitsuba(mesh, f"solid{k}", PAINTED)
    if scene.glass is not None:
        parts["panes"] = to_mitsuba(scene.glass, "panes", glass or panes(scene.index))
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
        for thing in scene.distractions:
            mesh = to_mitsuba(thing.mesh, thing.name, PAINTED)
            found[thing.name] = parts["d_" + thing.name.replace(" ", "_")] = mesh
    for k, lamp in enumerate(scene.lamps):
        turned = mi.ScalarTransform4f().look_at(origin=lamp.at, target=lamp.target, up=(0, 0.1, 1)).scale(lamp.size)
        glow = [lamp.power, lamp.power * 0.96, lamp.power * 0.9]
        parts[f"lamp{k}"] = {
            "type": "rectangle",
            "to_world": turned,
            "emitter": {"type": "area", "radiance": {"type": "rgb", "value": glow}},
        }
    if not scene.lamps:
        parts["sky"] = {
            "type": "envmap",
            "bitmap": mi.Bitmap(_dome(scene)),
            "to_world": mi.ScalarTransform4f().rotate([1, 0, 0], 90),
        }
    return mi.load_dict(parts), found


@cache
def _sky(sun: tuple) -> np.ndarray:
    return light.sky(np.array(sun))


def _dome(scene: Scene) -> np.ndarray:
    sky = _sky(scene.sun) * scene.sky_strength
    return light.with_sun(sky, to_sun(scene), scene.sun_strength * np.array([1.0, 0.90, 0.74]), SUN_SPREAD)


def to_sun(scene: Scene, random: np.random.Generator | None = None) -> np.ndarray:
    """The direction to the sun's middle, or with a generator to somewhere on its disc."""
    sun = np.array(scene.sun, float) / np.linalg.norm(scene.sun)
    if random is not None:
        sun = sun + random.normal(0, SUN_SPREAD, 3)
    return sun / np.linalg.norm(sun)


def sensor(scene: Scene, size: tuple[int, int], window: Window | None = None) -> mi.Sensor:
    look = mi.ScalarTransform4f().look_at(origin=scene.camera, target=scene.look, up=scene.up)
    film = {"type": "hdrfilm", "width": size[0], "height": size[1], "rfilter": {"type": "box"}, "pixel_format": "rgb"}
    if window:
        x, y, width, height = window
        film |= {"crop_offset_x": x, "crop_offset_y": y, "crop_width": width, "crop_height": height}
    return mi.load_dict(
        {
            "type": "thinlens", "fov": scene.fov, "fov_axis": "x", "to_world": look,
            "aperture_radius": scene.aperture, "focus_distance": scene.focus, "film": film,
        }
    )  # fmt: skip


def bands(window: Window, samples: int, seam: int = 32) -> list[tuple[Window, int]]:
    """A window cut into bands that fit into memory: each with the rows at its top that belong to the one above."""
    x, y, width, height = window
    rows = max(AT_ONCE // (width * samples), 64)
    out, top = [], y
    while top < y + height:
        start = max(top - seam, y)
        stop = min(top + rows, y + height)
        end = min(stop + seam, y + height)
        out.append(((x, start, width, end - start), top - start))
        top = stop
    return out


def render(
    scene: Scene, world: mi.Scene, size: tuple[int, int], samples: int, window: Window | None = None
) -> np.ndarray:
    """Linear radiance (h, w, 3) of the frame or a window of it, denoised, from so many samples a pixel."""
    left, top, width, height = window or (0, 0, *size)
    out = np.empty((height, width, 3), np.float32)
    # Every call costs seconds of preparation, whatever its size: as few as memory allows.
    for band, overlap in bands((left, top, width, height), samples):
        pixels = _band(scene, world, size, band, samples)[overlap:]
        start = band[1] + overlap - top
        out[start : start + len(pixels)] = pixels
    return out


def _band(scene: Scene, world: mi.Scene, size: tuple[int, int], window: Window, samples: int) -> np.ndarray:
    integrator = mi.load_dict(
        {"type": "aov", "aovs": "a:albedo,n:sh_normal", "img": {"type": "path", "max_depth": scene.depth}}
    )
    view = sensor(scene, size, window)
    image = np.nan_to_num(np.array(mi.render(world, sensor=view, integrator=integrator, spp=samples, seed=1)))
    image = image.astype(np.float32)
    return denoise(np.minimum(image[..., :3], 12), image[..., 3:6], image[..., 6:9])


def denoise(colour: np.ndarray, albedo: np.ndarray, normal: np.ndarray) -> np.ndarray:
    device = pyoidn.Device()
    device.commit()
    # The filter keeps no reference to what it is given: the arrays must live until it has run.
    images = {
        "color": np.ascontiguousarray(colour),
        "albedo": np.ascontiguousarray(np.clip(albedo, 0, 1)),
        "normal": np.ascontiguousarray(normal),
        "output": np.zeros(colour.shape, np.float32),
    }
    with pyoidn.Filter(device, "RT") as work:
        for name, image in images.items():
            work.set_image(name, image, pyoidn.OIDN_FORMAT_FLOAT3)
        work.set_bool("hdr", True)
        work.commit()
        work.execute()
    return images["output"]
