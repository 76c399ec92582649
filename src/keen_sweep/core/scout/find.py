"""What a scout yields: a named, numbered find with a mask of its own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from keen_sweep.core.mask.mark import Mask

Kind = Literal["people", "things", "wires", "specks", "backdrop"]


@dataclass(frozen=True)
class Also:
    """What seems to belong to a find and is proposed with it: its cast shadow or its mirror image."""

    kind: Literal["shadow", "mirror"]
    mask: Mask


@dataclass(frozen=True)
class Find:
    """One thing that may go: its mask, how sure the scout is (0 to 1), and what speaks for or against it in words.

    subject: it seems to be what the picture is of; chosen: it goes unless somebody objects.
    """

    kind: Kind
    name: str
    mask: Mask
    confidence: float
    reason: str
    subject: bool = False
    chosen: bool = True
    also: tuple[Also, ...] = ()
