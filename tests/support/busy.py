"""Two busy loops beside the tests (pytest -p tests.support.busy): what holds only on an idle machine shows itself."""

from __future__ import annotations

import subprocess
import sys

import pytest

LOOPS = 2
_loops: list[subprocess.Popen[bytes]] = []


def pytest_sessionstart(session: pytest.Session) -> None:
    # Once, beside all workers.
    if not hasattr(session.config, "workerinput"):
        _loops.extend(subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(LOOPS))


def pytest_sessionfinish() -> None:
    for each in _loops:
        each.kill()
    _loops.clear()
