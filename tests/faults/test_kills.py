"""The server is killed at random moments of uploads, edits, fills and deletions: nothing that it confirmed is lost.

A short run; KEEN_SWEEP_KILLS says how many kills a long one has (make soak).
"""

import hashlib
import os
import signal
import threading
from collections.abc import Iterator
from pathlib import Path

import httpx
import numpy as np
import pytest

from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from tests.faults.journey import picture
from tests.web.conftest import Application

KILLS = int(os.environ.get("KEEN_SWEEP_KILLS", "4"))
# Where the mark of edit k lies, so that each can be told from all others.
MARKS = 30


class Work:
    """Somebody who works without a pause, and writes down what was confirmed."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.sweeps: dict[int, set[str]] = {}
        # Asked to be deleted: gone whether or not it was confirmed, or still there if it was not.
        self.doomed: set[str] = set()
        self.deleted: set[str] = set()
        self.originals: dict[int, bytes] = {}
        self.shoot: int | None = None
        self.done = 0
        self.wrong: list[str] = []
        self.moved = threading.Event()

    def until_killed(self) -> None:
        try:
            with httpx.Client(base_url=self.address, timeout=60) as client:
                while True:
                    self._step(client)
        except httpx.TransportError:
            return
        except httpx.HTTPStatusError as error:
            self.wrong.append(f"{error}: {error.response.text}")
        finally:
            self.moved.set()

    def _step(self, client: httpx.Client) -> None:
        if self.shoot is None:
            self.shoot = client.post("/api/shoots", json={"name": "Killed"}).raise_for_status().json()["id"]
        k = self.done
        if k % 5 == 0:
            data = picture(k)
            sent = client.post(f"/api/shoots/{self.shoot}/frames", params={"name": f"{k}.png"}, content=data)
            frame = sent.raise_for_status().json()["id"]
            self.originals[frame], self.sweeps[frame] = data, set()
        else:
            frame = max(self.originals)
            points = [[20 + 8 * (k % MARKS), 20], [24 + 8 * (k % MARKS), 60]]
            shape = {"kind": "stroke", "points": points, "size": 6, "softness": 0, "erase": False}
            made = client.post(f"/api/frames/{frame}/sweeps", json={"shapes": [shape]}).raise_for_status().json()
            sweep = made["sweep_id"]
            self.sweeps[frame].add(sweep)
            if k % 5 == 2:
                client.post(
                    f"/api/frames/{frame}/sweeps/{sweep}/fill", json={"takes": 1, "quality": "fast"}
                ).raise_for_status()
            if k % 5 == 4:
                self.doomed.add(sweep)
                client.delete(f"/api/frames/{frame}/sweeps/{sweep}").raise_for_status()
                self.deleted.add(sweep)
        self.done += 1
        self.moved.set()


@pytest.fixture
def killed(tmp_path: Path) -> Iterator[Application]:
    made = Application(tmp_path / "library")
    yield made
    made.stop(signal.SIGKILL)


def test_nothing_that_was_confirmed_is_lost(killed: Application) -> None:
    moments = np.random.default_rng(7).uniform(0.0, 1.5, KILLS)
    work = Work(killed.address)
    for moment in moments:
        killed.start()
        work.moved.clear()
        hand = threading.Thread(target=work.until_killed, daemon=True)
        hand.start()
        # Not before something was confirmed, however slow the machine is; at any moment after that.
        assert work.moved.wait(120)
        hand.join(float(moment))
        killed.stop(signal.SIGKILL)
        hand.join(120)
        assert not hand.is_alive()
    killed.start()
    told = httpx.get(f"{killed.address}/api/shoots", timeout=60).json()
    frames = {each["id"] for shoot in told for each in shoot["frames"]}
    assert frames >= set(work.originals), "every picture that was taken in"
    for frame, wanted in work.sweeps.items():
        desk = httpx.get(f"{killed.address}/api/frames/{frame}", timeout=60).json()
        there = {each["id"] for each in desk["sweeps"]}
        assert there >= wanted - work.doomed, "every mark that was confirmed"
        assert not there & work.deleted, "nothing that was deleted"
    killed.stop(signal.SIGKILL)
    assert work.wrong == []
    assert work.done >= KILLS, "there was work to be interrupted"
    library = Library(killed.library)
    report = check(library)
    assert not report.lost, report
    assert not [each for each in report.leftovers if each.parent != library.incoming], "no half file"
    for data in work.originals.values():
        assert library.files.read(hashlib.sha256(data).hexdigest()) == data
    library.close()
