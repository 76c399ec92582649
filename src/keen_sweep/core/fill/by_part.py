"""The local engines: each connected part filled its own way, several takes at once, one patch a take."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, wait
from dataclasses import dataclass, field

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
from keen_sweep.core.fill.weave.synthesis import weave
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
    """What all takes of an order share. Scenes are prepared when first needed, and by one thread only."""

    order: Order
    hole: NDArray[np.bool_]
    reports: tuple[PartReport, ...]
    closed: list[tuple[Piece, Closed]]
    pieces: list[Piece]
    below: Pixels
    _scenes: dict[int, Scene] = field(default_factory=dict)
    _uses: dict[int, int] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def scene(self, number: int) -> Scene:
        """The scene of a piece to weave; let go of once every take has had it."""
        with self._lock:
            if number not in self._scenes:
                self._scenes[number] = self._prepare(self.pieces[number])
            scene = self._scenes[number]
            self._uses[number] = self._uses.get(number, 0) + 1
            if self._uses[number] >= self.order.takes:
                del self._scenes[number]
            return scene

    def _prepare(self, piece: Piece) -> Scene:
        box = surroundings(piece.box, whole(self.below))
        hole = np.zeros((box.height, box.width), bool)
        hole[piece.box.relative_to(box).slices] = piece.inside
        barred = self.hole[box.slices] & ~hole
        for other in (self.order.guard, self.order.barred):
            if other is not None:
                barred |= other[box.slices] & ~hole
        return make_scene(self.below[box.slices], box, hole, barred, piece.radius)


class ByPart:
    """The engine behind the methods close, weave and auto."""

    def __init__(self, method: Method) -> None:
        self.name: str = method
        self.method: Method = method

    def fill(self, order: Order) -> Iterator[Patch]:
        """Yield the takes of an order by seed; see Engine. Two or more are made at once, a core each."""
        height, width = order.below.shape[:2]
        check_mask(order.mask, width, height)
        order.progress(0.0, "looking at the surroundings")
        plan = _plan(order, self.method)
        stop = threading.Event()
        shares = [0.0] * order.takes

        def one(number: int) -> Patch:
            def tick(share: float) -> None:
                shares[number] = share
                if stop.is_set():
                    raise Cancelled("The fill was cancelled.")

            started = time.perf_counter()
            patch = _take(plan, order.seed + number, self.method, tick)
            return Patch(**{**vars(patch), "seconds": time.perf_counter() - started})

        with ThreadPoolExecutor(max_workers=min(order.takes, os.cpu_count() or 1)) as threads:
            futures = [threads.submit(one, number) for number in range(order.takes)]
            try:
                for number, future in enumerate(futures):
                    while not future.done():
                        order.progress(sum(shares) / order.takes, f"take {number + 1} of {order.takes}")
                        wait([future], timeout=0.1)
                    yield future.result()
            finally:
                stop.set()
                for future in futures:
                    future.cancel()


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
    return Plan(
        order=order,
        hole=hole,
        reports=tuple(
            PartReport(method=each.way, why=each.why, box=each.part.box, area=each.part.area) for each in routed
        ),
        closed=closed,
        pieces=_together(woven, whole(below)),
        below=below,
    )


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


def _take(plan: Plan, seed: int, method: Method, tick: object) -> Patch:
    assert callable(tick)
    order = plan.order
    box = box_of(plan.hole)
    pixels = np.array(order.below[box.slices])
    offsets = np.zeros((box.height, box.width, 2), np.int32)
    total = max(sum(piece.area for piece in plan.pieces) + sum(piece.area for piece, _ in plan.closed), 1)
    done = 0
    for number, (piece, closed) in enumerate(plan.closed):
        _put(pixels, box, closed.box, closed.with_grain(_part_seed(seed, number)), closed.hole)
        done += piece.area
        tick(done / total)
    energy = 0.0
    for number, piece in enumerate(plan.pieces):
        start = done
        woven = weave(
            plan.scene(number),
            _part_seed(seed, number),
            order.quality,
            lambda share, start=start, area=piece.area: tick((start + share * area) / total),  # type: ignore[misc]
        )
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
        seed=seed,
        offsets=offsets if plan.pieces else None,
        energy=energy / woven_area if woven_area else 0.0,
        parts=plan.reports,
        parameters={"quality": order.quality},
    )


def _part_seed(seed: int, number: int) -> int:
    return (seed & 0xFFFFFFFF) * 65_537 + number


def _put(pixels: Pixels, at: Box, box: Box, values: NDArray[np.float32], inside: NDArray[np.bool_]) -> None:
    """Round float values of a box into pixels that show the box at, where inside is true."""
    common = box.intersect(at)
    source = common.relative_to(box).slices
    target = pixels[common.relative_to(at).slices]
    chosen = inside[source]
    top = np.iinfo(pixels.dtype).max
    target[chosen] = np.clip(np.rint(values[source][chosen]), 0, top).astype(pixels.dtype)
