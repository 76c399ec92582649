"""The local engine: each connected part filled its own way, several takes at once, one patch a take."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor, wait
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import partial
from typing import TypeVar, TypeVarTuple

import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.errors import Cancelled
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.local.canvas import Canvas
from keen_sweep.core.fill.local.laying_out import put_closed
from keen_sweep.core.fill.local.plan import Plan, plan_of
from keen_sweep.core.fill.local.pool import (
    STRUCTURE_NAMES,
    Finished,
    finish_weave,
    first_starts,
    judge_first,
    mend_first,
    more_starts,
    prepare_structure,
    start_weave,
    weave_at_once,
)
from keen_sweep.core.fill.local.seeds import start_seed
from keen_sweep.core.fill.local.stages import fill_in_stages
from keen_sweep.core.fill.method import MadeBy, Method
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.fill.weave.choice import PLAINLY_WORSE, Judged, queue_of
from keen_sweep.core.fill.weave.kinds import Kind
from keen_sweep.core.fill.weave.synthesis import Begun
from keen_sweep.core.fill.words.understood import check_words
from keen_sweep.core.progress import Tick
from keen_sweep.core.sentences import sentence

# Takes per cluster that are replaced by the next start when they are plainly worse than the first.
MAX_REPLACED = 2
# Share of the total time before the first take is finished.
BEGINNING_SHARE = 0.45
# First seed number used for finishing; lower ones belong to the starts.
FINISHING_SEED = 128


class ByPart:
    """Engine of the methods close, weave and auto.

    Parameters
    ----------
    method : Method
        The method.
    """

    def __init__(self, method: Method) -> None:
        self.name: str = method
        self.method: Method = method

    def near(self, window: Box) -> ByPart:
        """See NearSighted."""
        return self

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield the takes of a fill; see Engine. A core each, two or more are made at once.

        More weaves are begun than takes were asked for, of several kinds; those whose worst places look best at half
        resolution, and that differ, are finished. Where the first take is wanted at once, it is the first of them,
        finished before the others are compared.
        """
        given.progress(0.0, sentence("analysing the surroundings"))
        clock = time.perf_counter()
        given, method = _as_worded(given, self.method)
        plan = plan_of(given, method)
        with _Work(given) as work:
            opening = _open(plan, work)
            firsts = [work.wait(each) for each in opening.firsts]
            if firsts:
                patch = _patch(plan, 0, self.method, [done for _, done in firsts], [])
                yield replace(patch, seconds=time.perf_counter() - clock)
            pools = _pools(plan, work, opening, firsts)
            for number in range(1 if firsts else 0, given.takes):
                work.doing = sentence("take {number} of {takes}", number=number + 1, takes=given.takes)
                # Nothing is asked for that is not needed: it would stand behind the later takes, and hold up this one.
                staged = work.submit(fill_in_stages, plan, number) if plan.staged else None
                chosen = [_take_of(pool, number, work) for pool in pools]
                patch = _patch(plan, number, self.method, chosen, work.wait(staged) if staged is not None else [])
                yield replace(patch, seconds=time.perf_counter() - clock)


Given = TypeVarTuple("Given")
Made = TypeVar("Made")


class _Work:
    """Threads that work on a fill, how far they are, and a way to stop them."""

    def __init__(self, given: FillInput) -> None:
        self.given, self.doing, self.base, self.scale = given, sentence("trying several ways"), 0.0, BEGINNING_SHARE
        self._threads = ThreadPoolExecutor(max_workers=given.cores or os.cpu_count() or 1)
        self._stop = threading.Event()
        self._shares: dict[object, float] = {}
        self._cancels: list[Callable[[], bool]] = []
        self._told = 0.0

    def __enter__(self) -> _Work:
        return self

    def __exit__(self, *_: object) -> None:
        self._stop.set()
        for cancel in self._cancels:
            cancel()
        self._threads.shutdown()

    def submit(self, what: Callable[[*Given, Tick], Made], *given: *Given) -> Future[Made]:
        """Do something that takes a tick as its last argument."""
        key = object()
        self._shares[key] = 0.0

        def tick(share: float) -> None:
            self._shares[key] = share
            if self._stop.is_set():
                raise Cancelled(sentence("The fill was cancelled."))

        future = self._threads.submit(what, *given, tick)
        self._cancels.append(future.cancel)
        return future

    def wait(self, future: Future[Made]) -> Made:
        """The result of a future, progress told meanwhile."""
        while not future.done():
            shares = list(self._shares.values())
            self._told = max(self._told, self.base + self.scale * sum(shares) / max(len(shares), 1))
            self.given.progress(min(self._told, 1.0), self.doing)
            wait([future], timeout=0.1)
        return future.result()

    def next_phase(self) -> None:
        """From beginning to finishing."""
        self._shares.clear()
        self.base, self.scale = BEGINNING_SHARE, 1 - BEGINNING_SHARE


@dataclass
class _Pool:
    """A cluster's begun weaves in order, and those that are being finished."""

    queue: list[Judged]
    finishing: list[Future[Finished]]
    finish: Callable[[int], Future[Finished]]
    replaced: int = 0
    first: Finished | None = field(default=None)


@dataclass
class _Opening:
    """The weaves of all clusters that are being begun: firsts, one a cluster, are finished in the same go; sought is
    what is looked for in the scenes meanwhile; complete: nothing more will be begun in a cluster."""

    firsts: list[Future[tuple[Begun, Finished]]]
    begins: list[list[Future[Judged]]]
    sought: list[list[Future[None]]]
    complete: list[threading.Event]


def _open(plan: Plan, work: _Work) -> _Opening:
    """Begin whatever needs nothing but the scenes."""
    given = plan.given
    fine = given.quality == "fine"
    soon = given.first_at_once and fine and given.takes > 1 and bool(plan.scenes) and not plan.staged
    begins: list[list[Future[Judged]]] = [[] for _ in plan.scenes]
    kinds = [first_starts(scene, given.takes, given.quality) for scene in plan.scenes]

    def begin(k: int, some: list[Kind]) -> None:
        for kind in some:
            number = len(begins[k]) + soon
            # Every second one: what stands apart may be just what belongs there.
            clear = number % 2 == 1
            seed = start_seed(given.seed, k, number)
            begins[k].append(work.submit(start_weave, plan.scenes[k], kind, seed, given.quality, clear))

    firsts = []
    for k, scene in enumerate(plan.scenes if soon else []):
        firsts.append(work.submit(weave_at_once, scene, kinds[k][0], start_seed(given.seed, k, 0), given.quality))
    sought: list[list[Future[None]]] = []
    for k, scene in enumerate(plan.scenes):
        sought.append(
            [work.submit(prepare_structure, scene, what) for what in STRUCTURE_NAMES]
            if fine and not scene.guided and not scene.lead
            else []
        )
        begin(k, kinds[k][soon:])
    complete = [threading.Event() for _ in plan.scenes]

    def go_on(k: int) -> None:
        # Nobody waits for the first take to be finished before the others are begun.
        if all(each.done() for each in sought[k]) and not complete[k].is_set():
            try:
                # Unless it is being stopped.
                if not any(each.cancelled() or each.exception() for each in sought[k]):
                    with suppress(Cancelled, RuntimeError):
                        begin(k, more_starts(plan.scenes[k], given.quality))
            finally:
                # Whatever goes wrong here, nobody waits for ever.
                complete[k].set()

    turn = threading.Lock()

    def ended(k: int, _: object) -> None:
        with turn:
            go_on(k)

    for k, futures in enumerate(sought):
        if not futures:
            go_on(k)
        for future in futures:
            future.add_done_callback(partial(ended, k))
    return _Opening(firsts, begins, sought, complete)


def _pools(plan: Plan, work: _Work, opening: _Opening, firsts: list[tuple[Begun, Finished]]) -> list[_Pool]:
    """Each cluster's weaves in the order in which they are worth finishing, those of takes being finished. firsts: what
    was finished at once is the first take whatever it looks like."""
    given = plan.given
    fine = given.quality == "fine"
    mending = [
        work.submit(
            mend_first,
            plan.scenes[k],
            done,
            begun.kind.toll,
            start_seed(given.seed, k, FINISHING_SEED),
            given.quality,
        )
        for k, (begun, done) in enumerate(firsts)
    ]
    for futures, complete in zip(opening.sought, opening.complete, strict=True):
        for future in futures:
            work.wait(future)
        complete.wait()
    queues = []
    for k, group in enumerate(opening.begins):
        first = work.submit(judge_first, plan.scenes[k], firsts[k][0]) if firsts else None
        starts = [work.wait(future) for future in ([first] if first else []) + group]
        queue = queue_of(starts) if fine else sorted(starts, key=lambda each: each.bad)
        queues.append([starts[0], *(each for each in queue if each is not starts[0])] if first else queue)
    work.next_phase()
    pools = []
    for k, queue in enumerate(queues):

        def finish(n: int, k: int = k, queue: list[Judged] = queue) -> Future[Finished]:
            return work.submit(finish_weave, queue[n], given.quality, start_seed(given.seed, k, FINISHING_SEED + n))

        pools.append(_Pool(queue, [], finish))
    for pool, (_, done), mend in zip(pools, firsts, mending, strict=False):
        pool.finishing.append(_at_hand(done))
        better = work.wait(mend)
        if better is not None:
            # What was shown stays as it was; mended it is a take of its own.
            pool.queue.insert(1, pool.queue[0])
            pool.finishing.append(_at_hand(better))
    # Take by take, so that the first is ready first.
    for number in range(given.takes):
        for pool in pools:
            if number >= len(pool.finishing):
                pool.finishing.append(pool.finish(number))
    return pools


def _at_hand(made: Finished) -> Future[Finished]:
    """A future that is done."""
    future: Future[Finished] = Future()
    future.set_result(made)
    return future


def _take_of(pool: _Pool, number: int, work: _Work) -> Finished:
    """A cluster's weave for a take: if that is plainly worse than the first, the next start's if it is better."""
    found: Finished = work.wait(pool.finishing[number])
    if pool.first is None:
        pool.first = found
        return found
    spare = len(pool.finishing) + pool.replaced
    fine = work.given.quality == "fine" and not pool.queue[number].begun.kind.always
    if fine and found.bad > pool.first.bad + PLAINLY_WORSE and pool.replaced < MAX_REPLACED and spare < len(pool.queue):
        pool.replaced += 1
        other: Finished = work.wait(pool.finish(spare))
        found = min(found, other, key=lambda each: each.bad)
    return found


def _as_worded(given: FillInput, method: Method) -> tuple[FillInput, Method]:
    """A fill's input whose words have become ground to draw from and to keep from, and how to fill it: what is asked
    for by name is woven, since a continuation of the surroundings heeds no words. Raises BadRequest for words that
    make no sense here."""
    worded = given.words.hint.strip() or given.words.avoid.strip()
    if not worded or given.sources.draw_from is not None or method == Method.CLOSE:
        return given, method
    found = check_words(given.below, hole_of(given), given.words.hint, given.words.avoid)
    if found.draw_from is None and found.barred is None:
        return given, method
    barred, foreign = _either(found.barred, given.sources.barred), _either(found.foreign, given.sources.foreign)
    sources = replace(given.sources, draw_from=found.draw_from, barred=barred, foreign=foreign)
    given = replace(given, sources=sources)
    return given, Method.WEAVE if found.draw_from is not None else method


def _either(one: Bools | None, other: Bools | None) -> Bools | None:
    """What either of two masks covers; None is nothing."""
    if one is None or other is None:
        return other if one is None else one
    return one | other


def _patch(
    plan: Plan, number: int, method: Method, chosen: list[Finished], staged: list[tuple[Finished, int]]
) -> Patch:
    given = plan.given
    box = box_of(plan.hole)
    canvas = Canvas(box, np.array(given.below[box.slices]))
    put_closed(canvas.pixels, box, plan.closed, given.seed + number)
    for cluster, each in zip(plan.clusters, chosen, strict=True):
        canvas.lay(each, cluster.area)
    for each, area in staged:
        canvas.lay(each, area)
    woven = bool(plan.clusters or plan.staged)
    return Patch(
        box=box,
        pixels=canvas.pixels,
        alpha=np.where(plan.hole, given.mask, 0).astype(np.uint8)[box.slices],
        method=MadeBy(method),
        seed=given.seed + number,
        offsets=canvas.offsets if woven else None,
        loose=canvas.loose,
        pieces=canvas.pieces,
        energy=canvas.energy / canvas.area if canvas.area else 0.0,
        parts=plan.reports,
        provenance=Provenance(
            quality=given.quality,
            led=len(given.lead) if woven else 0,
            staged=bool(plan.staged),
            hint=given.words.hint,
            avoid=given.words.avoid,
        ),
    )
