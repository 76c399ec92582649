"""The simulated generation service beside the demo: started with it, registered in its library, ended with it."""

from __future__ import annotations

import multiprocessing
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from pydantic import SecretStr

from keen_sweep.simulated import DEFAULT_PORT
from keen_sweep.simulated.app import DEMO_KEY
from keen_sweep.simulated.paintings import SERVICE_NAME
from keen_sweep.simulated.serve import serve
from keen_sweep.store.library import Library
from keen_sweep.store.words import ModelKind
from keen_sweep.studio.models.register import ModelChange, change_model, models, register, set_key
from keen_sweep.studio.workers import end_with_parent


@contextmanager
def simulated(folder: Path) -> Iterator[str]:
    """The service in a process of its own, with its books in a folder; where it is or will be.

    Nobody waits for it: it loads while the application does, and without it all else of the demo works.
    """
    port = _free_port()
    process = multiprocessing.get_context("spawn").Process(target=_serve, args=(folder, port), daemon=True)
    process.start()
    try:
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.join(timeout=5)


def register_service(library: Library, address: str) -> None:
    """Register the service in a library, or tell it where the service is now."""
    row = next((each for each in models(library) if each.name == SERVICE_NAME), None)
    if row is None:
        row = register(library, SERVICE_NAME, ModelKind.SERVICE, address)
    change_model(library, row.id, ModelChange(place=address))
    set_key(library, row.id, SecretStr(DEMO_KEY))


def _serve(folder: Path, port: int) -> None:
    """What the service's process does: it ends with the demo, however that ends."""
    end_with_parent()
    serve(folder, port)


def _free_port() -> int:
    """The usual port, or another one if that is taken."""
    for wanted in (DEFAULT_PORT, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", wanted))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    return DEFAULT_PORT
