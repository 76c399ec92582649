"""Run methods on cases, each in a process of its own, and measure time, memory and likeness to the truth."""

from __future__ import annotations

import multiprocessing
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from keen_sweep.bench.cases import Case
from keen_sweep.bench.references import REFERENCE_METHODS
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.weave.scene import surroundings
from keen_sweep.core.review.scores import scores

FINE_NAME = "keen sweep"
FAST_NAME = "keen sweep, fast"
# Methods that need minutes are left out above this many pixels to fill.
SLOW_METHOD_LIMITS = {"fsr": 60_000, "biharmonic": 40_000}


@dataclass(frozen=True)
class Result:
    """What a method made of a case: pictures (its takes), when each was ready, and memory above the picture."""

    method: str
    fills: tuple[EightBit, ...]
    seconds: tuple[float, ...]
    memory: float
    scores: tuple[dict[str, float], ...]
    why: tuple[str, ...] = ()


def run_reference(case: Case, method: str) -> Result | None:
    """A reference method on the same surroundings that our engines look at; None where it would take minutes."""
    if case.mask.sum() > SLOW_METHOD_LIMITS.get(method, np.inf):
        return None
    box = surroundings(box_of(case.mask), whole(case.photo))
    answer = in_own_process(_reference, method, case.photo[box.slices], case.mask[box.slices])
    filled = case.photo.copy()
    inside = case.mask[box.slices]
    filled[box.slices][inside] = answer["fills"][0][inside]
    return _result(method, case, [filled], answer)


def run_ours(
    case: Case, takes: int = 3, quality: Quality = Quality.FINE, method: Method = Method.AUTO, seed: int = 0
) -> Result:
    """Our engine: takes in the order in which it gives them, the first is the one it prefers."""
    answer = in_own_process(_ours, case.photo, case.mask, takes, quality, method, seed)
    fills = []
    for box, pixels in answer["fills"]:
        filled = case.photo.copy()
        filled[Box(**box).slices] = pixels
        fills.append(filled)
    return _result(FINE_NAME if quality is Quality.FINE else FAST_NAME, case, fills, answer)


def _result(method: str, case: Case, fills: list[EightBit], answer: dict[str, Any]) -> Result:
    return Result(
        method=method,
        fills=tuple(fills),
        seconds=tuple(answer["seconds"]),
        memory=answer["memory"],
        scores=tuple(scores(fill, case.truth, case.mask) for fill in fills),
        why=tuple(answer.get("why", ())),
    )


def in_own_process(work: Any, *given: Any) -> dict[str, Any]:
    """Do work in a new process, so that its memory is its own."""
    context = multiprocessing.get_context("spawn")
    parent_end, child_end = context.Pipe(duplex=False)
    process = context.Process(target=_child, args=(child_end, work, given))
    process.start()
    child_end.close()
    try:
        answer: dict[str, Any] = parent_end.recv()
    except EOFError:
        process.join()
        raise RuntimeError(f"A benchmark process ended with code {process.exitcode}.") from None
    process.join()
    return answer


def _child(child_end: Any, work: Any, given: tuple[Any, ...]) -> None:
    child_end.send(work(*given))


def _memory(field: str) -> float:
    for line in Path("/proc/self/status").read_text().splitlines():
        if line.startswith(field):
            return int(line.split()[1]) / 1024
    raise RuntimeError(f"/proc/self/status has no {field}")


class Gauge:
    """Seconds since it was made, and the peak of memory in MB above where it began (Linux)."""

    def __init__(self) -> None:
        Path("/proc/self/clear_refs").write_text("5")
        self.before = _memory("VmRSS")
        self.started = time.perf_counter()

    def seconds(self) -> float:
        return time.perf_counter() - self.started

    def peak(self) -> float:
        return max(_memory("VmHWM") - self.before, 0.1)


def _reference(method: str, photo: EightBit, mask: Bools) -> dict[str, Any]:
    photo, mask = np.ascontiguousarray(photo), np.ascontiguousarray(mask)
    gauge = Gauge()
    filled = REFERENCE_METHODS[method](photo, mask)
    return {"fills": [filled], "seconds": [gauge.seconds()], "memory": gauge.peak()}


def _ours(photo: EightBit, mask: Bools, takes: int, quality: Quality, method: Method, seed: int) -> dict[str, Any]:
    from keen_sweep.core.fill.engine import FillInput
    from keen_sweep.core.fill.engines import engine_for
    from keen_sweep.document.warm import warm

    warm(lambda doing: None)
    area = np.where(mask, 255, 0).astype(np.uint8)
    given = FillInput(below=photo, mask=area, takes=takes, quality=quality, seed=seed)
    gauge = Gauge()
    fills: list[Patch] = []
    seconds: list[float] = []
    for patch in engine_for(method).fill(given):
        seconds.append(gauge.seconds())
        fills.append(patch)
    peak = gauge.peak()
    fills.sort(key=lambda patch: (patch.energy, patch.seed))
    return {
        "fills": [(patch.box.model_dump(), patch.pixels) for patch in fills],
        "seconds": seconds,
        "memory": peak,
        "why": sorted({f"{part.method}: {part.why}" for part in fills[0].parts}),
    }
