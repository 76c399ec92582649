"""Compiled kernels, which numba caches beside the code."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

PACKAGE_FOLDER = Path(__file__).parents[1]


def drop_kernels(folder: Path = PACKAGE_FOLDER) -> int:
    """Delete the compiled kernels below a folder; how many files that were."""
    files = [each for pattern in ("*.nbi", "*.nbc") for each in folder.rglob(pattern)]
    for file in files:
        # Another process may have dropped it, or the installation cannot be written.
        with suppress(OSError):
            file.unlink()
    return len(files)
