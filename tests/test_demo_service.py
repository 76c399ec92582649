"""The demo's service: started with it, registered once, ended with it however it ends."""

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import pytest

from keen_sweep.demo.service import register_service, simulated
from keen_sweep.simulated.paintings import SERVICE_NAME
from keen_sweep.store.library import Library
from keen_sweep.studio.models.register import models
from keen_sweep.studio.models.trial import try_model

pytestmark = pytest.mark.slow

SCRIPT = """
import sys, time
from pathlib import Path
from keen_sweep.demo.service import simulated

if __name__ == "__main__":
    with simulated(Path(sys.argv[1])) as address:
        print(address, flush=True)
        time.sleep(60)
"""


def wait_for(port: int) -> None:
    until = time.monotonic() + 120
    while not answers(port):
        assert time.monotonic() < until, "the service did not start"
        time.sleep(0.1)


def answers(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


@pytest.mark.parametrize("how", [signal.SIGTERM, signal.SIGKILL])
def test_the_service_ends_when_what_started_it_is_killed(tmp_path: Path, how: signal.Signals) -> None:
    script = tmp_path / "start.py"
    script.write_text(SCRIPT)
    started = subprocess.Popen(
        [sys.executable, str(script), str(tmp_path / "service")], stdout=subprocess.PIPE, text=True
    )
    assert started.stdout is not None
    port = int(started.stdout.readline().strip().rsplit(":", 1)[1])
    wait_for(port)
    os.kill(started.pid, how)
    started.wait(timeout=10)
    for _ in range(100):
        if not answers(port):
            return
        time.sleep(0.1)
    raise AssertionError("it lives on")


def test_it_is_registered_once_and_found_where_it_is_now(
    library: Library, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("KEEN_SWEEP_KEYS", str(tmp_path / "keys.json"))
    with simulated(tmp_path / "service") as address:
        register_service(library, "http://127.0.0.1:1")
        register_service(library, address)
        (row,) = models(library)
        assert (row.name, row.place) == (SERVICE_NAME, address)
        wait_for(int(address.rsplit(":", 1)[1]))
        assert "60 credits left" in (try_model(library, row.id, False).trial or "")
    assert not answers(int(address.rsplit(":", 1)[1]))
