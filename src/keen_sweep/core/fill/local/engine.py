"""The local engines: each connected part filled its own way, several takes at once, one patch a take."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field, replace
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import box_of, whole
from keen_sweep.core.errors import Cancelled
from keen_sweep.core.fill.hole import hole_of
from keen_sweep.core.fill.local.canvas import Canvas
from keen_sweep.core.fill.local.pieces import put, stages_of
from keen_sweep.core.fill.local.plan import STAGE, Plan, plan_of, scene_of
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.protocol import Method, Order
from keen_sweep.core.fill.weave.kinds import *
from keen_sweep.core.fill.weave.scene import Scene
from keen_sweep.core.fill.weave.synthesis import Begun, begin, finish
from keen_sweep.core.fill.words.ground import check_words
from keen_sweep.core.mask.parts import Part

Tick = Callable[[float], None]
# Pieces longer than twice this are filled in stages when stages are asked for, pixels.
STAGE = 360
# Up to so many pixels a piece gets twice as many starts.
MANY_STARTS = 60_000


class ByPart:
    """The engine behind the methods close, weave and auto."""

    def __init__(self, method: Method) -> None:
        self.name: str = method
        self.method: Method = method

    def fill(self, order: Order) -> Iterator[Patch]:
        """Yield the takes of an order; see Engine. A core each, two or more are made at once.

        More weaves are begun than takes were asked for; those that look best at half resolution and differ
        from each other are finished.
        """
        order.progress(0.0, "looking at the surroundings")
        clock = time.perf_counter()
        order, method = _as_worded(order, self.method)
        plan = _plan(order, method)
        shares: dict[object, float] = {}
        stop = threading.Event()

        def ticker(key: object) -> Tick:
            shares[key] = 0.0

            def tick(share: float) -> None:
                shares[key] = share
                if stop.is_set():
                    raise Cancelled("The fill was cancelled.")

            return tick

        def watch(future: Future[Any], base: float, scale: float, doing: str) -> Any:
            while not future.done():
                order.progress(base + scale * sum(shares.values()) / max(len(shares), 1), doing)
                wait([future], timeout=0.1)
            return future.result()

        with ThreadPoolExecutor(max_workers=os.cpu_count() or 1) as threads:
            running: list[Future[Any]] = []
            try:
                begins = [
                    [
                        threads.submit(begin, scene, _seed(order.seed, k, n), order.quality, ticker((k, n)), n % 3 == 1)
                        for n in range(_starts(order, scene))
                    ]
                    for k, scene in enumerate(plan.scenes)
                ]
                running = [future for group in begins for future in group]
                for group in begins:
                    found = [watch(future, 0.0, 0.5, "trying several ways") for future in group]
                    plan.begun.append(choose(found, order.takes))
                shares.clear()
                takes = [
                    threads.submit(_take, plan, number, self.method, ticker(number)) for number in range(order.takes)
                ]
                running = [*takes]
                for number, future in enumerate(takes):
                    patch = watch(future, 0.5, 0.5, f"take {number + 1} of {order.takes}")
                    yield Patch(**{**vars(patch), "seconds": time.perf_counter() - clock})
            finally:
                stop.set()
                for future in running:
                    future.cancel()


def _as_worded(order: Order, method: Method) -> tuple[Order, Method]:
    """An order whose words have become ground to draw from and to keep from, and how to fill it: what is asked for by
    name is woven, since a continuation of the surroundings heeds no words. Raises BadRequest for words that make no
    sense here."""
    if not (order.hint.strip() or order.avoid.strip()) or order.draw_from is not None or method == "close":
        return order, method
    found = check_words(order.below, hole_of(order), order.hint, order.avoid)
    if found.draw_from is None and found.barred is None:
        return order, method
    barred = order.barred if found.barred is None else found.barred | (False if order.barred is None else order.barred)
    worded = replace(order, draw_from=found.draw_from, barred=barred, foreign=found.foreign)
    return worded, "weave" if found.draw_from is not None else method


def _starts(order: Order, scene: Scene) -> int:
    """How many weaves are begun: more where they differ most and cost little."""
    if order.quality == "fast":
        return order.takes
    narrow_or_huge = scene.guided or scene.hole.sum() > MANY_STARTS
    return max((2 if narrow_or_huge else 4) * order.takes, 3)


def _take(plan: Plan, number: int, method: Method, tick: Tick) -> Patch:
    order = plan.order
    box = box_of(plan.hole)
    canvas = Canvas(box, np.array(order.below[box.slices]))
    everything = [*plan.pieces, *plan.staged]
    total = max(sum(piece.area for piece in everything) + sum(int(done.hole.sum()) for done in plan.closed), 1)
    finished = 0

    def part_tick(share: float, area: int) -> None:
        tick((finished + share * area) / total)

    for k, done in enumerate(plan.closed):
        put(canvas.pixels, box, done.box, done.with_grain(grain_seed(order.seed + number, k)), done.hole)
        finished += int(done.hole.sum())
    for piece, scene, begun in zip(plan.pieces, plan.scenes, plan.begun, strict=True):
        woven = finish(scene, begun[number], order.quality, partial(part_tick, area=piece.area))
        canvas.lay(woven, piece.area)
        finished += piece.area
    for k, piece in enumerate(plan.staged):
        _in_stages(plan, piece, canvas, _seed(order.seed, len(plan.pieces) + k, 8 * number), part_tick)
        finished += piece.area
    return Patch(
        box=box,
        pixels=canvas.pixels,
        alpha=np.where(plan.hole, order.mask, 0).astype(np.uint8)[box.slices],
        method=method,
        seed=order.seed + number,
        offsets=canvas.offsets if everything else None,
        loose=canvas.loose,
        energy=canvas.energy / canvas.area if canvas.area else 0.0,
        parts=plan.reports,
        parameters={
            "quality": order.quality,
            **({"staged": True} if plan.staged else {}),
            **({"hint": order.hint} if order.hint else {}),
            **({"avoid": order.avoid} if order.avoid else {}),
        },
    )


def _in_stages(plan: Plan, piece: Part, canvas: Canvas, seed: int, part_tick: Callable[[float, int], None]) -> None:
    """Weave a long piece section by section, each on top of the last: the best of two starts for every one.

    Only true picture is drawn from; what earlier stages made is looked at, never copied.
    """
    order = plan.order
    below = plan.below.copy()
    left = ~plan.known
    slivers = left & ~plan.hole
    made = np.zeros_like(left) if order.barred is None else order.barred.copy()
    for k, stage in enumerate(stages_of(piece, STAGE)):
        scene = _scene(replace(order, barred=made), below, left, slivers, stage)
        begun = choose([begin(scene, seed + 2 * k + n, order.quality, _quiet(part_tick)) for n in range(2)], 1)[0]
        woven = finish(scene, begun, order.quality, _quiet(part_tick))
        canvas.lay(woven, stage.area)
        put(below, whole(below), woven.window, woven.pixels, woven.hole)
        filled = stage.box.slices
        left[filled] &= ~stage.inside
        made[filled] |= stage.inside
        part_tick((k + 1) * STAGE / max(piece.box.width, piece.box.height), piece.area)


def _quiet(part_tick: Callable[[float, int], None]) -> Tick:
    """A tick within a stage: it says nothing new, but lets a cancel through."""
    return lambda share: part_tick(0.0, 0)


def grain_seed(seed: int, part: int) -> int:
    """The seed of the grain of a take's closed part."""
    return _seed(seed, part, 255)


def _seed(seed: int, part: int, start: int) -> int:
    return ((seed & 0xFFFFFFFF) * 65_537 + part) * 256 + start
