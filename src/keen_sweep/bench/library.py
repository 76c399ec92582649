"""A library that was worked in for long, measured: opening it, listing it, checking it, beside hashing its files."""

from __future__ import annotations

import itertools
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import imagecodecs
import numpy as np

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.check import check
from keen_sweep.store.files import content_hash
from keen_sweep.store.library import Library
from keen_sweep.store.room import room_of_shoots
from keen_sweep.studio.desk import desk
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot, shoots
from keen_sweep.studio.gathering.states import standings_of
from keen_sweep.studio.history import undo
from keen_sweep.studio.marking.draw import new_sweep

PICTURE_SIDE_PX = 96
FRAMES_PER_SHOOT = 100
# Sweeps in a frame; after that each is undone before the next, so that the history keeps growing.
MAX_SWEEPS = 20


def run_library(tell: Callable[[str], None], frames: int, revisions: int) -> str:
    """Seconds, and as ratios to hashing all files once."""
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "library"
        first = _worked_on(place, frames, revisions, tell)
        times: dict[str, float] = {}

        def timed(what: str, do: Callable[[], object]) -> None:
            clock = time.perf_counter()
            do()
            times[what] = time.perf_counter() - clock

        timed("all files hashed", lambda: [content_hash(each) for each in place.rglob("files/*/*")])
        opened = Library(place)
        opened.close()
        timed("opened", lambda: Library(place).close())
        library = Library(place)
        timed("all shoots listed", lambda: shoots(library))
        timed("how far all frames are", lambda: [standings_of(library, shoot.id) for shoot, _ in shoots(library)])
        timed("a desk", lambda: desk(library, first))
        timed("what room each shoot takes", lambda: room_of_shoots(library))
        timed("checked", lambda: check(library))
        library.close()
    base = times["all files hashed"]
    lines = [
        f"# A library of {frames} frames and {revisions} revisions",
        "",
        "| step | seconds | ratio |",
        "|---|---|---|",
    ]
    lines += [f"| {what} | {spent:.2f} | {spent / base:.2f} |" for what, spent in times.items()]
    text = "\n".join(lines)
    tell(text)
    return text


def _worked_on(place: Path, frames: int, revisions: int, tell: Callable[[str], None]) -> int:
    """A library with so many frames and revisions in all; the number of its first frame."""
    library = Library(place)
    numbers = []
    for shoot, count in itertools.groupby(range(frames), lambda k: k // FRAMES_PER_SHOOT):
        made = make_shoot(library, f"Shoot {shoot + 1}")
        for k in count:
            file = library.incoming / "upload"
            pixels = np.random.default_rng(k).integers(0, 255, (PICTURE_SIDE_PX, PICTURE_SIDE_PX, 3)).astype(np.uint8)
            file.write_bytes(imagecodecs.png_encode(pixels))
            numbers.append(add_frame(library, made.id, f"{k}.png", file).id)
    for k in range(revisions - frames):
        frame, turn = numbers[k % frames], k // frames
        if turn >= MAX_SWEEPS and turn % 2:
            undo(library, frame)
        x, y = 8.0 + 4 * (turn % MAX_SWEEPS), 10.0 + turn
        new_sweep(
            library, frame, [Stroke(points=((x, y % PICTURE_SIDE_PX), (x + 3, (y + 9) % PICTURE_SIDE_PX)), size=5)]
        )
        if k % 2_000 == 0:
            tell(f"{k} of {revisions} edits are made")
    library.close()
    return numbers[0]
