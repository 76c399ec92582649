"""The queue of runs: durable in the database, worked off by worker processes."""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor
from pathlib import Path

from sqlmodel import col, select

from keen_sweep.document.warm import warm
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run, now
from keen_sweep.store.words import BUSY, EventKind, RunState
from keen_sweep.studio.choosing.review import look_again
from keen_sweep.studio.filling.carry_out import carry_out
from keen_sweep.studio.running import events
from keen_sweep.studio.running.workers import Workers, spawned

MOST_ATTEMPTS = 3
LOOK_EVERY = 0.15
# Events are forgotten every so many looks.
PRUNE_EVERY = 2_000


def work(folder: str, run_id: int) -> None:
    """What a worker process does for one run."""
    library = Library(Path(folder), ready=True)
    try:
        carry_out(library, run_id)
        # The takes are there by now: whoever waits for them does not wait for what is said of them.
        look_again(library, run_id)
    finally:
        library.close()


def _ready() -> None:
    """Load the compiled kernels by a small run of each."""
    warm(lambda _: None)


class Queue:
    """Hands waiting runs, oldest first, to workers. A fill uses all cores, so one worker is the habit."""

    def __init__(self, library: Library, workers: int = 1, executor: Callable[[int], Executor] = spawned) -> None:
        self.library = library
        self._workers = Workers(workers, executor, first=_ready)
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._loop, name="queue", daemon=True)

    def start(self) -> None:
        """Put what a killed server left unfinished back into the queue, and begin."""
        with self.library.session() as session:
            for run in session.exec(select(Run).where(col(Run.state).in_(BUSY))):
                if run.state is RunState.STOPPING:
                    run.state, run.ended_at = RunState.CANCELLED, now()
                else:
                    self._again(run)
                session.add(run)
        self._workers.start()
        self._thread.start()

    def stop(self) -> None:
        """Stop handing out runs and end the workers; what they were at waits for the next start."""
        self._stop.set()
        self._thread.join(timeout=5)
        self._workers.stop()

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
            for run_id, error in self._workers.ended():
                if error is not None:
                    self._broken_off(run_id, error)
            while self._workers.free and self._hand_out():
                pass
            turns += 1
            if turns % PRUNE_EVERY == 0:
                events.prune(self.library)

    def _broken_off(self, run_id: int, error: BaseException) -> None:
        with self.library.session() as session:
            run = session.get(Run, run_id)
            if run is None:
                return
            if isinstance(error, BrokenExecutor):
                self._again(run)
            else:
                run.state, run.ended_at = RunState.FAILED, now()
                run.error = (
                    "The fill took longer than any should and was ended."
                    if isinstance(error, TimeoutError)
                    else f"The fill failed in a way that should not happen ({type(error).__name__})."
                )
            session.add(run)
            events.note(session, EventKind.RUN, frame=run.frame_id, run=run_id)

    def _hand_out(self) -> bool:
        with self.library.session(write=True) as session:
            run = session.exec(select(Run).where(Run.state == RunState.WAITING).order_by(col(Run.id)).limit(1)).first()
            if run is None:
                return False
            run.state, run.started_at, run.attempts = RunState.RUNNING, now(), run.attempts + 1
            run.doing = "starting"
            session.add(run)
            events.note(session, EventKind.RUN, frame=run.frame_id, run=run.id)
        self._workers.give(run.id, work, str(self.library.folder), run.id)
        return True
