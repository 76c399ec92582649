"""The real application in a process of its own."""

import os
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path

from tests.support.ports import free_port


class Application:
    """A running server on a port and library that stay the same when it is stopped and started again."""

    def __init__(self, library: Path, engine: str = "", second_look: bool = True) -> None:
        """engine: "flat" where fills are not what is tested; second_look: whether takes are reviewed. See Settings."""
        self.library, self.engine, self.second_look = library, engine, second_look
        self.log = library.with_name(f"{library.name}.log")
        self.keys = library.with_name(f"{library.name}-keys.json")
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        program = str(Path(sys.executable).with_name("keen-sweep"))
        words = ["serve", "--library", str(self.library), "--port", str(self.port)]
        # Keys in a file of its own, and services that are slow are given up soon.
        home = {"KEEN_SWEEP_KEYS": str(self.keys), "KEEN_SWEEP_SERVICE_SECONDS": "1.5"}
        home |= {"KEEN_SWEEP_ENGINE": self.engine, "KEEN_SWEEP_SECOND_LOOK": str(int(self.second_look))}
        with self.log.open("ab") as log:
            self._process = subprocess.Popen(
                [program, *words], start_new_session=True, env={**os.environ, **home}, stdout=log, stderr=log
            )
        for _ in range(1_200):
            try:
                urllib.request.urlopen(f"{self.address}/api/health", timeout=1).read()
                return
            except OSError:
                assert self._process.poll() is None, f"the application ended: {self.log.read_text()[-500:]}"
                time.sleep(0.1)
        raise AssertionError("the application did not start")

    def stop(self, how: int = signal.SIGTERM) -> None:
        """End it, if it has not ended."""
        assert self._process is not None
        if self._process.poll() is None:
            os.killpg(self._process.pid, how)
        self._process.wait(timeout=60)


def serving(library: Path, engine: str = "") -> Iterator[Application]:
    """A server for as long as somebody tests with it; it is not asked to end well."""
    made = Application(library, engine)
    made.start()
    yield made
    made.stop(signal.SIGKILL)
