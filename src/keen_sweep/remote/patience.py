"""How long a service is waited for."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Patience:
    """How long a service is waited for, seconds: tries of one request, the first wait between two, which doubles up to
    the longest, a silence within an answer, one whole answer, and one painting."""

    tries: int = 5
    first: float = 0.5
    longest: float = 8.0
    silence: float = 30.0
    transfer: float = 30.0
    painting: float = 600.0
