"""What a user waits for: whole commands from the start of the process to the last file, the server from its start, and
fills on the desk from the key to the take. Medians, beside one run of a reference on the same machine at the same time.
"""

from __future__ import annotations

import os
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
import imagecodecs
import numpy as np

from keen_sweep.bench.cases import blob
from keen_sweep.bench.references import shift_map
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.weave.scene import surroundings
from keen_sweep.demo.shoot import clean_twin

REPEAT_COUNT = 5
PROGRAM_COMMAND = (sys.executable, "-m", "keen_sweep")
FRAME_NAME = "ov-0459"
# Holes on the desk, megapixels.
SMALL_HOLE_MP = 0.012
LARGE_HOLE_MP = 0.11
# Longest wait for a server or a fill, seconds.
MAX_WAIT_SECONDS = 300.0


def run_speed(tell: Callable[[str], None]) -> str:
    """What takes how long: seconds, and as a ratio to one shift-map run round the largest hole."""
    with tempfile.TemporaryDirectory() as folder:
        room = Path(folder)
        large = clean_twin(FRAME_NAME)[1]
        small = np.ascontiguousarray(large[800:2080, 1200:3248])
        hole = np.zeros(large.shape[:2], bool)
        hole[1500:2400, 2600:3200] = True
        reference = _reference(large, hole)
        tell(f"one shift-map run: {reference:.1f} s")
        rows = {**_commands(room, large, hole, small), **_desk(room, small)}
        lines = ["| what | seconds | of one shift-map run |", "|---|---|---|"]
        lines += [f"| {name} | {seconds:.2f} | {seconds / reference:.3f} |" for name, seconds in rows.items()]
        for line in lines[2:]:
            tell(line)
    return "\n".join(lines)


def _reference(picture: EightBit, hole: Bools) -> float:
    """Seconds of OpenCV's shift map (He & Sun 2012) on what our engine looks at."""
    box = surroundings(box_of(hole), whole(picture))
    clock = time.perf_counter()
    shift_map(picture[box.slices], hole[box.slices])
    return time.perf_counter() - clock


def _commands(room: Path, large: EightBit, hole: Bools, small: EightBit) -> dict[str, float]:
    for name, pixels in (("large", large), ("small", small)):
        (room / f"{name}.png").write_bytes(imagecodecs.png_encode(pixels, level=1))
    (room / "hole.png").write_bytes(imagecodecs.png_encode(np.where(hole, 255, 0).astype(np.uint8)))
    few = np.zeros(small.shape[:2], np.uint8)
    few[500:850, 900:1190] = 255
    (room / "few.png").write_bytes(imagecodecs.png_encode(few))
    stroke = ("--stroke", "900,600 1000,640 @40")
    jobs: dict[str, tuple[str, ...]] = {
        "--help": ("--help",),
        "mask, one stroke in 2.6 MP": ("mask", "small.png", "--out", "mask.png", *stroke),
        "fill .1 MP in 2.6 MP, three takes": ("fill", "small.png", "--mask", "few.png", "--out", "out"),
        "fill .54 MP in 24 MP, three takes": ("fill", "large.png", "--mask", "hole.png", "--out", "out"),
    }
    return {name: _median(lambda words=words: _run(room, words)) for name, words in jobs.items()}  # type: ignore[misc]


def _run(room: Path, words: tuple[str, ...]) -> float:
    clock = time.perf_counter()
    subprocess.run([*PROGRAM_COMMAND, *words], cwd=room, check=True, capture_output=True)
    return time.perf_counter() - clock


def _median(measure: Callable[[], float]) -> float:
    return statistics.median(measure() for _ in range(REPEAT_COUNT))


def _desk(room: Path, small: EightBit) -> dict[str, float]:
    """The server from its start, and fills on the desk of it, each of a fresh mark."""
    out: dict[str, float] = {}
    starts = []
    for _ in range(REPEAT_COUNT):
        with _served(room) as (_, seconds):
            starts.append(seconds)
    out["server answers after its start"] = statistics.median(starts)
    with _served(room) as (client, _):
        shoot = client.post("/api/shoots", json={"name": "Speed"}).json()["id"]
        data = (room / "small.png").read_bytes()
        frame = client.post(f"/api/shoots/{shoot}/frames", params={"name": "small.png"}, content=data).json()["id"]
        for name, area in (("small hole", SMALL_HOLE_MP), ("hole of .11 MP", LARGE_HOLE_MP)):
            waits = [_filled(client, frame, small, area, seed) for seed in range(REPEAT_COUNT)]
            looks, *takes = (statistics.median(each) for each in zip(*waits, strict=True))
            out[f"{name} on the desk, first look"] = looks
            out |= {f"{name} on the desk, take {number}": each for number, each in enumerate(takes, start=1)}
    return out


def _filled(client: httpx.Client, frame: int, picture: EightBit, area: float, seed: int) -> list[float]:
    """Seconds from asking for a fill to the first look at it and to each of its three takes."""
    share = area * 1e6 / (picture.shape[0] * picture.shape[1])
    mask = np.where(blob(0.3 + 0.1 * seed, 0.3, share, seed)(picture), 255, 0).astype(np.uint8)
    where = f"/api/frames/{frame}"
    png = bytes(imagecodecs.png_encode(mask))
    sweep = client.post(f"{where}/sweeps/from-mask", content=png).raise_for_status().json()["sweep_id"]
    # What was made before is still looked at for a while; nobody fills as fast as that.
    time.sleep(4)
    clock = time.perf_counter()
    client.post(f"{where}/sweeps/{sweep}/fill", json={}).raise_for_status()
    client.get(f"{where}/sweeps/{sweep}/first-look").raise_for_status()
    waits = [time.perf_counter() - clock]
    while len(waits) < 4:
        if time.perf_counter() - clock > MAX_WAIT_SECONDS:
            raise TimeoutError("The fill did not end.")
        state = next(each for each in client.get(where).json()["sweeps"] if each["id"] == sweep)
        waits += [time.perf_counter() - clock] * (len(state["takes"]) - (len(waits) - 1))
        time.sleep(0.05)
    return waits


@contextmanager
def _served(room: Path) -> Iterator[tuple[httpx.Client, float]]:
    """A server of a library of its own, and how long it took until it answered."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    words = [*PROGRAM_COMMAND, "serve", "--library", str(room / "library"), "--port", str(port)]
    clock = time.perf_counter()
    server = subprocess.Popen(words, start_new_session=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=MAX_WAIT_SECONDS) as client:
            _answered(client, server)
            yield client, time.perf_counter() - clock
    finally:
        os.killpg(server.pid, signal.SIGTERM)
        server.wait()


def _answered(client: httpx.Client, server: subprocess.Popen[bytes]) -> None:
    """Wait until it answers. Raises RuntimeError, TimeoutError."""
    until = time.perf_counter() + MAX_WAIT_SECONDS
    while time.perf_counter() < until:
        try:
            client.get("/api/health").raise_for_status()
            return
        except httpx.HTTPError:
            if server.poll() is not None:
                raise RuntimeError("The server ended.") from None
            time.sleep(0.05)
    raise TimeoutError("The server did not answer.")
