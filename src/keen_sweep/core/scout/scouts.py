"""The scouts by the kind of find they look for."""

from __future__ import annotations

from collections.abc import Iterable

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.progress import Progress, unwatched
from keen_sweep.core.scout.backdrop import find_backdrop
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.scout.specks import find_specks
from keen_sweep.core.scout.things import find_things
from keen_sweep.core.scout.wires import find_wires

Guard = Bools | None
# In the order in which they are run: the quick ones first.
KINDS = (FindKind.PEOPLE, FindKind.SPECKS, FindKind.BACKDROP, FindKind.WIRES, FindKind.THINGS)
# What each looks for, said when it finds nothing.
LOOKED_FOR: dict[FindKind, str] = {
    FindKind.PEOPLE: "people of about a fifteenth of the picture's height and taller",
    FindKind.THINGS: "bicycles, cars, dogs, bags, bottles, chairs and the like",
    FindKind.WIRES: "straight or sagging lines up to 8 px wide",
    FindKind.SPECKS: "round dark spots of 5 to 45 px on plain ground",
    FindKind.BACKDROP: "studio paper or cloth that reaches the bottom of the picture, with a subject on it",
}
SMALL = "people of 60 px and taller"


def look_for(
    kind: FindKind, picture: Pixels, guard: Guard = None, small: bool = False, progress: Progress = unwatched
) -> list[Found]:
    """The finds of one kind in a picture (H, W, 3), surest first; none on guarded ground (H, W).

    small: people and things far away too, which takes longer. Raises NoWeights when a network is missing.
    """
    if kind == FindKind.PEOPLE:
        return find_people(picture, guard, small, progress=progress)
    if kind == FindKind.THINGS:
        return find_things(picture, guard, small, progress)
    if kind == FindKind.WIRES:
        return find_wires(picture, guard)
    if kind == FindKind.SPECKS:
        return find_specks(picture, guard)
    if kind == FindKind.BACKDROP:
        return find_backdrop(picture, guard)
    raise ValueError(f"There is no scout for {kind}.")


def needs_networks(kinds: Iterable[FindKind]) -> bool:
    """Whether some kinds are looked for through networks that others trained, which set-up fetches."""
    return any(kind in (FindKind.PEOPLE, FindKind.THINGS) for kind in kinds)


def looked_for(kind: FindKind, small: bool) -> str:
    """What a scout looked for, in words."""
    return SMALL if small and kind == FindKind.PEOPLE else LOOKED_FOR[kind]
