"""What commands say, and how: messages and bars on stderr, what a script reads on stdout."""

from __future__ import annotations

import socket
from pathlib import Path

from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

from keen_sweep.core.errors import BadRequest

console = Console(stderr=True)


def bar() -> Progress:
    return Progress(TextColumn("{task.description}"), BarColumn(), TimeElapsedColumn(), console=console, transient=True)


def check_folder(folder: Path) -> None:
    """Make a folder to write into. Raises BadRequest when that cannot be."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        probe = folder / ".keen-sweep-probe"
        probe.touch()
        probe.unlink()
    except OSError as error:
        raise BadRequest(f"The folder {folder} cannot be written: {error.strerror or error}.") from error


def check_address(host: str, port: int) -> None:
    """Raise BadRequest unless an address is free."""
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise BadRequest(
                f"The address {host}:{port} cannot be used ({error.strerror}): choose another with --port."
            ) from error
