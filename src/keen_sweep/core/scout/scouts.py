"""The registry of scouts: how each kind of find is searched for."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Protocol

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.progress import Progress, no_progress
from keen_sweep.core.scout.backdrop import find_backdrop
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.scout.people import find_people
from keen_sweep.core.scout.specks import find_specks
from keen_sweep.core.scout.things import find_things
from keen_sweep.core.scout.wires import find_wires
from keen_sweep.core.sentences import sentence

Guard = Bools | None


class Search(Protocol):
    """Finds things of one kind; see `search_for`."""

    def __call__(self, picture: Pixels, guard: Guard, small: bool, progress: Progress) -> list[Found]: ...


@dataclass(frozen=True)
class Scout:
    """How one kind of find is searched for.

    Attributes
    ----------
    search : Search
        The search.
    searches_for : str
        What it searches for, shown when nothing is found.
    needs_networks : bool
        Whether it needs networks that set-up fetches.
    searches_small_for : str
        The same when small things are searched for too; empty if that makes no difference.
    """

    search: Search
    searches_for: str
    needs_networks: bool = False
    searches_small_for: str = ""


# In the order in which they run: quick ones first.
SCOUTS_BY_KIND: dict[FindKind, Scout] = {
    FindKind.PEOPLE: Scout(
        lambda picture, guard, small, progress: find_people(picture, guard, small, progress=progress),
        sentence("people of about a fifteenth of the picture's height and taller"),
        needs_networks=True,
        searches_small_for=sentence("people of 60 px and taller"),
    ),
    FindKind.SPECKS: Scout(
        lambda picture, guard, small, progress: find_specks(picture, guard),
        sentence("round dark spots of 5 to 45 px on plain ground"),
    ),
    FindKind.BACKDROP: Scout(
        lambda picture, guard, small, progress: find_backdrop(picture, guard),
        sentence("studio paper or cloth that reaches the bottom of the picture, with a subject on it"),
    ),
    FindKind.WIRES: Scout(
        lambda picture, guard, small, progress: find_wires(picture, guard),
        sentence("straight or sagging lines up to 8 px wide"),
    ),
    FindKind.THINGS: Scout(
        find_things, sentence("bicycles, cars, dogs, bags, bottles, chairs and the like"), needs_networks=True
    ),
}
ALL_KINDS = tuple(SCOUTS_BY_KIND)


def search_for(
    kind: FindKind, picture: Pixels, guard: Guard = None, small: bool = False, progress: Progress = no_progress
) -> list[Found]:
    """Search a picture for finds of one kind.

    Parameters
    ----------
    kind : FindKind
        The kind.
    picture : (H, W, 3) uint8 or uint16
        The picture.
    guard : (H, W) bool or None, optional
        Nothing is found here.
    small : bool, optional
        Whether to search for small and distant things too, which takes longer.
    progress : Progress, optional
        Called with the share that is done and what is being done.

    Returns
    -------
    list of Found
        The finds, surest first.

    Raises
    ------
    NoWeights
        A network is missing.
    ValueError
        There is no scout for this kind.
    """
    scout = SCOUTS_BY_KIND.get(kind)
    if scout is None:
        raise ValueError(f"There is no scout for {kind}.")
    return scout.search(picture, guard, small, progress)


def needs_networks(kinds: Iterable[FindKind]) -> bool:
    """Whether any of some kinds needs networks that set-up fetches.

    Parameters
    ----------
    kinds : iterable of FindKind
        The kinds.

    Returns
    -------
    bool
        Whether one does.
    """
    return any(SCOUTS_BY_KIND[kind].needs_networks for kind in kinds)


def search_description(kind: FindKind, small: bool) -> str:
    """Describe what a scout searched for.

    Parameters
    ----------
    kind : FindKind
        The kind.
    small : bool
        Whether it searched for small things too.

    Returns
    -------
    str
        The description.
    """
    scout = SCOUTS_BY_KIND[kind]
    return scout.searches_small_for if small and scout.searches_small_for else scout.searches_for
