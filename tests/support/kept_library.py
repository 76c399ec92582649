"""Makes the library of a version of the database that tests/store/libraries keeps: run once when the tables change.

.venv/bin/python -m tests.support.kept_library
"""

from __future__ import annotations

import sys
import zipfile
from pathlib import Path
from tempfile import TemporaryDirectory

import imagecodecs
import numpy as np

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.library import NEWEST_REVISION, Library
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.desk import desk
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.history import undo
from keen_sweep.studio.marking.draw import new_sweep, rename_sweep
from keen_sweep.studio.marking.guarding import guard
from tests.support.journey import picture
from tests.support.runs import fill_now

KEPT = Path(__file__).parents[1] / "store" / "libraries"


def make(folder: Path) -> bytes:
    """A shoot with two pictures, the first with two sweeps, one of them filled (two takes) and picked, a guard drawn
    and taken back; the PNG that is delivered of it."""
    library = Library(folder)
    shoot = make_shoot(library, f"Shoot of version {int(NEWEST_REVISION)}")
    ids = []
    for seed, name in enumerate(("patches.png", "more patches.png")):
        incoming = library.incoming / name
        incoming.write_bytes(bytes(imagecodecs.png_encode(imagecodecs.png_decode(picture(seed, 5)))))
        ids.append(add_frame(library, shoot.id, name, incoming))
    frame = ids[0]
    first, _ = new_sweep(library, frame.id, [Stroke(points=((20.0, 20.0), (20.0, 40.0)), size=6)])
    new_sweep(library, frame.id, [Stroke(points=((60.0, 20.0), (60.0, 40.0)), size=6)])
    rename_sweep(library, frame.id, first, "Left rod")
    fill_now(library, frame, first, takes=2)
    take = desk(library, frame.id).sweeps[0].takes[0].id
    pick(library, frame.id, first, take)
    guard(library, frame.id, [Stroke(points=((40.0, 10.0),), size=8)])
    undo(library, frame.id)
    delivered = deliver(library, frame.id, Wanted(kind=Kind.PNG, ledger=False)).data
    library.close()
    assert np.asarray(imagecodecs.png_decode(delivered)).shape == (60, 90, 3)
    return delivered


def main() -> None:
    target = KEPT / f"{NEWEST_REVISION}.zip"
    if target.exists():
        sys.exit(f"{target} is there already.")
    with TemporaryDirectory() as room:
        folder = Path(room) / "library"
        delivered = make(folder)
        with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("delivered.png", delivered)
            for file in sorted(folder.rglob("*")):
                if file.is_file() and "views" not in file.parts and not file.name.startswith("library.db-"):
                    packed.write(file, Path("library") / file.relative_to(folder))
    print(f"{target}, {target.stat().st_size} bytes")


if __name__ == "__main__":
    main()
