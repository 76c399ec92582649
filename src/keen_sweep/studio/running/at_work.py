"""The library that a worker process works in."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from keen_sweep.store.library import Library


@cache
def library_at(folder: str) -> Library:
    """The library in a folder, opened once and kept as long as the process lives: what it has looked at stays in memory
    from one row to the next."""
    return Library(Path(folder), ready=True)
