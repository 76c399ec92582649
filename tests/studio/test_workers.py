"""Worker processes: they end when they are ended, break down without harm, and are given so much time."""

import math
import os
import sys
import time
from collections.abc import Iterator
from concurrent.futures import BrokenExecutor, Executor, Future, ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import pytest

from keen_sweep.studio.workers import Workers, forked, in_own_process, start_method


def ended(workers: Workers) -> list[tuple[int, BaseException | None]]:
    """Wait for whatever ends next."""
    until = time.monotonic() + 60
    while time.monotonic() < until:
        found = workers.ended()
        if found:
            return found
        time.sleep(0.02)
    raise AssertionError("nothing ended")


def answer() -> int:
    return 42


def nod() -> None:
    return None


def die() -> None:
    os._exit(3)


def rest() -> None:
    time.sleep(600)


def fail() -> None:
    raise KeyError("no")


@pytest.fixture
def workers() -> Iterator[Workers]:
    made = Workers(1)
    yield made
    made.stop()


@pytest.mark.parametrize("method", ["forkserver", "spawn"])
def test_something_done_apart_comes_back(method: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KEEN_SWEEP_START_METHOD", method)
    assert start_method() == method
    assert in_own_process(60, answer) == 42
    with pytest.raises(BrokenExecutor):
        in_own_process(60, die)
    with pytest.raises(KeyError):
        in_own_process(60, fail)
    with pytest.raises(TimeoutError):
        in_own_process(0.2, rest)


def test_a_process_that_dies_is_said_and_another_takes_its_place(workers: Workers) -> None:
    workers.give(7, die)
    assert not workers.free
    ((number, error),) = ended(workers)
    assert number == 7
    assert isinstance(error, BrokenExecutor)
    assert workers.free
    workers.give(8, answer)
    assert ended(workers) == [(8, None)]
    workers.give(9, fail)
    ((number, error),) = ended(workers)
    assert (number, type(error)) == (9, KeyError)


def test_what_takes_too_long_is_ended_with_its_process() -> None:
    pools: list[Executor] = []

    def noted(count: int) -> Executor:
        pools.append(forked(count))
        return pools[-1]

    workers = Workers(1, noted, seconds=0.5)
    workers.give(1, rest)
    try:
        ((number, error),) = ended(workers)
        assert (number, type(error)) == (1, TimeoutError)
        processes = [process for pool in pools for process in (pool._processes or {}).values()]  # type: ignore[attr-defined]
        for process in processes:
            process.join(timeout=20)
            assert process.exitcode is not None
        workers.give(2, nod)
        assert ended(workers)[0][0] == 2
    finally:
        workers.stop()


def test_two_work_side_by_side() -> None:
    workers = Workers(2, ThreadPoolExecutor)
    workers.start()
    workers.give(1, nod)
    assert workers.free
    workers.give(2, nod)
    numbers: set[int] = set()
    while len(numbers) < 2:
        numbers |= {number for number, error in ended(workers) if error is None}
    assert numbers == {1, 2}
    workers.stop()


def wait_for(file: str) -> None:
    while not Path(file).exists():
        time.sleep(0.02)


def test_one_that_takes_too_long_harms_no_other(tmp_path: Path) -> None:
    workers, file = Workers(2), tmp_path / "go on"
    try:
        workers.give(1, rest)
        workers.give(2, wait_for, str(file))
        workers._doing[1] = replace(workers._doing[1], began=-math.inf)
        ((number, error),) = ended(workers)
        assert (number, type(error)) == (1, TimeoutError)
        workers.give(3, wait_for, str(file))
        file.touch()
        ends = dict(ended(workers))
        while workers.busy:
            ends |= dict(ended(workers))
        assert ends == {2: None, 3: None}
    finally:
        workers.stop()


class Refusing(ThreadPoolExecutor):
    """Cannot start a process, as when there is no memory or no handle for one."""

    def submit(self, *_: object, **__: object) -> Future[int]:  # type: ignore[override]
        raise OSError("no process")


def test_what_no_process_can_be_started_for_ends_as_if_its_process_had_died() -> None:
    kinds = [ThreadPoolExecutor, Refusing]

    def made(count: int) -> Executor:
        return kinds.pop()(count)

    workers = Workers(1, made)
    workers.give(1, nod)
    ((number, error),) = ended(workers)
    assert (number, type(error)) == (1, BrokenExecutor)
    workers.give(2, nod)
    assert ended(workers) == [(2, None)]
    workers.stop()


def loaded() -> tuple[bool, str | None]:
    return "keen_sweep.core.fill.weave.synthesis" in sys.modules, os.environ.get("KEEN_SWEEP_KEYS")


def test_workers_come_with_everything_loaded_and_with_the_settings_of_now(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KEEN_SWEEP_KEYS", "/one")
    assert in_own_process(60, loaded) == (True, "/one")
    monkeypatch.delenv("KEEN_SWEEP_KEYS")
    assert in_own_process(60, loaded) == (True, None)
