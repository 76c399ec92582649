"""Make the demo library: one sweep done, one marked and waiting to be filled."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.parts import Part, parts_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.demo.shoot import PICTURES_FOLDER, distractions, facts, mask_of
from keen_sweep.demo.shoot import frames as names
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run
from keen_sweep.store.words import RunState
from keen_sweep.studio import desk
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.running.carry_out import carry_out

SHOOT_NAME = "Orrin Vale garden guide"
# Raise this when the demo library must be made anew.
DEMO_VERSION = "7"


def make_demo_library(folder: Path, tell: Callable[[str], None]) -> None:
    """Make the demo library in a folder unless it is there already."""
    done = folder / "demo.txt"
    if done.is_file() and done.read_text() == DEMO_VERSION:
        return
    tell(f"Making the demo library in {folder}")
    if folder.exists() and (not any(folder.iterdir()) or (folder / "library.db").exists()):
        shutil.rmtree(folder)
    library = Library(folder)
    shoot = make_shoot(library, SHOOT_NAME)
    frames = {}
    for name in names():
        picture = facts(name).frame
        source = library.incoming / picture
        shutil.copyfile(PICTURES_FOLDER / picture, source)
        frame = add_frame(library, shoot.id, picture, source)
        frames[name] = frame.id
    garden = frames["ov-0412"]
    tell("Filling the first sweep")
    cables, _ = new_sweep(library, garden, _strokes("ov-0412", "cable", 2, shadows=False), "Cables")
    _fill_now(library, garden, cables)
    new_sweep(library, garden, _areas(library, "ov-0412", "visitor", 7), "Two visitors")
    library.close()
    done.write_text(DEMO_VERSION)


def _fill_now(library: Library, frame_id: int, sweep_id: str) -> None:
    run = ask_fill(library, frame_id, sweep_id)
    with library.session() as session:
        row = session.get(Run, run.id)
        assert row is not None
        row.state = RunState.RUNNING
        session.add(row)
    carry_out(library, run.id)
    sweep = next(s for s in desk.desk(library, frame_id).sweeps if s.sweep.id == sweep_id)
    pick(library, frame_id, sweep_id, sweep.best)


def _strokes(frame: str, name: str, margin: int, shadows: bool = True) -> list[Stroke]:
    """Strokes as a hand would draw them over the distractions of a frame whose names begin so."""
    strokes = []
    for entry in distractions(frame):
        if entry.name.startswith(name) and (shadows or entry.part == "object"):
            mask = np.where(mask_of(frame, entry) > 8, 255, 0).astype(np.uint8)
            strokes += [_along(part, margin) for part in parts_of(mask) if part.area > 12]
    return strokes


def _areas(library: Library, frame: str, name: str, margin: int) -> list[Area]:
    """The distractions of a frame whose names begin so, as a careful hand or Cling marks them: with a margin."""
    together: EightBit | None = None
    for entry in distractions(frame):
        if entry.name.startswith(name):
            found = (mask_of(frame, entry) > 8).astype(np.uint8)
            together = found if together is None else together | found
    if together is None:
        return []
    ellipse = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * margin + 1,) * 2)
    parts = parts_of(np.asarray(cv2.dilate(together, ellipse), np.uint8))
    masks = [Mask(part.box, np.where(part.inside, 255, 0).astype(np.uint8)) for part in parts]
    return [as_area(each, library.files.add) for each in masks]


def _along(part: Part, margin: int) -> Stroke:
    """One stroke along the longer side of a part, as wide as the part is."""
    upright = part.box.height > part.box.width
    inside: Bools = part.inside if upright else part.inside.T
    count = inside.shape[0]
    step = max(count // 60, 6)
    points, widths = [], []
    for at in sorted({*range(0, count, step), count - 1}):
        across = np.flatnonzero(inside[at])
        if across.size:
            points.append((at + 0.5, (across[0] + across[-1] + 1) / 2))
            widths.append(across[-1] + 1 - across[0])
    x, y = part.box.x, part.box.y
    placed = [(x + b, y + a) if upright else (x + a, y + b) for a, b in points]
    size = float(np.percentile(widths, 90)) + 2 * margin
    return Stroke(points=tuple((float(a), float(b)) for a, b in placed), size=max(size, 4.0))
