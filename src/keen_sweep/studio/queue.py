"""The queue of runs: durable in the database, worked off by spawned processes.

The executor is the standard concurrent.futures interface, so that one of a cluster can take its place.
"""

from __future__ import annotations

import multiprocessing
import os
import threading
import time
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future, ProcessPoolExecutor
from pathlib import Path

from sqlmodel import col, select

from keen_sweep.core.warm import warm
from keen_sweep.store.library import Library
from keen_sweep.store.states import BUSY, RunState
from keen_sweep.store.tables import Run, now
from keen_sweep.studio import events
from keen_sweep.studio.fill import carry_out
from keen_sweep.studio.review import look_again

MOST_ATTEMPTS = 3
LOOK_EVERY = 0.15


def work(folder: str, run_id: int) -> None:
    """What a worker process does for one run."""
    library = Library(Path(folder), ready=True)
    try:
        carry_out(library, run_id)
        # The takes are there by now: whoever waits for them does not wait for what is said of them.
        look_again(library, run_id)
    finally:
        library.close()


def end_with_parent() -> None:
    """A worker whose server was killed must not go on writing: the next server starts the run again."""
    parent = os.getppid()

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.5)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def spawned(workers: int) -> Executor:
    """Worker processes that start clean instead of copying the server's threads and locks."""
    context = multiprocessing.get_context("spawn")
    executor = ProcessPoolExecutor(workers, mp_context=context, initializer=end_with_parent)
    # Start them now, with all they import: nobody should wait for that at the first fill.
    for _ in range(workers):
        executor.submit(_ready)
    return executor


def end_workers(executor: Executor) -> None:
    """End an executor at once, with what its processes are at."""
    if isinstance(executor, ProcessPoolExecutor):
        for process in list((executor._processes or {}).values()):
            process.terminate()
    executor.shutdown(wait=False, cancel_futures=True)


def _ready() -> None:
    """Load the compiled kernels by a small run of each."""
    warm(lambda _: None)


class Queue:
    """Hands waiting runs, oldest first, to an executor. A fill uses all cores, so one worker is the habit."""

    def __init__(self, library: Library, workers: int = 1, executor: Callable[[int], Executor] = spawned) -> None:
        self.library = library
        self.workers = workers
        self._make_executor = executor
        self._executor = executor(workers)
        self._running: dict[int, Future[None]] = {}
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._loop, name="queue", daemon=True)

    def start(self) -> None:
        """Put what a killed server left unfinished back into the queue, and begin."""
        with self.library.session() as session:
            for run in session.exec(select(Run).where(col(Run.state).in_(BUSY))):
                if run.state == "stopping":
                    run.state, run.ended_at = RunState.CANCELLED, now()
                else:
                    self._again(run)
                session.add(run)
        self._thread.start()

    def stop(self) -> None:
        """Stop handing out runs and end the workers; what they were at waits for the next start."""
        self._stop.set()
        self._thread.join(timeout=5)
        end_workers(self._executor)

    @staticmethod
    def _again(run: Run) -> None:
        if run.attempts >= MOST_ATTEMPTS:
            run.state, run.ended_at = RunState.FAILED, now()
            run.error = "The fill broke off several times: perhaps there is not enough memory for it."
        else:
            run.state, run.progress, run.seconds_left, run.doing = RunState.WAITING, 0.0, None, ""

    def _loop(self) -> None:
        turns = 0
        while not self._stop.wait(LOOK_EVERY):
            self._collect()
            while len(self._running) < self.workers and self._hand_out():
                pass
            turns += 1
            if turns % 2_000 == 0:
                events.prune(self.library)

    def _collect(self) -> None:
        for run_id, future in list(self._running.items()):
            if not future.done():
                continue
            del self._running[run_id]
            error = future.exception()
            if error is None:
                continue
            if isinstance(error, BrokenExecutor):
                self._executor.shutdown(wait=False)
                self._executor = self._make_executor(self.workers)
            self._broken_off(run_id, error)

    def _broken_off(self, run_id: int, error: BaseException) -> None:
        with self.library.session() as session:
            run = session.get(Run, run_id)
            if run is None:
                return
            if isinstance(error, BrokenExecutor):
                self._again(run)
            else:
                run.state, run.ended_at = RunState.FAILED, now()
                run.error = f"The fill failed in a way that should not happen ({type(error).__name__})."
            session.add(run)
            events.note(session, "run", frame=run.frame_id, run=run_id)

    def _hand_out(self) -> bool:
        with self.library.session(write=True) as session:
            run = session.exec(select(Run).where(Run.state == RunState.WAITING).order_by(col(Run.id)).limit(1)).first()
            if run is None:
                return False
            run.state, run.started_at, run.attempts = RunState.RUNNING, now(), run.attempts + 1
            run.doing = "starting"
            session.add(run)
            events.note(session, "run", frame=run.frame_id, run=run.id)
        assert run.id is not None
        self._running[run.id] = self._executor.submit(work, str(self.library.folder), run.id)
        return True
