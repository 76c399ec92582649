"""Fills of ours beside the photographs they replace, to learn from what tells them apart.

    python training/fills.py --root / --out /tmp/fills --count 1600

Photographs come from Debian's packages (plasma-workspace-wallpapers, lomiri-wallpapers-16.04 and -20.04,
mate-backgrounds, stellarium-data, opencv-doc, ufoai-textures), from below the folder into which they were installed or
unpacked. Pictures that the benchmark shows are never taken, nor are those of scikit-image, scikit-learn and the demo
shoot. Every crop is filled by starts of every kind: fills of one kind alone would teach the looks of that kind.
"""

from __future__ import annotations

import argparse
import multiprocessing
from pathlib import Path
from zipfile import ZipFile

import cv2
import imagecodecs
import numpy as np
from numpy.typing import NDArray

from keen_sweep.bench.cases import blob, person, wire
from keen_sweep.bench.photographs import ALL_PHOTOGRAPHS
from keen_sweep.core.box import whole
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.kinds import LINES_KIND, REPEATS_KIND, SHARP_KIND, SHARPER_KIND, SOFT_KIND
from keen_sweep.core.fill.weave.scene import make_scene
from keen_sweep.core.fill.weave.synthesis import begin, finish

SIDE = 288
EightBit = NDArray[np.uint8]
FOLDERS = (
    "usr/share/wallpapers/*/contents/images/2560x1600.jpg",
    "usr/share/backgrounds/*_by_*.jpg",
    "usr/share/backgrounds/mate/nature/*.jpg",
    "usr/share/stellarium/landscapes/hurricane/hurricane*.png",
    "usr/share/stellarium/landscapes/guereins/guereins?.png",
    "usr/share/doc/opencv-doc/examples/data/*.jpg",
    "usr/share/doc/opencv-doc/examples/data/graf*.png",
    "usr/share/doc/opencv-doc/examples/data/rubberwhale*.png",
    "usr/share/doc/opencv-doc/examples/text/scenetext*.jpg",
)
ARCHIVE = "usr/share/games/ufoai/base/0textures.pk3"
WALLS = ("tex_buildings/", "tex_nature/", "tex_streets/", "tex_mattn/", "tex_material/")


def photographs(root: Path) -> list[EightBit]:
    """All pictures that may be learned from, no larger than 2,600 pixels."""
    shown = {each.file for each in ALL_PHOTOGRAPHS}
    out = []
    for pattern in FOLDERS:
        for file in sorted(root.glob(pattern)):
            if str(file.relative_to(root)) in shown:
                continue
            picture = cv2.imread(str(file))
            if picture is not None and min(picture.shape[:2]) >= 256:
                out.append(_bounded(np.asarray(cv2.cvtColor(picture, cv2.COLOR_BGR2RGB), np.uint8)))
    archive = root / ARCHIVE
    if archive.is_file():
        with ZipFile(archive) as pack:
            names = [n for n in pack.namelist() if any(wall in n for wall in WALLS) and n.endswith((".jpg", ".png"))]
            for name in sorted(names)[::7]:
                if f"{ARCHIVE}:{name}" in shown or name.endswith(("_nm.png", "_sm.png")):
                    continue
                picture = np.asarray(imagecodecs.imread(pack.read(name)))
                if picture.ndim == 3 and picture.dtype == np.uint8 and min(picture.shape[:2]) >= 320:
                    out.append(np.ascontiguousarray(picture[..., :3]))
    return out


def _bounded(picture: EightBit) -> EightBit:
    scale = min(1.0, 2600 / max(picture.shape[:2]))
    return np.asarray(cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), np.uint8)


def example(random: np.random.Generator, photos: list[EightBit]) -> dict[str, NDArray[np.generic]] | None:
    """A crop, its hole, and fills of it: truth (SIDE, SIDE, 3), hole (SIDE, SIDE), fills (n, SIDE, SIDE, 3)."""
    photo = photos[random.integers(len(photos))]
    # Seen at full size, at half of it, at a third: fills are judged at half size.
    scale = min(1.0, max(float(random.choice([1.0, 0.5, 0.5, 0.33])), 1.15 * SIDE / min(photo.shape[:2])))
    seen = np.asarray(cv2.resize(photo, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), np.uint8)
    if min(seen.shape[:2]) < SIDE:
        return None
    y, x = (int(random.integers(0, side - SIDE + 1)) for side in seen.shape[:2])
    truth = np.ascontiguousarray(seen[y : y + SIDE, x : x + SIDE])
    if cv2.cvtColor(truth, cv2.COLOR_RGB2GRAY).std() < 6:
        return None
    if random.random() < 0.5:
        truth = np.ascontiguousarray(truth[:, ::-1])
    at = random.uniform(0.35, 0.65, 2)
    shape = random.integers(4)
    if shape == 0:
        hole = blob(at[0], at[1], float(random.uniform(0.01, 0.06)), int(random.integers(1000)))(truth)
    elif shape == 1:
        hole = person(float(at[0]), float(random.uniform(0.7, 0.9)), float(random.uniform(0.3, 0.6)))(truth)
    elif shape == 2:
        ends = random.uniform(0.1, 0.9, (2, 2))
        hole = wire([tuple(ends[0]), tuple(ends[1])], int(random.integers(8, 30)))(truth)
    else:
        canvas = np.zeros(truth.shape[:2], np.uint8)
        axes = tuple(int(v) for v in random.integers(10, 50, 2))
        cv2.ellipse(canvas, tuple(int(SIDE * v) for v in at), axes, float(random.uniform(0, 180)), 0, 360, 255, -1)
        hole = canvas > 0
    radius = float(cv2.distanceTransform(np.pad(hole.astype(np.uint8), 1), cv2.DIST_L2, 5).max())
    none = np.zeros_like(hole)
    scene = make_scene(truth, whole(truth), hole, none, none, radius)
    kinds = [SOFT_KIND, [SHARP_KIND, SHARPER_KIND][int(random.integers(2))]]
    kinds += [LINES_KIND] if scene.guides else []
    kinds += [REPEATS_KIND] if scene.shifts is not None else []
    fills = []
    for kind in kinds:
        woven = finish(
            scene, begin(scene, kind, int(random.integers(1 << 30)), Quality.FINE, _quiet), Quality.FINE, _quiet
        )
        fill = truth.copy()
        window = fill[woven.window.slices]
        window[woven.hole] = np.rint(woven.pixels[woven.hole]).clip(0, 255)
        fills.append(fill)
    return {"truth": truth, "hole": hole, "fills": np.stack(fills)}


def _quiet(share: float) -> None:
    """Nobody waits."""


def _make(given: tuple[str, str, int, int]) -> int:
    root, out, first, count = given
    cv2.setNumThreads(1)
    photos = photographs(Path(root))
    made = 0
    for number in range(first, first + count):
        try:
            found = example(np.random.default_rng(number), photos)
        except KeenSweepError:
            continue
        if found is not None:
            np.savez_compressed(Path(out) / f"{number:06d}.npz", **found)  # type: ignore[arg-type]
            made += 1
    return made


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--root", default="/")
    parser.add_argument("--out", required=True)
    parser.add_argument("--count", type=int, default=1600)
    parser.add_argument("--processes", type=int, default=2)
    asked = parser.parse_args()
    Path(asked.out).mkdir(parents=True, exist_ok=True)
    print(len(photographs(Path(asked.root))), "photographs")
    step = 20
    jobs = [(asked.root, asked.out, first, step) for first in range(0, asked.count, step)]
    with multiprocessing.get_context("spawn").Pool(asked.processes) as pool:
        made = 0
        for some in pool.imap_unordered(_make, jobs):
            made += some
            print(made, flush=True)


if __name__ == "__main__":
    main()
