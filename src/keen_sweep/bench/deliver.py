"""Delivery, measured: JPEGs of which only what changed is coded anew, beside decoding and encoding all of them."""

from __future__ import annotations

import io
import resource
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import jpeglib
import numpy as np
from PIL import Image, ImageFile

from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.demo.shoot import PICTURES_FOLDER
from keen_sweep.store.library import Library
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.into import deliver_into
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.filling.takes import keep_take
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.open_frame import open_frame

PICTURE_FILE = "ov-0459.jpg"
# Sweeps in the picture.
SWEEP_COUNT = 6
# Width and height of each sweep, pixels.
SWEEP_SIZE_PX = (400, 300)


def run_deliver(tell: Callable[[str], None], count: int) -> str:
    """Times as ratios to decoding and encoding by the library that the coefficients are read with."""
    lines = ["# Delivery", "", "| way | time, ratio |", "|---|---|"]
    with tempfile.TemporaryDirectory() as folder:
        library = Library(Path(folder) / "library")
        frame = _frame(library)
        original = library.files.path(open_frame(library, frame).frame.original)
        ways: dict[str, Callable[[int], object]] = {
            "decoded and encoded by the same library": lambda k: _plain(original, Path(folder) / f"plain-{k}.jpg"),
            "decoded and encoded by Pillow": lambda _: _by_pillow(original),
            "like the original": lambda k: deliver_into(library, frame, _wanted(k), f"{folder}/out"),
            "for the web, 2048 px": lambda k: deliver_into(library, frame, _wanted(k, Kind.WEB), f"{folder}/web"),
        }
        base = 0.0
        for name, way in ways.items():
            way(count)
            clock = time.perf_counter()
            for number in range(count):
                way(number)
            spent = time.perf_counter() - clock
            base = base or spent
            lines.append(f"| {name}, {count} times | {spent / base:.2f} |")
            tell(lines[-1])
        library.close()
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    lines += ["", f"Memory, at most: {peak:.0f} MB."]
    tell(lines[-1])
    return "\n".join(lines)


def _wanted(number: int, kind: Kind = Kind.SAME) -> Wanted:
    return Wanted(kind=kind, pattern=f"picture {number}")


def _frame(library: Library) -> int:
    file = library.incoming / PICTURE_FILE
    file.write_bytes((PICTURES_FOLDER / PICTURE_FILE).read_bytes())
    frame = add_frame(library, make_shoot(library, "Delivered").id, PICTURE_FILE, file)
    for k in range(SWEEP_COUNT):
        box = Box(x=300 + 800 * k, y=500 + 400 * k, width=SWEEP_SIZE_PX[0], height=SWEEP_SIZE_PX[1])
        sweep, _ = new_sweep(library, frame.id, [Stroke(points=((box.x + 20.0, box.y + 20.0),), size=30)])
        shape = (box.height, box.width)
        pixels, alpha = np.full((*shape, 3), 120, np.uint8), np.full(shape, 255, np.uint8)
        take = keep_take(library, frame.id, sweep, 0, Patch(box, pixels, alpha, MadeBy.WEAVE, 1))
        pick(library, frame.id, sweep, take)
    return frame.id


def _plain(original: Path, out: Path) -> None:
    read = jpeglib.read_spatial(str(original))
    assert read.spatial is not None
    read.write_spatial(str(out), qt=95)
    out.unlink()


def _by_pillow(original: Path) -> None:
    with Image.open(original) as image:
        pixels = np.asarray(image)
    ImageFile.MAXBLOCK = pixels.size
    Image.fromarray(pixels).save(io.BytesIO(), "JPEG", quality=95, subsampling=0, optimize=True)
