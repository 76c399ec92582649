"""How work tells how far it is. What is told may raise, to break the work off."""

from __future__ import annotations

from collections.abc import Callable

# How much is done, 0 to 1, and what is being done.
Progress = Callable[[float, str], None]
# The same of a part of it that needs no words.
Tick = Callable[[float], None]


def no_progress(_share: float, _doing: str) -> None:
    """No-op progress callback.

    Parameters
    ----------
    _share : float
        Share that is done, 0 to 1.
    _doing : str
        What is being done.
    """


def part_of(progress: Progress, start: float, end: float) -> Progress:
    """Progress of a part of some work.

    Parameters
    ----------
    progress : Progress
        Progress of the whole.
    start : float
        Share of the whole at which the part starts.
    end : float
        Share of the whole at which it ends.

    Returns
    -------
    Progress
        Progress of the part, 0 to 1.
    """

    def report(share: float, doing: str) -> None:
        progress(start + (end - start) * share, doing)

    return report
