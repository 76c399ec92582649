"""Fifty windows that edit and read at once: every edit that was confirmed is there, in an order, and nothing fails.

A short run; KEEN_SWEEP_CROWD_SECONDS says how long a long one takes (make soak).
"""

import os
import threading
import time

import httpx
import psutil

from tests.support.application import Application
from tests.support.journey import Journey
from tests.support.waiting import until

CLIENTS = 50
SECONDS = float(os.environ.get("KEEN_SWEEP_CROWD_SECONDS", "8"))
MOST_GROWTH = 200_000_000


class Window:
    """One of many: it marks, looks, renames and takes back, and remembers what was confirmed."""

    def __init__(self, number: int, journey: Journey, address: str, end: float) -> None:
        self.number, self.here, self.address, self.end = number, journey.here, address, end
        self.made: set[str] = set()
        self.wrong: list[str] = []
        self.asked = 0

    def work(self) -> None:
        try:
            with httpx.Client(base_url=self.address, timeout=300, headers={"X-Window": str(self.number)}) as client:
                # On a busy machine the time may be up before somebody's turn has come.
                while not self.made or time.monotonic() < self.end:
                    self._step(client)
        except (httpx.HTTPError, KeyError) as error:
            self.wrong.append(f"{type(error).__name__}: {error}")

    def _step(self, client: httpx.Client) -> None:
        k = self.asked
        self.asked += 1
        if k % 5 == 0:
            x = 10 + (self.number * 5) % 250
            shape = {"kind": "stroke", "points": [[x, 20], [x, 60]], "size": 4, "softness": 0, "erase": False}
            made = client.post(f"{self.here}/sweeps", json={"shapes": [shape]}).raise_for_status().json()
            self.made.add(made["sweep_id"])
        elif k % 5 == 4 and len(self.made) > 1:
            # No frame holds thousands of sweeps: all but the last are taken out again.
            gone = next(iter(self.made))
            client.delete(f"{self.here}/sweeps/{gone}").raise_for_status()
            self.made.discard(gone)
        elif k % 5 == 2:
            client.get("/api/shoots").raise_for_status()
        else:
            client.get(self.here).raise_for_status()


def crowd(served: Application, journey: Journey) -> None:
    """Let them work for so many seconds, and look what came of it."""
    assert served._process is not None
    server = psutil.Process(served._process.pid)
    before = server.memory_info().rss
    before_that = {each["id"] for each in journey.desk()["sweeps"]}
    end = time.monotonic() + SECONDS
    windows = [Window(number, journey, served.address, end) for number in range(CLIENTS)]
    hands = [threading.Thread(target=window.work, daemon=True) for window in windows]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join(SECONDS + 500)
    assert not any(hand.is_alive() for hand in hands)
    assert [each for window in windows for each in window.wrong] == []
    there = {each["id"] for each in journey.desk()["sweeps"]}
    assert there - before_that == set().union(*(window.made for window in windows))
    assert all(window.made for window in windows), "everybody had a turn"
    assert server.memory_info().rss - before < MOST_GROWTH
    until(lambda: not journey.busy())
