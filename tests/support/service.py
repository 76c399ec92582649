"""The simulated service on a port of its own, for tests."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx
import uvicorn

from keen_sweep.simulated.app import make_service
from keen_sweep.simulated.switches import Switches
from tests.support.ports import free_port


class Service:
    """What a test sees of it: its address, its switches, its books."""

    def __init__(self, port: int) -> None:
        self.address = f"http://127.0.0.1:{port}"

    def switch(self, **changes: Any) -> None:
        told = {**Switches(delay=0.0, flat=True).model_dump(), **changes}
        httpx.put(f"{self.address}/switches", json=told, trust_env=False).raise_for_status()

    def credits(self, left: float) -> None:
        answer = httpx.put(f"{self.address}/switches/credits", json={"credits": left}, trust_env=False)
        answer.raise_for_status()

    def books(self) -> dict[str, float]:
        return dict(httpx.get(f"{self.address}/switches/books", trust_env=False).json())


@contextmanager
def running(folder: Path) -> Iterator[Service]:
    """The service in a thread of this process, without delay."""
    port = free_port()
    config = uvicorn.Config(make_service(folder), host="127.0.0.1", port=port, log_level="error")
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        assert thread.is_alive(), "the service did not start"
        time.sleep(0.02)
    made = Service(port)
    made.switch()
    yield made
    server.should_exit = True
    thread.join(timeout=10)
