"""A property that threads share: computed once for each instance, and nobody waits for another instance's."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event, Lock

import pytest

from keen_sweep.core.shared_property import shared_property


class Slow:
    def __init__(self, go_on: Event | None = None) -> None:
        self.go_on, self.count, self.lock = go_on, 0, Lock()

    @shared_property
    def value(self) -> int:
        """What takes a while."""
        with self.lock:
            self.count += 1
        if self.go_on is not None:
            assert self.go_on.wait(60)
        return self.count

    @shared_property
    def other(self) -> str:
        return "at once"


def test_many_threads_compute_it_once() -> None:
    slow, together = Slow(), Barrier(8)

    def ask() -> int:
        together.wait(60)
        return slow.value

    with ThreadPoolExecutor(8) as threads:
        assert [each.result() for each in [threads.submit(ask) for _ in range(8)]] == [1] * 8
    assert slow.count == 1


def test_nobody_waits_for_another_instance_or_property() -> None:
    go_on = Event()
    slow, quick = Slow(go_on), Slow()
    with ThreadPoolExecutor(1) as thread:
        waiting = thread.submit(lambda: slow.value)
        try:
            assert quick.value == 1
            assert slow.other == "at once"
            assert not waiting.done()
        finally:
            go_on.set()
        assert waiting.result(60) == 1


def test_an_error_is_not_kept() -> None:
    class Once:
        failed = False

        @shared_property
        def value(self) -> int:
            if not self.failed:
                self.failed = True
                raise ValueError("the first time")
            return 5

    once = Once()
    with pytest.raises(ValueError, match="first"):
        _ = once.value
    assert once.value == 5
    assert Slow.value.__doc__ == "What takes a while."
