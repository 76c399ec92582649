"""A cluster, measured: the rate of small fills with one worker and with two, through the queue and its library."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from distributed import LocalCluster
from sqlmodel import col, func, select

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.demo.shoot import PICTURES_FOLDER
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run
from keen_sweep.store.words import OPEN_STATES, RunState
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.running.cluster_queue import ClusterQueue

# Small fills on copies of one picture, each alone in a shoot so that nothing can be borrowed.
FILL_COUNT = 200
COPY_COUNT = 10
BRUSH_PX = 80
PICTURE_FILE = "ov-0459.jpg"
# Fills per worker before the measurement, so that every process has started.
WARM_UP_FILLS = 3


def run_cluster(tell: Callable[[str], None], count: int = FILL_COUNT) -> str:
    """Fills a second of one and of two workers on this machine, one core each."""
    rates = []
    lines = ["# Cluster", "", "| workers | fills of three takes | ratio to one |", "|---|---|---|"]
    for workers in (1, 2):
        rates.append(_rate(workers, count))
        lines.append(f"| {workers} | {count} | {rates[-1] / rates[0]:.2f} |")
        tell(lines[-1])
    lines += ["", f"Two do {rates[1] / (2 * rates[0]):.0%} of twice what one does."]
    tell(lines[-1])
    return "\n".join(lines)


def _rate(workers: int, count: int) -> float:
    with (
        tempfile.TemporaryDirectory() as folder,
        LocalCluster(n_workers=workers, threads_per_worker=1, dashboard_address=None) as cluster,
    ):
        library = Library(Path(folder) / "library")
        try:
            sweeps = _sweeps(library, count + workers * WARM_UP_FILLS)
            queue = ClusterQueue(library, cluster.scheduler_address)
            queue.start()
            try:
                for frame, sweep in sweeps[count:]:
                    ask_fill(library, frame, sweep, Fill())
                _until_done(library)
                clock = time.perf_counter()
                for frame, sweep in sweeps[:count]:
                    ask_fill(library, frame, sweep, Fill())
                _until_done(library)
                return count / (time.perf_counter() - clock)
            finally:
                queue.stop()
        finally:
            library.close()


def _sweeps(library: Library, count: int) -> list[tuple[int, str]]:
    """Small marks all over some frames: number of the frame, id of the sweep."""
    frames = []
    for number in range(COPY_COUNT):
        file = library.incoming / f"copy-{number}.jpg"
        # Its end is no part of the picture, so that each is a picture of its own.
        file.write_bytes((PICTURES_FOLDER / PICTURE_FILE).read_bytes() + bytes([number]))
        frames.append(add_frame(library, make_shoot(library, f"Copy {number}").id, file.name, file))
    out = []
    for number in range(count):
        frame = frames[number % COPY_COUNT]
        across, down = divmod(number // COPY_COUNT, 4)
        x, y = frame.width * (0.1 + 0.13 * across), frame.height * (0.2 + 0.2 * down)
        out.append(
            (frame.id, new_sweep(library, frame.id, [Stroke(points=((x, y), (x + BRUSH_PX, y + 4)), size=BRUSH_PX)])[0])
        )
    return out


def _until_done(library: Library) -> None:
    while True:
        with library.session() as session:
            failed = session.exec(select(Run.error).where(Run.state == RunState.FAILED)).first()
            left = session.exec(select(func.count(col(Run.id))).where(col(Run.state).in_(OPEN_STATES))).one()
        if failed is not None:
            raise RuntimeError(failed)
        if not left:
            return
        time.sleep(0.05)
