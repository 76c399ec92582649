"""Names of shoots and pictures: how they are kept, and in which order they stand."""

from __future__ import annotations

import re
import unicodedata

from keen_sweep.core.errors import BadRequest


def named(name: str, what: str) -> str:
    """A name without control characters. Raises BadRequest when nothing is left; what: whose name it is."""
    kept = "".join(c for c in name if unicodedata.category(c)[0] != "C").strip()
    if not kept:
        raise BadRequest(f"A {what} needs a name.")
    return kept[:200]


def natural(name: str) -> list[tuple[int, int, str]]:
    """A sort key under which frame 9 comes before frame 10."""
    parts = re.split(r"(\d+)", name.casefold())
    return [(0, int(p), "") if p.isdigit() and p.isascii() else (1, 0, p) for p in parts if p]
