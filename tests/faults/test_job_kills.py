"""A job that is killed again and again ends as one that was not.

A short run; KEEN_SWEEP_KILLS says how often a long one is killed, of fifteen times as many pictures (make soak).
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import imagecodecs
import numpy as np
import pytest

from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from tests.support.jobs import JOB, picture

pytestmark = pytest.mark.slow

# A night's batch is not killed more often than that.
KILLS = min(int(os.environ.get("KEEN_SWEEP_KILLS", "3")), 20)
PICTURES = 15 * KILLS if KILLS > 3 else 12
# Seconds: until it may be killed first, which is while it starts.
EARLIEST = 2.0


def prepared(folder: Path) -> Path:
    """A folder with a job and its pictures, most of them with one to three specks."""
    (folder / "pictures").mkdir(parents=True)
    for k in range(PICTURES):
        chance = np.random.default_rng(k)
        count = int(chance.integers(0, 4))
        specks = tuple((int(chance.integers(15, 165)), int(chance.integers(15, 105))) for _ in range(count))
        (folder / "pictures" / f"night-{k:03}.png").write_bytes(picture(k, specks))
    (folder / "job.toml").write_text(JOB)
    return folder


def begun(folder: Path) -> subprocess.Popen[bytes]:
    program = str(Path(sys.executable).with_name("keen-sweep"))
    with (folder / "log").open("ab") as log:
        words = [program, "run", str(folder / "job.toml"), "--library", str(folder / "library")]
        return subprocess.Popen(words, stdout=log, stderr=log)


@pytest.mark.timeout(3_600)
def test_a_job_that_is_killed_again_and_again_ends_as_one_that_was_not(tmp_path: Path) -> None:
    whole, killed = prepared(tmp_path / "whole"), prepared(tmp_path / "killed")
    started = time.monotonic()
    assert begun(whole).wait() == 0
    seconds = time.monotonic() - started
    chance, kills = random.Random(4), 0
    while kills < KILLS:
        job = begun(killed)
        try:
            job.wait(timeout=chance.uniform(EARLIEST, EARLIEST + 8 + 2 * seconds / KILLS))
            break
        except subprocess.TimeoutExpired:
            job.send_signal(signal.SIGKILL)
            job.wait()
            kills += 1
    assert kills > 0
    assert begun(killed).wait() == 0
    one, other = ({file.name: file for file in (each / "out").iterdir()} for each in (whole, killed))
    assert one.keys() == other.keys()
    assert len(one) == PICTURES
    for name, file in one.items():
        pixels, again = (imagecodecs.png_decode(each.read_bytes()) for each in (file, other[name]))
        assert np.array_equal(pixels, again), name
    library = Library(killed / "library")
    report = check(library)
    library.close()
    assert not report.lost
