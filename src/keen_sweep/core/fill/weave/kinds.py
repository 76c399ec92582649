"""The kinds of starts: no setting wins everywhere, so several are tried and the picture decides.

Structure wants soft votes and a very coarse start, ground that grew by itself wants sharper votes and a start that is less
coarse, walls want the picture's own repeats.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Source = Literal["rim", "repeats", "lines"]


@dataclass(frozen=True)
class Kind:
    """softness of votes, as a multiple of the distances' 75th percentile; radius of the hole, in pixels, at the scale it
    starts from; and what it starts from."""

    name: str
    softness: float
    radius: float
    source: Source = "rim"


SOFT = Kind("soft", 1.0, 3.5)
SHARP = Kind("sharp", 0.3, 5.0)
FINE = Kind("fine", 1.0, 5.0)
REPEATS = Kind("repeats", 0.3, 5.0, "repeats")
LINES = Kind("lines", 0.6, 5.0, "lines")
