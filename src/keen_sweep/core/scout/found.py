"""What a scout yields: named finds with masks of their own."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from keen_sweep.core.mask.mask import Mask

Belonging = Literal["shadow", "mirror"]


class FindKind(StrEnum):
    """What scouts search for."""

    PEOPLE = "people"
    THINGS = "things"
    WIRES = "wires"
    SPECKS = "specks"
    BACKDROP = "backdrop"

    @property
    def stands_by_itself(self) -> bool:
        """Whether it is something that nobody wants to see copied elsewhere."""
        return self in (FindKind.PEOPLE, FindKind.THINGS)

    @property
    def stays_one(self) -> bool:
        """Whether its separate areas are filled as one sweep."""
        return self in (FindKind.SPECKS, FindKind.BACKDROP, FindKind.WIRES)

    @property
    def is_dust(self) -> bool:
        """Whether it may sit on the sensor, at the same place of every frame; all of it becomes one sweep."""
        return self is FindKind.SPECKS


@dataclass(frozen=True)
class Also:
    """What seems to belong to a find and is proposed with it.

    Attributes
    ----------
    kind : Belonging
        Cast shadow or mirror image.
    mask : Mask
        Its mask.
    """

    kind: Belonging
    mask: Mask


@dataclass(frozen=True)
class Found:
    """Something that could be removed.

    Attributes
    ----------
    kind : FindKind
        Kind of find.
    name : str
        Its name.
    mask : Mask
        Its mask.
    confidence : float
        0 to 1.
    reason : str
        What speaks for or against it.
    subject : bool
        Whether it seems to be the subject of the picture.
    chosen : bool
        Whether it is ticked at first.
    also : tuple of Also
        What belongs to it.
    what : str
        Class of the thing.
    """

    kind: FindKind
    name: str
    mask: Mask
    confidence: float
    reason: str
    subject: bool = False
    chosen: bool = True
    also: tuple[Also, ...] = ()
    what: str = ""
