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
    """A kind of start.

    Attributes
    ----------
    name : str
        Its name.
    softness : float
        Softness of votes, as a multiple of the 75th percentile of distances.
    radius : float
        Radius of the hole at the coarsest level, pixels.
    source : Source
        What it starts from.
    guided : bool
        Whether a narrow hole follows its smooth continuation.
    toll : float
        How much better than the first kind it must look to be preferred.
    setting : int
        Number of pixels of a patch that the context counts for.
    always : bool
        Whether one of this kind is among the first takes however it is judged: bent rims resemble nothing
        else in the picture, and a plane is recognised by its lines.
    """

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
# Starts along drawn lines: between them they differ in softness and in how coarse they begin.
LED_KINDS = (
    Kind("led", 0.6, 5.0, "lines"),
    Kind("led soft", 1.0, 3.5, "lines"),
    Kind("led sharp", 0.3, 8.0, "lines"),
    Kind("led home", 1.0, 5.0, "lines", setting=40),
)
REPEATS_KIND = Kind("repeats", 0.5, 5.0, "repeats", toll=0.3)
PLANE_KIND = Kind("plane", 1.0, 5.0, "plane", always=True)
