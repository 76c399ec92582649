"""The registry of scouts: how each kind of find is searched for."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.progress import Progress, unwatched
from keen_sweep.core.scout.backdrop import find_backdrop
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.scout.specks import find_specks
from keen_sweep.core.scout.things import find_things
from keen_sweep.core.scout.wires import find_wires

Guard = Bools | None


class Search(Protocol):
    """Finds things of one kind.

    Parameters
    ----------
    picture
        (H, W, 3) uint8 or uint16.
    guard
        (H, W) bool: nothing is found where it is True. None where nothing is guarded.
    small
        Search for small and distant ones too, which takes longer.
    progress
        Called with a share from 0 to 1 and what is being done.

    Returns
    -------
    list of Found
        Surest first.

    Raises
    ------
    NoWeights
        When a network is missing.
    """

    def __call__(self, picture: Pixels, guard: Guard, small: bool, progress: Progress) -> list[Found]: ...


@dataclass(frozen=True)
class Scout:
    """How one kind of find is searched for.

    Parameters
    ----------
    search
        The search itself.
    searches_for
        What it searches for, said when it finds nothing.
    needs_networks
        Whether it needs networks that set-up fetches.
    searches_small_for
        The same when small and distant ones are searched for too; empty if that makes no difference.
    """

    search: Search
    searches_for: str
    needs_networks: bool = False
    searches_small_for: str = ""


# In the order in which they run: quick ones first.
SCOUTS_BY_KIND: dict[FindKind, Scout] = {
    FindKind.PEOPLE: Scout(
        lambda picture, guard, small, progress: find_people(picture, guard, small, progress=progress),
        "people of about a fifteenth of the picture's height and taller",
        needs_networks=True,
        searches_small_for="people of 60 px and taller",
    ),
    FindKind.SPECKS: Scout(
        lambda picture, guard, small, progress: find_specks(picture, guard),
        "round dark spots of 5 to 45 px on plain ground",
    ),
    FindKind.BACKDROP: Scout(
        lambda picture, guard, small, progress: find_backdrop(picture, guard),
        "studio paper or cloth that reaches the bottom of the picture, with a subject on it",
    ),
    FindKind.WIRES: Scout(
        lambda picture, guard, small, progress: find_wires(picture, guard),
        "straight or sagging lines up to 8 px wide",
    ),
    FindKind.THINGS: Scout(
        find_things, "bicycles, cars, dogs, bags, bottles, chairs and the like", needs_networks=True
    ),
}
ALL_KINDS = tuple(SCOUTS_BY_KIND)


def look_for(
    kind: FindKind, picture: Pixels, guard: Guard = None, small: bool = False, progress: Progress = unwatched
) -> list[Found]:
    """The finds of one kind in a picture; see Search. Raises ValueError for a kind without a scout."""
    scout = SCOUTS_BY_KIND.get(kind)
    if scout is None:
        raise ValueError(f"There is no scout for {kind}.")
    return scout.search(picture, guard, small, progress)


def needs_networks(kinds: Iterable[FindKind]) -> bool:
    """Whether any of some kinds is searched for with networks that set-up fetches."""
    return any(SCOUTS_BY_KIND[kind].needs_networks for kind in kinds)


def looked_for(kind: FindKind, small: bool) -> str:
    """What a scout searched for, in words."""
    scout = SCOUTS_BY_KIND[kind]
    return scout.searches_small_for if small and scout.searches_small_for else scout.searches_for
