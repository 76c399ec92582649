"""The server is killed at random moments of uploads, edits, fills, deliveries, deletions and migrations: nothing that
it confirmed is lost.

A short run; KEEN_SWEEP_KILLS says how many kills a long one has (make soak).
"""

import hashlib
import os
import signal
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path

import httpx
import imagecodecs
import numpy as np
import pytest

from keen_sweep.core.photo.write import PARTIAL_PREFIX
from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from keen_sweep.studio.desk import desk
from keen_sweep.studio.gathering.shoots import shoots
from tests.support.application import Application
from tests.support.journey import picture

pytestmark = pytest.mark.slow

KILLS = int(os.environ.get("KEEN_SWEEP_KILLS", "3"))
# Where the mark of edit k lies, so that each can be told from all others.
MARKS = 30


class Work:
    """Somebody who works without a pause, and writes down what was confirmed."""

    def __init__(self, address: str, target: Path) -> None:
        self.address, self.target = address, target
        self.sweeps: dict[int, set[str]] = {}
        # Asked to be deleted: gone whether or not it was confirmed, or still there if it was not.
        self.doomed: set[str] = set()
        self.deleted: set[str] = set()
        self.originals: dict[int, bytes] = {}
        self.shoot: int | None = None
        self.done = self.delivered = self.sent = 0
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
            # Another one each time: the last may be there without having been confirmed.
            self.sent += 1
            data = picture(self.sent)
            sent = client.post(f"/api/shoots/{self.shoot}/frames", params={"name": f"{self.sent}.png"}, content=data)
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
            if k % 5 == 3:
                # Each file under a name of its own: what is there is whole.
                wanted = {"pattern": f"delivered {k}", "kind": "png", "ledger": False}
                body = {"folder": str(self.target), "wanted": wanted, "over": True}
                client.post(f"/api/frames/{frame}/delivery", json=body).raise_for_status()
                self.delivered += 1
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


def test_nothing_that_was_confirmed_is_lost(killed: Application, tmp_path: Path) -> None:
    moments = np.random.default_rng(7).uniform(0.0, 1.5, KILLS)
    target = tmp_path / "delivered"
    target.mkdir()
    work = Work(killed.address, target)
    slowest = 0.0
    for moment in moments:
        began = time.monotonic()
        killed.start()
        slowest = max(slowest, time.monotonic() - began)
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
        told = httpx.get(f"{killed.address}/api/frames/{frame}", timeout=60).json()
        there = {each["id"] for each in told["sweeps"]}
        assert there >= wanted - work.doomed, "every mark that was confirmed"
        assert not there & work.deleted, "nothing that was deleted"
    killed.stop(signal.SIGKILL)
    assert work.wrong == []
    assert work.done >= KILLS, "there was work to be interrupted"
    library = Library(killed.library)
    report = check(library)
    assert not report.lost, report
    assert not [each for each in report.leftovers if each.parent != library.incoming], "no half file"
    whole = [each for each in target.iterdir() if not each.name.startswith(PARTIAL_PREFIX)]
    assert len(whole) >= work.delivered
    for file in whole:
        assert imagecodecs.png_decode(file.read_bytes()).shape == (192, 288, 3)
    print(f"{KILLS} kills, {work.done} things done, back after {slowest:.1f} s at most")
    for data in work.originals.values():
        assert library.files.read(hashlib.sha256(data).hexdigest()) == data
    library.close()


OPEN = """
import sys
from pathlib import Path
from keen_sweep.store.library import Library
print(1)
Library(Path(sys.argv[1]))
"""


def test_a_migration_that_is_killed_is_done_anew(tmp_path: Path) -> None:
    kept = Path(__file__).parents[1] / "store" / "libraries" / "0001.zip"
    random = np.random.default_rng(5)
    for number in range(max(KILLS // 2, 3)):
        folder = tmp_path / str(number)
        with zipfile.ZipFile(kept) as packed:
            packed.extractall(folder)
        opening = subprocess.Popen(
            [sys.executable, "-u", "-c", OPEN, str(folder / "library")], stdout=subprocess.PIPE, text=True
        )
        assert opening.stdout is not None
        assert opening.stdout.readline() == "1\n"
        time.sleep(float(random.uniform(0, 0.4)))
        opening.kill()
        opening.wait(60)
        library = Library(folder / "library")
        assert not check(library).lost
        ((_, frames),) = shoots(library)
        assert [len(desk(library, frame.id).sweeps) for frame in frames] == [0, 2]
        library.close()
