"""The scouts by the kind of find they look for."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.scout.backdrop import find_backdrop
from keen_sweep.core.scout.find import Find, Kind
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.scout.specks import find_specks
from keen_sweep.core.scout.things import find_things
from keen_sweep.core.scout.wires import find_wires

Guard = NDArray[np.bool_] | None
Progress = Callable[[float, str], None]
# In the order in which they are run: the quick ones first.
KINDS: tuple[Kind, ...] = ("people", "specks", "backdrop", "wires", "things")
# What each looks for, said when it finds nothing.
LOOKED_FOR: dict[Kind, str] = {
    "people": "people of about a fifteenth of the picture's height and taller",
    "things": "bicycles, cars, dogs, bags, bottles, chairs and the like",
    "wires": "long thin lines, straight or sagging, of up to 8 px at working size",
    "specks": "round dark spots of 5 to 45 px at working size on calm ground",
    "backdrop": "studio paper or cloth that reaches the bottom of the picture, with a subject on it",
}
SMALL = "people of 60 px and taller, tile by tile"


def unwatched(share: float, doing: str) -> None:
    """The progress callback of somebody who does not look."""


def look_for(
    kind: Kind, picture: Pixels, guard: Guard = None, small: bool = False, progress: Progress = unwatched
) -> list[Find]:
    """The finds of one kind in a picture (H, W, 3), surest first; none on guarded ground (H, W).

    small: people and things far away too, which takes longer. Raises NoWeights when a network is missing.
    """
    if kind == "people":
        return find_people(picture, guard, small, progress=progress)
    if kind == "things":
        return find_things(picture, guard, small, progress)
    if kind == "wires":
        return find_wires(picture, guard)
    return find_specks(picture, guard) if kind == "specks" else find_backdrop(picture, guard)


def looked_for(kind: Kind, small: bool) -> str:
    """What a scout looked for, in words."""
    return SMALL if small and kind == "people" else LOOKED_FOR[kind]
