"""What an installation does once, and a mark that it was done: in the environment, or else in the user's cache."""

from __future__ import annotations

import hashlib
import sys
from pathlib import Path

from keen_sweep import __version__

# An environment that belongs to somebody else cannot be written; its mark goes into the user's cache then.
INSTALL_FOLDER = Path(sys.prefix) / "share" / "keen-sweep"
CACHE_FOLDER = Path.home() / ".cache" / "keen-sweep"


def done(what: str) -> bool:
    """Whether this version, run by this Python, was through with it."""
    return any(place.exists() for place in _places(what))


def mark_done(what: str) -> None:
    """Keep in mind that it was done; where nothing can be kept it is done again at the next start."""
    for place in _places(what):
        try:
            place.parent.mkdir(parents=True, exist_ok=True)
            place.touch()
        except OSError:
            continue
        return


def _places(what: str) -> tuple[Path, Path]:
    name = f"{what}-{__version__}-{sys.implementation.cache_tag}"
    return INSTALL_FOLDER / name, CACHE_FOLDER / f"{name}-{hashlib.sha256(sys.prefix.encode()).hexdigest()[:12]}"
