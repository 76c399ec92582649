"""How far away everything in a frame is, and where its camera stood: what tells where one frame is seen in another.

    python demo/render/depth.py ov-0412 ov-0414 ov-0415

Beside a frame lies then NAME-depth.png, 16 bit, a quarter of the frame's sides: the inverse distance from the camera
along the ray of each pixel's middle, in units of 1 / 131070 m, 0 for the sky; and its JSON says how the camera stood.
"""

from __future__ import annotations

import argparse
import json
from pathlib import Path

import cv2
import drjit as dr
import mitsuba as mi
import numpy as np
from scenes import SCENES
from shoot import PICTURES
from world import build, sensor

# How much smaller depths are kept than the picture.
REDUCED = 4
# One over a metre, as it is kept in 16 bit.
UNIT = 131070


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("scenes", nargs="+", choices=SCENES)
    parser.add_argument("--out", type=Path, default=PICTURES)
    asked = parser.parse_args()
    for name in asked.scenes:
        scene = SCENES[name]()
        width, height = scene.size[0] // REDUCED, scene.size[1] // REDUCED
        world = build(scene, False)[0]
        view = sensor(scene, (width, height))
        index = dr.arange(mi.UInt32, width * height)
        place = mi.Point2f((mi.Float(index % width) + 0.5) / width, (mi.Float(index // width) + 0.5) / height)
        ray, _ = view.sample_ray(0.0, 0.5, place, mi.Point2f(0.5, 0.5))
        hit = world.ray_intersect_preliminary(ray)
        inverse = np.array(dr.select(hit.is_valid(), 1 / dr.maximum(hit.t, 0.1), 0.0)).reshape(height, width)
        stored = np.clip(np.rint(inverse * UNIT), 0, 65535).astype(np.uint16)
        (asked.out / f"{name}-depth.png").write_bytes(cv2.imencode(".png", stored)[1].tobytes())
        file = asked.out / f"{name}.json"
        facts = json.loads(file.read_text())
        facts["depth"] = f"{name}-depth.png"
        facts["camera"] = {
            "at": scene.camera, "look": scene.look, "up": scene.up, "fov": scene.fov,
        }  # fmt: skip
        file.write_text(json.dumps(facts, indent=2) + "\n")


if __name__ == "__main__":
    main()
