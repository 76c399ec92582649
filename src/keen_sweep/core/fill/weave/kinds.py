"""The kinds of starts: no setting wins everywhere, so several are tried and the picture decides.

Structure wants soft votes and a very coarse start, ground that grew by itself wants sharper votes and a start that is
less coarse, walls want the picture's own repeats, rims and edges a bridge that carries them on.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Source = Literal["rim", "repeats", "plane", "lines"]


@dataclass(frozen=True)
class Kind:
    """softness of votes, as a multiple of the distances' 75th percentile; radius of the hole, in pixels, at the scale
    it starts from; source: what it starts from; guided: whether a narrow hole follows its smooth continuation; toll:
    how much better than one of the first kind it must look before it is preferred; setting: how many pixels of a patch
    the setting counts for; always: whether one of the kind is offered among the first takes however it looks. A rim
    that bends is like nothing else in the picture, so that how it looks says little; a plane is told by its lines."""

    name: str
    softness: float
    radius: float
    source: Source = "rim"
    guided: bool = True
    toll: float = 0.0
    setting: int = 10
    always: bool = False


SOFT_KIND = Kind("soft", 1.0, 3.5)
HOME_KIND = Kind("home", 1.0, 3.5, setting=40)
SHARP_KIND = Kind("sharp", 0.3, 5.0, guided=False)
SHARPER_KIND = Kind("sharper", 0.1, 5.0, guided=False)
LINES_KIND = Kind("lines", 0.6, 5.0, "lines", always=True)
REPEATS_KIND = Kind("repeats", 0.5, 5.0, "repeats", toll=0.3)
PLANE_KIND = Kind("plane", 1.0, 5.0, "plane", always=True)
