"""The local engines: each connected part filled its own way, several takes at once, one patch a take."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadMask, Cancelled
from keen_sweep.core.fill.close.closing import Closed, close_part
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.protocol import Method, Order
from keen_sweep.core.fill.route import route
from keen_sweep.core.fill.weave.scene import Scene, make_scene, surroundings
from keen_sweep.core.fill.weave.choice import choose
from keen_sweep.core.fill.weave.synthesis import Begun, begin, finish
from keen_sweep.core.mask.check import check_mask
from keen_sweep.core.mask.parts import Part, parts_of
from keen_sweep.core.photo.picture import Pixels

# Parts nearer than about this are woven together, since the patches of one would look into the other.
TOGETHER = 48


@dataclass(frozen=True)
class Piece:
    """Parts that are filled in one go by one method; inside (h, w) bool shows them in box."""

    way: str
    box: Box
    inside: NDArray[np.bool_]
    radius: float

    @property
    def area(self) -> int:
        return int(self.inside.sum())


@dataclass
class Plan:
    """What all takes of an order share; begun holds, for each piece to weave, the starts that go on, best first."""

    order: Order
    hole: NDArray[np.bool_]
    reports: tuple[PartReport, ...]
    closed: list[tuple[Piece, Closed]]
    pieces: list[Piece]
    scenes: list[Scene]
    begun: list[list[Begun]] = field(default_factory=list)


class ByPart:
    """The engine behind the methods close, weave and auto."""

    def __init__(self, method: Method) -> None:
        self.name: str = method
        self.method: Method = method

    def fill(self, order: Order) -> Iterator[Patch]:
        """Yield the takes of an order; see Engine. A core each, two or more are made at once.

        More weaves are begun than takes were asked for; those that fit best at half resolution and differ
        from each other are finished.
        """
        height, width = order.below.shape[:2]
        check_mask(order.mask, width, height)
        order.progress(0.0, "looking at the surroundings")
        clock = time.perf_counter()
        plan = _plan(order, self.method)
        starts = _starts(order)
        shares: dict[object, float] = {}
        stop = threading.Event()

        def ticker(key: object) -> Callable[[float], None]:
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
                        threads.submit(begin, scene, _part_seed(order.seed, k, n), order.quality, ticker((k, n)))
                        for n in range(starts)
                    ]
                    for k, scene in enumerate(plan.scenes)
                ]
                running = [future for group in begins for future in group]
                for group in begins:
                    found = [watch(future, 0.0, 0.5, "trying several ways") for future in group]
                    plan.begun.append(choose(found, order.takes))
                shares.clear()
                takes = [threads.submit(_take, plan, number, self.method, ticker(number)) for number in range(order.takes)]
                running = [*takes]
                for number, future in enumerate(takes):
                    patch = watch(future, 0.5, 0.5, f"take {number + 1} of {order.takes}")
                    yield Patch(**{**vars(patch), "seconds": time.perf_counter() - clock})
            finally:
                stop.set()
                for future in running:
                    future.cancel()


def _starts(order: Order) -> int:
    """How many weaves are begun."""
    return order.takes if order.quality == "fast" else max(2 * order.takes, 3)


def _plan(order: Order, method: Method) -> Plan:
    hole = order.mask > 0
    if order.guard is not None:
        hole &= ~order.guard
    if not hole.any():
        raise BadMask("The mask lies wholly on guarded ground: there is nothing to fill.")
    known = ~hole
    routed = [route(order.below, part, known, method) for part in parts_of(hole.astype(np.uint8))]
    closed = [_close(order.below, bit, known) for each in routed for bit in each.close]
    woven = [bit for each in routed for bit in each.weave]
    below = order.below
    if closed and woven:
        below = below.copy()
        for _, done in closed:
            _put(below, whole(below), done.box, done.smooth, done.hole)
    pieces = _together(woven, whole(below))
    return Plan(
        order=order,
        hole=hole,
        reports=tuple(
            PartReport(method=each.way, why=each.why, box=each.part.box, area=each.part.area) for each in routed
        ),
        closed=closed,
        pieces=pieces,
        scenes=[_scene(order, below, hole, piece) for piece in pieces],
    )


def _scene(order: Order, below: Pixels, hole: NDArray[np.bool_], piece: Piece) -> Scene:
    box = surroundings(piece.box, whole(below))
    here = np.zeros((box.height, box.width), bool)
    here[piece.box.relative_to(box).slices] = piece.inside
    barred = hole[box.slices] & ~here
    for other in (order.guard, order.barred):
        if other is not None:
            barred |= other[box.slices] & ~here
    return make_scene(below[box.slices], box, here, barred, piece.radius)


def _close(below: Pixels, part: Part, known: NDArray[np.bool_]) -> tuple[Piece, Closed]:
    piece = Piece(way="close", box=part.box, inside=part.inside, radius=part.radius)
    return piece, close_part(below, part, known)


def _together(parts: list[Part], picture: Box) -> list[Piece]:
    """Pieces of parts that lie close to each other, found on a grid of eighths."""
    if not parts:
        return []
    step = 8
    grid = np.zeros((-(-picture.height // step), -(-picture.width // step)), np.uint8)
    for part in parts:
        rows, columns = np.nonzero(part.inside)
        grid[(rows + part.box.y) // step, (columns + part.box.x) // step] = 1
    reach = TOGETHER // step
    near = cv2.dilate(grid, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach + 1, reach + 1)))
    _, labels = cv2.connectedComponents(near, connectivity=8)
    groups: dict[int, list[Part]] = {}
    for part in parts:
        row, column = np.argwhere(part.inside)[0]
        groups.setdefault(int(labels[(row + part.box.y) // step, (column + part.box.x) // step]), []).append(part)
    pieces = []
    for group in groups.values():
        box = group[0].box
        for part in group[1:]:
            box = box.union(part.box)
        inside = np.zeros((box.height, box.width), bool)
        for part in group:
            inside[part.box.relative_to(box).slices] |= part.inside
        pieces.append(Piece(way="weave", box=box, inside=inside, radius=max(part.radius for part in group)))
    return pieces


def _take(plan: Plan, number: int, method: Method, tick: Callable[[float], None]) -> Patch:
    order = plan.order
    box = box_of(plan.hole)
    pixels = np.array(order.below[box.slices])
    offsets = np.zeros((box.height, box.width, 2), np.int32)
    total = max(sum(piece.area for piece in plan.pieces) + sum(piece.area for piece, _ in plan.closed), 1)
    done = 0
    for k, (piece, closed) in enumerate(plan.closed):
        grain_seed = _part_seed(order.seed, k, number)
        _put(pixels, box, closed.box, closed.with_grain(grain_seed), closed.hole)
        done += piece.area
        tick(done / total)
    energy = 0.0
    for piece, scene, begun in zip(plan.pieces, plan.scenes, plan.begun, strict=True):
        start = done

        def part_tick(share: float, start: int = start, area: int = piece.area) -> None:
            tick((start + share * area) / total)

        woven = finish(scene, begun[number], order.quality, part_tick)
        _put(pixels, box, woven.window, woven.pixels, woven.hole)
        rows, columns = woven.window.relative_to(box).intersect(whole(pixels)).slices
        inner = woven.window.intersect(box).relative_to(woven.window).slices
        offsets[rows, columns] += woven.offsets[inner]
        energy += woven.energy * piece.area
        done += piece.area
    woven_area = sum(piece.area for piece in plan.pieces)
    return Patch(
        box=box,
        pixels=pixels,
        alpha=np.where(plan.hole, order.mask, 0).astype(np.uint8)[box.slices],
        method=method,
        seed=order.seed + number,
        offsets=offsets if plan.pieces else None,
        energy=energy / woven_area if woven_area else 0.0,
        parts=plan.reports,
        parameters={"quality": order.quality},
    )


def _part_seed(seed: int, part: int, start: int) -> int:
    return ((seed & 0xFFFFFFFF) * 65_537 + part) * 64 + start


def _put(pixels: Pixels, at: Box, box: Box, values: NDArray[np.float32], inside: NDArray[np.bool_]) -> None:
    """Round float values of a box into pixels that show the box at, where inside is true."""
    common = box.intersect(at)
    source = common.relative_to(box).slices
    target = pixels[common.relative_to(at).slices]
    chosen = inside[source]
    top = np.iinfo(pixels.dtype).max
    target[chosen] = np.clip(np.rint(values[source][chosen]), 0, top).astype(pixels.dtype)
