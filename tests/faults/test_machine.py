"""What else goes wrong with a machine: no file handles, no memory, two servers, a crowd, a clock that jumps."""

import resource
import signal
import socket
import sqlite3
from collections.abc import Iterator
from contextlib import ExitStack, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

import httpx
import psutil
import pytest

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.store import tables
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.desk import desk
from keen_sweep.studio.gathering.frames import remove_frame
from keen_sweep.studio.gathering.gone import bring_back, forget_old, gone
from keen_sweep.studio.history import redo, undo
from keen_sweep.studio.marking.draw import new_sweep
from tests.studio.conftest import frame, photo_file
from tests.support.application import Application
from tests.support.crowd import crowd
from tests.support.journey import Journey, noise
from tests.support.shell import keen_sweep
from tests.support.waiting import until
from tests.support.whole import look_whole

pytestmark = pytest.mark.slow

__all__ = ["frame", "photo_file"]


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Application]:
    made = Application(tmp_path_factory.mktemp("machine") / "library")
    made.start()
    yield made
    made.stop(signal.SIGKILL)


def processes(served: Application) -> list[psutil.Process]:
    """The server and all that it started."""
    assert served._process is not None
    server = psutil.Process(served._process.pid)
    return [server, *server.children(recursive=True)]


def test_a_second_server_for_the_same_library_is_turned_away(served: Application, journey: Journey) -> None:
    before = journey.work()
    refused = keen_sweep("serve", "--library", served.library, "--port", served.port + 1)
    assert refused.returncode == 2
    assert "already open" in refused.stderr
    assert journey.work() == before


def test_fifty_windows_at_once_lose_nothing(served: Application, journey: Journey) -> None:
    crowd(served, journey)


def none_free(server: psutil.Process, limit: int) -> bool:
    """Whether a process has no file handle left: each number below its limit is taken."""
    taken = {int(each.name) for each in Path(f"/proc/{server.pid}/fd").iterdir()}
    return set(range(limit)) <= taken


def test_without_file_handles_it_says_so_and_recovers(served: Application, journey: Journey) -> None:
    before = journey.work()
    server = processes(served)[0]
    usual = server.rlimit(resource.RLIMIT_NOFILE)
    limit = server.num_fds() + 6
    server.rlimit(resource.RLIMIT_NOFILE, (limit, usual[1]))
    answers: list[int] = []
    refused = 0
    with ExitStack() as held:
        # Whoever connects and says nothing takes a handle; those who wait take each that comes free.
        for _ in range(limit + 50):
            held.enter_context(socket.create_connection(("127.0.0.1", served.port)))
        until(lambda: none_free(server, limit))
        # Over a connection that it had before, then over new ones.
        for k in range(4):
            client = journey.client if k == 0 else held.enter_context(httpx.Client(base_url=served.address))
            path = f"/api/shoots/{journey.shoot}/frames"
            try:
                answer = client.post(path, params={"name": f"{k}.png"}, content=noise(90 + k, 60), timeout=2)
                answers.append(answer.status_code)
            except httpx.TransportError:
                refused += 1
    server.rlimit(resource.RLIMIT_NOFILE, usual)
    assert set(answers) <= {201, 507}, answers
    assert refused or 507 in answers, "there was a want of handles"
    until(lambda: httpx.get(f"{served.address}/api/health", timeout=60).status_code == 200)
    journey.client = httpx.Client(base_url=served.address, timeout=120)
    assert journey.work() == before
    assert journey.mark(100).status_code == 201


def test_a_worker_without_memory_ends_its_run_and_the_next_one_is_done(served: Application, journey: Journey) -> None:
    workers = [each for each in processes(served)[1:] if "forkserver" in " ".join(each.cmdline())]
    assert workers
    for each in workers:
        limit = each.memory_info().vms + 2_000_000
        each.rlimit(resource.RLIMIT_AS, (limit, resource.RLIM_INFINITY))
    there = journey.work()["takes"]
    journey.fill().raise_for_status()
    until(lambda: not journey.busy())
    (run,) = [each["run"] for each in journey.desk()["sweeps"] if each["id"] == journey.sweep]
    assert run["state"] == "done" or "memory" in run["error"], run
    for each in workers:
        with suppress(psutil.NoSuchProcess):
            each.rlimit(resource.RLIMIT_AS, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))
    there = journey.work()["takes"]
    journey.fill().raise_for_status()
    until(lambda: not journey.busy() and journey.work()["takes"] > there)


def test_a_killed_worker_costs_nothing_but_time(served: Application, journey: Journey) -> None:
    there = journey.work()["takes"]
    journey.fill().raise_for_status()
    for each in processes(served)[1:]:
        with suppress(psutil.NoSuchProcess):
            each.kill()
    until(lambda: not journey.busy() and journey.work()["takes"] > there)


def test_after_all_of_it_the_library_is_whole(served: Application, journey: Journey) -> None:
    look_whole(served, journey)


def test_a_folder_that_cannot_be_written_is_said_in_a_line(tmp_path: Path) -> None:
    (tmp_path / "library").write_text("a file where the folder should be")
    refused = keen_sweep("serve", "--library", tmp_path / "library")
    assert refused.returncode == 2
    assert refused.stderr.count("\n") == 1
    assert "cannot be used" in refused.stderr


def test_a_clock_that_jumps_changes_no_order(library: Library, frame: Frame, monkeypatch: pytest.MonkeyPatch) -> None:
    """Forward by three years, back by six, and to the day: what was done first is undone last."""

    class Jumping(datetime):
        shift = timedelta(0)

        @classmethod
        def now(cls, tz: object = None) -> datetime:  # type: ignore[override]
            return datetime.now(UTC) + cls.shift

    monkeypatch.setattr(tables, "datetime", Jumping)
    names = []
    for days in (0, 1100, -2200, 5, 0):
        Jumping.shift = timedelta(days=days)
        names.append(f"{days} days")
        new_sweep(library, frame.id, [Stroke(points=((20.0 + len(names) * 20, 30.0),), size=8)], names[-1])
    seen = []
    for _ in names:
        seen.append([each.sweep.name for each in desk(library, frame.id).sweeps])
        undo(library, frame.id)
    assert seen == [names[:k] for k in range(len(names), 0, -1)]
    for _ in names:
        redo(library, frame.id)
    assert [each.sweep.name for each in desk(library, frame.id).sweeps] == names
    # What is deleted while the clock is years behind can still be brought back.
    Jumping.shift = timedelta(days=-2200)
    remove_frame(library, frame.id)
    Jumping.shift = timedelta(0)
    assert forget_old(library) == 0
    bring_back(library, gone(library)[0].shoot)
    assert len(desk(library, frame.id).sweeps) == len(names)
    with sqlite3.connect(library.database) as db:
        assert db.execute("PRAGMA integrity_check").fetchone() == ("ok",)
