"""The queue with real worker processes: work, cancel, and a server that is killed in the middle."""

import os
import signal
import subprocess
import sys
import time
from concurrent.futures import BrokenExecutor

import pytest

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run
from keen_sweep.store.words import RunState
from keen_sweep.studio import desk
from keen_sweep.studio.filling.ask import ask_fill, cancel
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.marking.draw import new_sweep
from keen_sweep.studio.running import carry_out as carrying_out
from keen_sweep.studio.running import queue as queue_module
from keen_sweep.studio.running.queue import MAX_ATTEMPTS, Queue
from tests.support.waiting import until

BIG = Stroke(points=((40.0, 75.0), (160.0, 75.0)), size=60)
SERVER = """
import sys, time
from pathlib import Path
from keen_sweep.store.library import Library
from keen_sweep.studio.running.queue import Queue
if __name__ == "__main__":
    Queue(Library(Path(sys.argv[1]))).start()
    time.sleep(60)
"""


def run_now(library: Library, run: Run) -> Run:
    with library.session() as session:
        found = session.get(Run, run.id)
        assert found is not None
        return found


@pytest.fixture
def sweep(library: Library, frame: Frame) -> str:
    return new_sweep(library, frame.id, [BIG])[0]


def test_takes_come_back_one_by_one_and_a_run_can_be_cancelled(library: Library, frame: Frame, sweep: str) -> None:
    queue = Queue(library)
    queue.start()
    try:
        run = ask_fill(library, frame.id, sweep, Fill(takes=2, quality="fast"))
        until(lambda: run_now(library, run).state == "done")
        assert len(desk.desk(library, frame.id).sweeps[0].takes) == 2
        long = ask_fill(library, frame.id, sweep, Fill(takes=12))
        until(lambda: run_now(library, long).progress > 0)
        cancel(library, long.id)
        until(lambda: run_now(library, long).state == "cancelled")
        taken = len(desk.desk(library, frame.id).sweeps[0].takes)
        assert 2 <= taken < 14  # what was ready stays
        after = ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast"))
        until(lambda: run_now(library, after).state == "done")
    finally:
        queue.stop()


def test_a_killed_server_comes_back_with_the_run_waiting_and_nothing_lost(
    library: Library, frame: Frame, sweep: str, tmp_path_factory: pytest.TempPathFactory
) -> None:
    script = tmp_path_factory.mktemp("server") / "server.py"
    script.write_text(SERVER)
    run = ask_fill(library, frame.id, sweep, Fill(takes=12))
    server = subprocess.Popen([sys.executable, str(script), str(library.folder)])
    # Takes of so small a hole are all there at nearly the same time: it is killed while they are being begun.
    until(lambda: run_now(library, run).progress > 0.1)
    os.kill(server.pid, signal.SIGKILL)
    server.wait()
    had = [take.patch for take in desk.desk(library, frame.id).sweeps[0].takes]
    assert run_now(library, run).state == "running"
    time.sleep(1.5)  # the orphaned worker notices and ends
    queue = Queue(library)
    queue.start()
    try:
        assert run_now(library, run).state in ("waiting", "running")
        until(lambda: run_now(library, run).state == "done")
    finally:
        queue.stop()
    takes = desk.desk(library, frame.id).sweeps[0].takes
    assert [take.patch for take in takes][: len(had)] == had
    assert [take.seed for take in takes] == list(range(12))
    assert run_now(library, run).attempts == 2


def test_a_run_that_breaks_off_again_and_again_is_given_up_and_told_of(
    library: Library, frame: Frame, sweep: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    told: list[int] = []
    monkeypatch.setattr(queue_module, "tell_of_run", lambda _, run: told.append(run.id))
    run = ask_fill(library, frame.id, sweep)
    with library.session() as session:
        row = session.get(Run, run.id)
        assert row is not None
        row.state, row.attempts = RunState.RUNNING, MAX_ATTEMPTS
        session.add(row)
    queue = Queue(library)
    queue.start()
    queue.stop()
    ended = run_now(library, run)
    assert ended.state == "failed"
    assert "memory" in (ended.error or "")
    assert told == [run.id]
    assert desk.desk(library, frame.id).sweeps[0].state == "failed"


@pytest.mark.parametrize("error", [BrokenExecutor(), TimeoutError(), KeyError("no")])
def test_a_cancel_is_kept_however_the_run_breaks_off(
    library: Library, frame: Frame, sweep: str, error: Exception
) -> None:
    run = ask_fill(library, frame.id, sweep)
    with library.session() as session:
        row = session.get_one(Run, run.id)
        row.state = RunState.RUNNING
        session.add(row)
    cancel(library, run.id)
    Queue(library)._broken_off(run.id, error)
    assert run_now(library, run).state is RunState.CANCELLED


def test_progress_never_runs_backwards_nor_is_done_before_the_end(
    library: Library, frame: Frame, sweep: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Shares as an engine tells them that begins anew half-way; the clock is ours."""
    run = ask_fill(library, frame.id, sweep)
    with library.session() as session:
        row = session.get_one(Run, run.id)
        row.state = RunState.RUNNING
        session.add(row)
    clock = [0.0]
    monkeypatch.setattr("keen_sweep.studio.running.carry_out.time.monotonic", lambda: clock[0])
    tell = carrying_out._Progress(library, run.id, 0, 1)
    said: list[tuple[float, float | None]] = []
    for share in (0.1, 0.2, 0.9, 1.0, 0.0, 0.05, 0.3, 0.5, 0.7, 1.0):
        clock[0] += 1.0
        tell(share, "weaving")
        now = run_now(library, run)
        said.append((now.progress, now.seconds_left))
    shares = [share for share, _ in said]
    assert shares == sorted(shares)
    assert max(shares) < 1
    left = [seconds for _, seconds in said if seconds is not None]
    assert all(later <= 1.2 * min(left[: k + 1]) + 1e-9 for k, later in enumerate(left[1:]))


def test_a_fill_that_takes_too_long_is_ended_and_said_so(library: Library, frame: Frame, sweep: str) -> None:
    queue = Queue(library)
    queue._workers.seconds = 0.0
    queue.start()
    try:
        run = ask_fill(library, frame.id, sweep, Fill(takes=12))
        until(lambda: not run_now(library, run).state.is_open)
        ended = run_now(library, run)
        assert ended.state == "failed"
        assert "took too long" in (ended.error or "")
        # The next one has workers again, and its time.
        queue._workers.seconds = 600.0
        after = ask_fill(library, frame.id, sweep, Fill(takes=1, quality="fast"))
        until(lambda: run_now(library, after).state == "done")
    finally:
        queue.stop()
