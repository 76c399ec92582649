"""A cluster of two processes: what it fills, and what becomes of runs when a part of it is lost."""

import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np
import pytest
from distributed import Client, LocalCluster
from sqlmodel import col, select

from keen_sweep.core.errors import BadMask, BadRequest
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Take
from keen_sweep.store.words import RunState
from keen_sweep.studio.filling.ask import ask_fill, cancel
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.originals import originals_of
from keen_sweep.studio.running import cluster as cluster_of
from keen_sweep.studio.running import errand
from keen_sweep.studio.running.cluster import SENT_STATUS, WAITING_STATUS, Cluster, LostWorker, NoCluster
from keen_sweep.studio.running.cluster_queue import ClusterQueue
from keen_sweep.studio.running.queue import Queue
from tests.support.ports import free_port
from tests.support.sure import sure
from tests.support.waiting import until

pytestmark = pytest.mark.slow

BIG = Stroke(points=((40.0, 75.0), (160.0, 75.0)), size=60)


def _done(library: Library, run: Run) -> bool:
    return run_now(library, run).state is RunState.DONE


@contextmanager
def of_two() -> Iterator[LocalCluster]:
    with LocalCluster(n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None) as made:
        yield made


@pytest.fixture(scope="module")
def two() -> Iterator[LocalCluster]:
    with of_two() as made:
        yield made


@pytest.fixture
def mortal() -> Iterator[LocalCluster]:
    """One of its own for whoever kills a worker: its place may stay empty."""
    with of_two() as made:
        yield made


@pytest.fixture
def cluster(two: LocalCluster) -> Iterator[Cluster]:
    made = Cluster(two.scheduler_address)
    yield made
    made.close()


@pytest.fixture
def sweep(library: Library, frame: Frame) -> str:
    return new_sweep(library, frame.id, [BIG])[0]


def run_now(library: Library, run: Run) -> Run:
    with library.session() as session:
        return session.get_one(Run, run.id)


def takes_now(library: Library) -> list[Take]:
    with library.session() as session:
        return list(session.exec(select(Take).order_by(col(Take.id))).all())


def kill_who_works(address: str) -> None:
    """Kill the process of the worker that has something to do; the other one is there to go on."""
    with Client(address, set_as_default=False) as client:
        until(lambda: any(client.processing().values()))
        busy = [worker for worker, keys in client.processing().items() if keys]
        for process in client.run(os.getpid, workers=busy).values():
            os.kill(process, signal.SIGKILL)


def small_fill(seed: int = 3) -> FillInput:
    random = np.random.default_rng(1)
    mask = np.zeros((300, 400), np.uint8)
    mask[120:150, 180:215] = 255
    below = random.integers(90, 150, (300, 400, 3)).astype(np.uint8)
    return FillInput(below=below, mask=mask, seed=seed, takes=2, quality=Quality.FAST)


def test_takes_are_the_same_to_the_bit_as_here(cluster: Cluster) -> None:
    told: list[tuple[float, str]] = []
    fill_input = small_fill()
    there = list(
        cluster.filling(ByPart(Method.AUTO)).fill(
            replace(fill_input, progress=lambda share, doing: told.append((share, doing)))
        )
    )
    here = list(ByPart(Method.AUTO).fill(fill_input))
    assert len(there) == len(here) == 2
    for one, other in zip(here, there, strict=True):
        assert one.box == other.box
        assert np.array_equal(one.pixels, other.pixels)
        assert one.offsets is not None
        assert np.array_equal(sure(one.offsets), sure(other.offsets))
        assert one.provenance == other.provenance
    assert told[0] == (0.0, SENT_STATUS)


def test_what_goes_wrong_there_is_said_here(cluster: Cluster, monkeypatch: pytest.MonkeyPatch) -> None:
    fill_input = small_fill()
    with pytest.raises(BadMask, match="entirely inside the guard"):
        list(cluster.filling(ByPart(Method.AUTO)).fill(replace(fill_input, guard=fill_input.mask > 0)))
    monkeypatch.setattr(errand, "__version__", "0.0.9")
    with pytest.raises(BadRequest, match=r"this one 0\.0\.9: install the same"):
        list(cluster.filling(ByPart(Method.AUTO)).fill(fill_input))


def test_runs_are_spread_over_both_and_reviewed(library: Library, frame: Frame, two: LocalCluster) -> None:
    sweeps = [new_sweep(library, frame.id, [Stroke(points=((x, 40.0), (x, 60.0)), size=16)])[0] for x in (40.0, 150.0)]
    queue = ClusterQueue(library, two.scheduler_address)
    queue.start()
    try:
        runs = [ask_fill(library, frame.id, each, Fill(takes=1, quality=Quality.FAST, seed=9)) for each in sweeps]
        until(lambda: all(run_now(library, run).state is RunState.DONE for run in runs))
        until(lambda: all(take.review is not None for take in takes_now(library)))
    finally:
        queue.stop()
    assert len(takes_now(library)) == 2


def test_a_run_of_the_cluster_is_the_run_of_this_machine(
    library: Library, frame: Frame, sweep: str, two: LocalCluster
) -> None:
    for make in (Queue, lambda library: ClusterQueue(library, two.scheduler_address)):
        queue = make(library)
        queue.start()
        try:
            run = ask_fill(library, frame.id, sweep, Fill(takes=2, quality=Quality.FAST, seed=4))
            until(partial(_done, library, run))
        finally:
            queue.stop()
    first, second, third, fourth = (originals_of(library).patch(take.patch) for take in takes_now(library))
    assert np.array_equal(first.pixels, third.pixels)
    assert np.array_equal(second.pixels, fourth.pixels)


def test_a_run_can_be_cancelled(library: Library, frame: Frame, sweep: str, two: LocalCluster) -> None:
    queue = ClusterQueue(library, two.scheduler_address)
    queue.start()
    try:
        long = ask_fill(library, frame.id, sweep, Fill(takes=12))
        until(lambda: run_now(library, long).progress > 0)
        cancel(library, long.id)
        until(lambda: run_now(library, long).state is RunState.CANCELLED)
        # The machine stops too: what comes next does not wait for twelve takes.
        after = ask_fill(library, frame.id, sweep, Fill(takes=1, quality=Quality.FAST))
        until(lambda: run_now(library, after).state is RunState.DONE)
        with Client(two.scheduler_address, set_as_default=False) as client:
            until(lambda: not any(client.processing().values()))
    finally:
        queue.stop()


@pytest.mark.parametrize("ready", [0, 1])
def test_a_killed_worker_costs_nothing_but_time(
    library: Library, frame: Frame, sweep: str, mortal: LocalCluster, ready: int
) -> None:
    queue = ClusterQueue(library, mortal.scheduler_address)
    queue.start()
    try:
        run = ask_fill(library, frame.id, sweep, Fill(takes=4, seed=11))
        until(lambda: len(takes_now(library)) >= ready and run_now(library, run).progress > 0.05)
        kill_who_works(mortal.scheduler_address)
        until(lambda: run_now(library, run).state is RunState.DONE)
    finally:
        queue.stop()
    assert run_now(library, run).attempts == 2 or ready
    # None is missing, and none was made twice.
    assert [take.seed for take in takes_now(library)] == [11, 12, 13, 14]


def test_a_worker_that_is_lost_is_told_of(mortal: LocalCluster) -> None:
    cluster = Cluster(mortal.scheduler_address)
    fill_input = small_fill()
    takes = cluster.filling(ByPart(Method.AUTO)).fill(replace(fill_input, takes=40, quality=Quality.FINE))
    next(takes)
    kill_who_works(mortal.scheduler_address)
    with pytest.raises(LostWorker):
        list(takes)
    cluster.close()


def _started(what: str, *given: str) -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", f"distributed.cli.{what}", *given]
    return subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def _scheduler(port: int) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [
            sys.executable,
            "-m",
            "distributed.cli.dask_scheduler",
            "--host",
            "127.0.0.1",
            "--port",
            str(port),
            "--no-dashboard",
        ],
        stderr=subprocess.DEVNULL,
    )


def _worker(port: int) -> subprocess.Popen[bytes]:
    return _started("dask_worker", f"tcp://127.0.0.1:{port}", "--nthreads", "1", "--no-dashboard")


def test_runs_wait_for_a_scheduler_and_outlive_it(
    library: Library, frame: Frame, sweep: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    port = free_port()
    queue = ClusterQueue(library, f"tcp://127.0.0.1:{port}")
    queue.start()
    started: list[subprocess.Popen[bytes]] = []
    try:
        run = ask_fill(library, frame.id, sweep, Fill(takes=6, seed=21))
        until(lambda: run_now(library, run).doing == WAITING_STATUS)
        assert run_now(library, run).state is RunState.WAITING
        started += [_scheduler(port), _worker(port)]
        until(lambda: run_now(library, run).progress > 0)
        for each in started:
            each.kill()
            each.wait()
        until(lambda: run_now(library, run).state is RunState.WAITING)
        assert run_now(library, run).attempts == 0
        started[:] = [_scheduler(port), _worker(port)]
        until(lambda: run_now(library, run).state is RunState.DONE)
    finally:
        queue.stop()
        for each in started:
            each.kill()
            each.wait()
    assert [take.seed for take in takes_now(library)] == list(range(21, 27))


def test_nobody_there_is_no_cluster(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cluster_of, "CONNECT_SECONDS", 0.5)
    nobody = Cluster(f"tcp://127.0.0.1:{free_port()}")
    assert nobody.size() == 0
    with pytest.raises(NoCluster):
        nobody.ask(pow, 2, 3)
    with pytest.raises(NoCluster):
        list(nobody.filling(ByPart(Method.AUTO)).fill(small_fill()))
