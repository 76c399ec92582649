"""Worker processes: forked from one that has loaded everything, watched, given so much time, and ended with the server.

The executor behind them is of the standard concurrent.futures interface, so that one of a cluster can take its place.
"""

from __future__ import annotations

import multiprocessing
import os
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future, ProcessPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any, TypeVar

import cv2

from keen_sweep.core.scout.networks.weights import use_folder
from keen_sweep.settings import Settings

T = TypeVar("T")


def start_method() -> str:
    """How processes are started: forked from one that has loaded everything, or started anew where the system (Windows)
    or KEEN_SWEEP_START_METHOD says so."""
    wanted = Settings().start_method
    return wanted if wanted in multiprocessing.get_all_start_methods() else "spawn"


def forked(count: int, last: bool = False) -> Executor:
    """Processes forked from one that has loaded what they need and has neither threads nor the server's locks; started
    anew where there is no forking. last: of the lowest priority."""
    context = multiprocessing.get_context(start_method())
    if context.get_start_method() == "forkserver":
        context.set_forkserver_preload([f"keen_sweep.studio.running.{each}" for each in ("undisturbed", "loaded")])
    # The process that they are forked from may have begun with other settings than there are now.
    own = {name: value for name, value in os.environ.items() if name.startswith("KEEN_SWEEP_")}
    return ProcessPoolExecutor(count, mp_context=context, initializer=_begin, initargs=(last, own))


def lowly(count: int) -> Executor:
    """Processes of the lowest priority: the desk and the fills go first, they get what is left over."""
    return forked(count, last=True)


def _begin(last: bool, own: dict[str, str]) -> None:
    """What a worker does first. One whose server was killed must not go on writing: the next starts its work again."""
    for name in [name for name in os.environ if name.startswith("KEEN_SWEEP_") and name not in own]:
        del os.environ[name]
    os.environ.update(own)
    cv2.setNumThreads(-1)
    if last and hasattr(os, "nice"):
        os.nice(19)
    use_folder(Settings().weights)
    end_with_parent()


def end_with_parent() -> None:
    """End this process when the one that asked for it has ended, however that came about."""
    parent = multiprocessing.parent_process()

    def watch() -> None:
        if parent is not None:
            parent.join()
            os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def end(executor: Executor) -> None:
    """End an executor at once, with what its processes are at."""
    if isinstance(executor, ProcessPoolExecutor):
        for process in list((executor._processes or {}).values()):
            process.terminate()
    executor.shutdown(wait=False, cancel_futures=True)


def _end_loading() -> None:
    """End the process that all are forked from: one that is asked for when it has loaded, and whose server is gone by
    then, would say so at length. The next that is asked for starts it again."""
    if start_method() != "forkserver":
        return
    from multiprocessing import forkserver

    pid = getattr(forkserver._forkserver, "_forkserver_pid", None)
    if pid is not None:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGTERM)


def in_own_process(seconds: float, work: Callable[..., T], *given: Any) -> T:
    """Do something in a process of its own, which may take much memory or break down. Raises BrokenExecutor when it
    does, TimeoutError when it takes longer."""
    executor = forked(1)
    try:
        return executor.submit(work, *given).result(seconds)
    finally:
        end(executor)


@dataclass(frozen=True)
class _Job:
    """What one process is at: its future, when it began, and the executor of that process alone."""

    future: Future[None]
    began: float
    executor: Executor | None


@dataclass
class Workers:
    """Some processes that do one thing each at a time. Each is an executor of its own: one that dies or is ended takes
    nothing down with it but what it was at.

    executor makes an executor of so many processes; seconds: how long one thing may take before its process is ended.
    """

    count: int
    executor: Callable[[int], Executor] = forked
    seconds: float = 6 * 3600.0
    _idle: list[Executor] = field(default_factory=list)
    _stopped: bool = False
    _starting: bool = False
    _doing: dict[int, _Job] = field(default_factory=dict)

    def start(self) -> None:
        """Start a process now rather than when there is something to do: the first of all takes a while."""
        self._starting = True
        with suppress(OSError, EOFError, BrokenExecutor):
            executor, _ = self._submit(_nothing)
            self._idle.append(executor)
        self._starting = False

    @property
    def free(self) -> bool:
        """Whether one of them has nothing to do."""
        return self.busy < self.count

    @property
    def busy(self) -> int:
        """How many of them have something to do."""
        return len(self._doing)

    def give(self, number: int, work: Callable[..., None], *given: Any) -> None:
        """Have something done, known by a number."""
        executor: Executor | None = None
        try:
            executor, future = self._submit(work, *given)
        except (OSError, EOFError, BrokenExecutor) as error:
            # No process could be started, or the last one has just died: it ends as if it had died with it.
            future = Future()
            future.set_exception(BrokenExecutor(str(error)))
        self._doing[number] = _Job(future, time.monotonic(), executor)

    def _submit(self, work: Callable[..., None], *given: Any) -> tuple[Executor, Future[None]]:
        """Raises OSError, EOFError or BrokenExecutor where there is no process to do it."""
        executor = self._idle.pop() if self._idle else self.executor(1)
        future = executor.submit(work, *given)
        if self._stopped:
            # Meanwhile, for a first process may take a while to come.
            end(executor)
        return executor, future

    def ended(self) -> list[tuple[int, BaseException | None]]:
        """What ended since the last time, by its number, with what went wrong if anything did: BrokenExecutor when its
        process died, TimeoutError when it took too long."""
        out: list[tuple[int, BaseException | None]] = []
        for number, job in list(self._doing.items()):
            late = time.monotonic() - job.began > self.seconds
            if not (job.future.done() or late):
                continue
            del self._doing[number]
            if not job.future.done():
                error: BaseException | None = TimeoutError()
            else:
                error = BrokenExecutor() if job.future.cancelled() else job.future.exception()
            out.append((number, error))
            if job.executor is None:
                continue
            if isinstance(error, (BrokenExecutor, TimeoutError)) or self._stopped:
                end(job.executor)
            else:
                self._idle.append(job.executor)
        return out

    def wait_no_more(self) -> None:
        """Whoever waits for a first process waits no longer, and none is started any more."""
        self._stopped = True
        if self._starting:
            _end_loading()

    def stop(self) -> None:
        """End the processes, with what they are at."""
        self.wait_no_more()
        for executor in (*self._idle, *(job.executor for job in self._doing.values())):
            if executor is not None:
                end(executor)
        self._idle.clear()


def _nothing() -> None:
    pass
