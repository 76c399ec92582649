"""Render one frame of the demo shoot: as shot, its clean twin, and a mask for each distraction.

    python demo/render/shoot.py ov-0412
    python demo/render/shoot.py ov-0412 --scale 0.25 --samples 8 --out /tmp/look --look-only

Needs the extra "render" of pyproject.toml and an LLVM that Mitsuba can use (docs/demo.md).
"""

from __future__ import annotations

import argparse
import io
import json
import time
from pathlib import Path

import camera as lens
import cv2
import dust
import numpy as np
from cover import cover_of, pane_cover, soft_shadows
from PIL import Image
from scene import Scene
from scenes import SCENES
from world import Window, build, panes, render

PICTURES = Path(__file__).parents[2] / "src/keen_sweep/demo/pictures"
SEED = 3
START = time.time()
# How far past the masks a frame may differ from its clean twin, pixels.
REACH = 2


def windows_round(touched: np.ndarray, pad: int = 90) -> list[Window]:
    """A few windows that hold everything touched, with room for soft shadows: rows that belong together."""
    height, width = touched.shape
    rows = np.flatnonzero(touched.any(1))
    out: list[Window] = []
    for group in np.split(rows, np.flatnonzero(np.diff(rows) > 3 * pad) + 1):
        columns = np.flatnonzero(touched[group[0] : group[-1] + 1].any(0))
        top, bottom = max(int(group[0]) - pad, 0), min(int(group[-1]) + 1 + pad, height)
        left, right = max(int(columns[0]) - pad, 0), min(int(columns[-1]) + 1 + pad, width)
        out.append((left, top, right - left, bottom - top))
    return out


def grown(mask: np.ndarray, by: int) -> np.ndarray:
    return cv2.dilate(mask.astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * by + 1, 2 * by + 1))) > 0


class Frame:
    """What is known of a frame as it grows: linear light as shot and clean, and the mask of each distraction."""

    def __init__(self, scene: Scene, size: tuple[int, int], samples: int) -> None:
        self.scene, self.size, self.samples = scene, size, samples
        self.masks: list[tuple[str, str, str, np.ndarray, dict]] = []
        self.reflection: np.ndarray | None = None
        # How much of the frame as shot each pixel takes; the rest is the clean twin.
        self.weight = np.zeros(size[::-1], np.float32)

    def render(self) -> None:
        scene, size = self.scene, self.size
        if scene.reflection:
            self.clean = self._light(build(scene, False, panes(scene.index, reflects=0))[0])
            only = self._light(build(scene, False, panes(scene.index, lets_through=0))[0])
            rest = self._light(build(scene, False, panes(scene.index, 0, 0))[0])
            area = pane_cover(scene, size)
            self.reflection = np.clip(only - rest, 0, None) * (area > 0)[..., None]
            self.shot = self.clean + self.reflection
            self.weight = (area > 0).astype(np.float32)
            self.masks.append(("reflection", "reflection", "object", area, {}))
            return
        self.clean = self._light(build(scene, False)[0])
        if not scene.distractions:
            self.shot = self.clean
            return
        # A large frame needs fewer rays a pixel for masks as smooth.
        cover = cover_of(scene, size, grid=4 if size[0] < 4000 else 2)
        print(f"  clean and cover after {time.time() - START:.0f} s", flush=True)
        touched = np.any([each.any > 0 for each in cover.values()], axis=0)
        self.shot = self.clean.copy()
        world = build(scene, True)[0]
        for x, y, width, height in windows_round(touched):
            part = render(scene, world, size, self.samples, (x, y, width, height))
            self.shot[y : y + height, x : x + width] = part
        hard = np.any([each.any > 0 for each in cover.values()], axis=0)
        self.weight = np.maximum(soft_shadows(scene, cover, self.shot, self.clean), hard)
        for thing in scene.distractions:
            for part in ("object", "shadow", "mirror"):
                self.masks.append((thing.name, thing.kind, part, getattr(cover[thing.name], part), {}))

    def _light(self, world) -> np.ndarray:
        return render(self.scene, world, self.size, self.samples)

    def add_dust(self) -> None:
        """Darken the frame as shot where the sensor is dirty."""
        total = np.zeros(self.size[::-1], np.float32)
        for number, speck in enumerate(dust.specks(), 1):
            scale = self.size[0] / 2880
            placed = dust.Speck(speck.x * scale, speck.y * scale, speck.diameter * scale, speck.depth)
            lost = dust.veil(placed, self.size)
            total = np.maximum(total, lost)
            facts = {"x": placed.x, "y": placed.y, "diameter": placed.diameter, "depth": placed.depth}
            self.masks.append((f"speck {number}", "speck", "object", (lost > 0.004).astype(np.float32), facts))
        self.veil = total

    def finish(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """uint8 frame as shot, clean twin, and where they may differ; elsewhere they are the same to the bit."""
        scene = self.scene
        touched = np.zeros(self.size[::-1], bool)
        for *_, area, _ in self.masks:
            touched |= area > 0
        near = grown(touched, REACH)
        rim = cv2.GaussianBlur((self.weight >= 1).astype(np.float32), (0, 0), 0.8) * near
        blend = np.maximum(self.weight, rim)
        shot = self.clean + (self.shot - self.clean) * blend[..., None].astype(np.float32)
        if scene.dust:
            shot = shot * (1 - self.veil[..., None])
        finished_clean = lens.finish(self.clean, scene.exposure, scene.grain, SEED)
        finished = lens.finish(shot, scene.exposure, scene.grain, SEED)
        finished[~near] = finished_clean[~near]
        return finished, finished_clean, near


def save(frame: Frame, folder: Path) -> None:
    """The JPEG as shot; the clean twin as an overlay; masks; and the JSON that names them (docs/demo.md)."""
    scene = frame.scene
    # A glint or shadow of a few pixels is not worth a mask, and so not worth being seen.
    frame.masks = [entry for entry in frame.masks if (entry[3] > 0).sum() >= 12]
    shot, clean, near = frame.finish()
    for old in folder.glob(f"{scene.name}*"):
        old.unlink()
    jpeg = lens.jpeg(shot, scene.exif)
    (folder / f"{scene.name}.jpg").write_bytes(jpeg)
    # The twin's pixels have been through the same JPEG as the frame's; beyond the touched area it is transparent.
    twin = np.asarray(Image.open(io.BytesIO(lens.jpeg(clean, scene.exif))).convert("RGB"))
    overlay = np.dstack([np.where(near[..., None], twin, 0), np.where(near, 255, 0)]).astype(np.uint8)
    lens.save_png(folder / f"{scene.name}-clean.png", overlay)
    facts: dict = {"frame": f"{scene.name}.jpg", "clean": f"{scene.name}-clean.png", "distractions": []}
    specks = np.zeros(near.shape, np.uint8)
    for name, kind, part, area, known in frame.masks:
        cover = np.rint(np.clip(area, 0, 1) * 255).astype(np.uint8)
        cover[(area > 0) & (cover == 0)] = 1
        file = f"{scene.name}-{name.replace(' ', '-')}{'' if part == 'object' else '-' + part}.png"
        ys, xs = np.nonzero(cover)
        box = [int(xs.min()), int(ys.min()), int(np.ptp(xs)) + 1, int(np.ptp(ys)) + 1]
        if kind == "speck":
            # One file for all of them: each is what lies in its box.
            file = f"{scene.name}-specks.png"
            specks = np.maximum(specks, cover)
            cover = specks
        lens.save_png(folder / file, cover)
        facts["distractions"].append({"name": name, "kind": kind, "part": part, "mask": file, "box": box, **known})
    if frame.reflection is not None:
        alone = lens.finish(frame.reflection, scene.exposure, 0.0, SEED)
        (folder / f"{scene.name}-reflection-alone.jpg").write_bytes(lens.jpeg(alone, scene.exif))
        facts["reflection"] = f"{scene.name}-reflection-alone.jpg"
    (folder / f"{scene.name}.json").write_text(json.dumps(facts, indent=2) + "\n")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("scene", choices=SCENES)
    parser.add_argument("--scale", type=float, default=1.0, help="of the frame's sides")
    parser.add_argument("--samples", type=int, help="samples a pixel")
    parser.add_argument("--out", type=Path, default=PICTURES)
    parser.add_argument("--look-only", action="store_true", help="the frame as shot, nothing else")
    asked = parser.parse_args()
    started = time.time()
    scene = SCENES[asked.scene]()
    size = (round(scene.size[0] * asked.scale), round(scene.size[1] * asked.scale))
    samples = asked.samples or scene.samples
    asked.out.mkdir(parents=True, exist_ok=True)
    print(f"{scene.name}: built in {time.time() - started:.0f} s", flush=True)
    if asked.look_only:
        shot = render(scene, build(scene, True)[0], size, samples)
        finished = lens.finish(shot, scene.exposure, scene.grain, SEED)
        (asked.out / f"{scene.name}.jpg").write_bytes(lens.jpeg(finished, scene.exif))
    else:
        frame = Frame(scene, size, samples)
        frame.render()
        if scene.dust:
            frame.add_dust()
        save(frame, asked.out)
    print(f"{scene.name}: {time.time() - started:.0f} s", flush=True)


if __name__ == "__main__":
    main()
