"""What a scout yields: named finds with masks of their own."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from keen_sweep.core.mask.mask import Mask

Belonging = Literal["shadow", "mirror"]


class FindKind(StrEnum):
    """What scouts look for."""

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
    """What seems to belong to a find and is proposed with it: its cast shadow or its mirror image."""

    kind: Belonging
    mask: Mask


@dataclass(frozen=True)
class Found:
    """One thing that may go: its mask, how sure the scout is (0 to 1), and what speaks for or against it in words.

    subject: it seems to be what the picture is of; chosen: it goes unless somebody objects; what: which kind of
    things.
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
