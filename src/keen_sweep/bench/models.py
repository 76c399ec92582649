"""What models cost in time and memory, as multiples of weave on the same hole in one run; and whether hints work."""

from __future__ import annotations

import tempfile
import threading
from collections.abc import Callable
from importlib.util import find_spec
from pathlib import Path
from typing import Any, Literal

import numpy as np

from keen_sweep.bench.cases import ALL_CASES
from keen_sweep.bench.run import Gauge, in_own_process
from keen_sweep.bench.tiny import tiny_diffusers, tiny_onnx
from keen_sweep.bench.two_materials import run_two_materials
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.fill.method import Method, Quality

Kind = Literal["weave", "onnx", "diffusers", "service"]
CASE_NAME = "600 x 900 in 24 MP"
# What each line measures: a kind, and the side of the network if it has one.
MEASURED_KINDS: tuple[tuple[str, Kind, int | None], ...] = (
    ("weave, fast, the measure", "weave", None),
    ("ONNX file, any size", "onnx", None),
    ("ONNX file, 512 px", "onnx", 512),
    ("ONNX file, 256 px", "onnx", 256),
    ("folder in the diffusers format, 128 px, 10 steps", "diffusers", None),
    ("service, simulated, no delay", "service", None),
)


def run_models(tell: Callable[[str], None]) -> str:
    """Each adapter with a tiny network on a hole of 600 x 900 in 24 MP, one take; then hints on two materials."""
    case = next(entry for entry in ALL_CASES if entry.name == CASE_NAME).load()
    lines = ["| adapter | time | memory | of it opening |", "|---|---|---|---|"]
    base: dict[str, Any] | None = None
    for name, kind, side in MEASURED_KINDS:
        if kind == "diffusers" and find_spec("diffusers") is None:
            tell(f"| {name} | - | - | needs keen-sweep[diffusers] |")
            continue
        with tempfile.TemporaryDirectory() as room:
            # Built by another process, so that what builds it is not in the memory of what uses it.
            in_own_process(_built, kind, side, Path(room))
            got = in_own_process(_measured, kind, Path(room), case.photo, case.mask)
        base = base or got
        time, memory = got["seconds"] / base["seconds"], got["memory"] / base["memory"]
        line = f"| {name} | {time:.2f} | {memory:.2f} | {got['opening'] / got['seconds']:.0%} |"
        tell(line)
        lines.append(line)
    tell("hints")
    table = run_two_materials()
    tell(table)
    return "\n".join([*lines, "", table])


def _built(kind: Kind, side: int | None, room: Path) -> None:
    if kind == "onnx":
        tiny_onnx(room / "tiny.onnx", side)
    elif kind == "diffusers":
        tiny_diffusers(room / "tiny")


def _measured(kind: Kind, room: Path, photo: EightBit, mask: Bools) -> dict[str, Any]:
    from keen_sweep.core.fill.engine import Engine, FillInput
    from keen_sweep.core.fill.local.engine import ByPart
    from keen_sweep.core.fill.model.engine import ModelEngine
    from keen_sweep.core.fill.model.port import Knobs
    from keen_sweep.document.warm import warm

    warm(lambda doing: None)
    area = np.where(mask, 255, 0).astype(np.uint8)
    given = FillInput(below=photo, mask=area, takes=1, quality=Quality.FAST, knobs=Knobs(steps=10))
    place: Any = {"onnx": room / "tiny.onnx", "diffusers": room / "tiny"}.get(kind)
    if kind == "service":
        place = _served(room)
    gauge = Gauge()
    engine: Engine = ByPart(Method.WEAVE) if kind == "weave" else ModelEngine(_opened(kind, place))
    opening = gauge.seconds()
    for _ in engine.fill(given):
        pass
    return {"seconds": gauge.seconds(), "opening": opening, "memory": gauge.peak(), "before": gauge.before}


def _opened(kind: Kind, place: Any) -> Any:
    if kind == "onnx":
        from keen_sweep.core.fill.model.onnx_file import OnnxModel

        return OnnxModel(place)
    if kind == "diffusers":
        from keen_sweep.core.fill.model.diffusers_folder import DiffusersModel

        return DiffusersModel(place)
    from pydantic import SecretStr

    from keen_sweep.remote.adapter import ServiceModel
    from keen_sweep.simulated.app import DEMO_KEY

    return ServiceModel(place, SecretStr(DEMO_KEY))


def _served(folder: Path) -> str:
    """The simulated service in a thread; where it is."""
    import socket
    import time

    import uvicorn

    from keen_sweep.simulated.app import make_service
    from keen_sweep.simulated.switches import Switches

    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    service = make_service(folder, Switches(delay=0, refuse_skin=False))
    server = uvicorn.Server(uvicorn.Config(service, host="127.0.0.1", port=port, log_level="error"))
    threading.Thread(target=server.run, daemon=True).start()
    while not server.started:
        time.sleep(0.05)
    return f"http://127.0.0.1:{port}"
