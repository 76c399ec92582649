"""How work tells how far it is. What is told may raise, to break the work off."""

from __future__ import annotations

from collections.abc import Callable

# How much is done, 0 to 1, and what is being done.
Progress = Callable[[float, str], None]
# The same of a part of it that needs no words.
Tick = Callable[[float], None]


def unwatched(_share: float, _doing: str) -> None:
    """No-op progress callback."""


def part_of(progress: Progress, start: float, end: float) -> Progress:
    """Progress of one part of some work: what the part reports from 0 to 1 is reported from start to end."""

    def report(share: float, doing: str) -> None:
        progress(start + (end - start) * share, doing)

    return report
