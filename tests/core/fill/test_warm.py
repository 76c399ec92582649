"""Kernels are compiled once and for all: a worker that starts later finds them on disk."""

import json
import subprocess
import sys

import pytest

pytestmark = pytest.mark.slow

# A fill of its own process, and which kernels it had to compile.
FILL = """
import json
import numpy as np
from numba.core.dispatcher import Dispatcher
from keen_sweep.core.methods import seam
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.weave import compositing, features, start
from keen_sweep.core.methods import patchmatch as nearest
from keen_sweep.core.methods import votes as vote
below = np.random.default_rng(0).integers(0, 255, (150, 200, 3)).astype(np.uint8)
mask = np.zeros((150, 200), np.uint8)
mask[50:100, 80:130] = 255
list(engine_for("weave").fill(FillInput(below=below, mask=mask)))
kernels = [(room, name, each) for room in (features, compositing, nearest, seam, start, vote)
           for name, each in vars(room).items() if isinstance(each, Dispatcher) and each.__module__ == room.__name__]
used = [(room, name, each) for room, name, each in kernels if each.signatures]
print(json.dumps([[name, sum(each.stats.cache_misses.values())] for room, name, each in used]))
"""


def test_a_second_process_compiles_no_kernel_of_a_weave() -> None:
    def told() -> dict[str, int]:
        done = subprocess.run([sys.executable, "-c", FILL], capture_output=True, text=True, check=True)
        return dict(json.loads(done.stdout))

    told()
    again = told()
    assert {"measure", "search", "vote", "peel_inwards", "_mismatch"} <= set(again)
    assert not any(again.values()), again
