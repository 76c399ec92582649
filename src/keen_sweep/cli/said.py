"""What commands say, and how: messages and bars on stderr, what a script reads on stdout."""

from __future__ import annotations

import socket
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from rich.console import Console
    from rich.progress import Progress


@cache
def _console() -> Console:
    from rich.console import Console

    return Console(stderr=True)


def say(line: str) -> None:
    """A line for whoever looks, beside a bar if there is one."""
    _console().print(line, highlight=False, markup=False, soft_wrap=True)


def bar() -> Progress:
    from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

    columns = TextColumn("{task.description}"), BarColumn(), TimeElapsedColumn()
    return Progress(*columns, console=_console(), transient=True)


def check_folder(folder: Path) -> None:
    """Make a folder to write into. Raises BadRequest when that cannot be."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        probe = folder / ".keen-sweep-probe"
        probe.touch()
        probe.unlink()
    except OSError as error:
        raise BadRequest(
            sentence("The folder {folder} cannot be written: {reason}.", folder=folder, reason=error.strerror or error)
        ) from error


def check_address(host: str, port: int) -> None:
    """Raise BadRequest unless an address is free."""
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise BadRequest(
                sentence(
                    "The address {host}:{port} cannot be used ({strerror}): choose another with --port.",
                    host=host,
                    port=port,
                    strerror=error.strerror,
                )
            ) from error
