"""A snag: a fault that the review finds in a fill, with its place, its kind, how bad it is, and what would mend it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import Box, box_of, whole


class Mend(StrEnum):
    """What one click does about a snag."""

    GROW = "grow"  # put the place into the mark and fill again
    GRAIN = "grain"  # give a copy of the take its grain back
    TONE = "tone"  # even its tone out
    SPOT = "spot"  # fill only the place, on top


class SnagKind(StrEnum):
    """What may be wrong with a fill."""

    LEFTOVER = "leftover"
    SOFTNESS = "softness"
    REPEAT = "repeat"
    STEP_IN_TONE = "step in tone"
    BROKEN_LINE = "broken line"
    ODD_PLACE = "odd place"
    ORPHAN = "orphan"

    @property
    def mend(self) -> Mend:
        return MENDS_BY_KIND.get(self, Mend.SPOT)


MENDS_BY_KIND = {
    SnagKind.LEFTOVER: Mend.GROW,
    SnagKind.ORPHAN: Mend.GROW,
    SnagKind.SOFTNESS: Mend.GRAIN,
    SnagKind.STEP_IN_TONE: Mend.TONE,
}


class Grading(StrEnum):
    """What may be done to a picture after delivery."""

    BRIGHTENED = "brightened"  # by two stops
    LOCAL_CONTRAST = "local contrast"  # strong
    BLACK_AND_WHITE = "black and white"  # behind a red filter
    SHARPENED = "sharpened"  # for print
    ENLARGED = "enlarged"  # to twice its size


@dataclass(frozen=True)
class Snag:
    """Something wrong with a fill.

    Attributes
    ----------
    kind : SnagKind
        What it is.
    box : Box
        Its box in what was reviewed.
    place : (h, w) bool
        Its pixels, in the box.
    strength : float
        0 is hardly visible, 1 is visible to everybody.
    why : str
        One sentence for the screen.
    visible : float
        Smallest scale at which it is visible; 1 for full size only.
    grading : Grading or None
        What must be done to the picture for it to show; None if it shows as it is.
    """

    kind: SnagKind
    box: Box
    place: Bools
    strength: float
    why: str
    visible: float = 1.0
    grading: Grading | None = None

    @property
    def mend(self) -> Mend:
        return self.kind.mend


@dataclass(frozen=True)
class Laid:
    """A fill that is reviewed.

    Attributes
    ----------
    before : (h, w, 3) uint8
        The picture below the fill.
    after : (h, w, 3) uint8
        The picture with the fill.
    hole : (h, w) bool
        What was filled.
    wire : bool
        Whether a wire was removed, which poles may have carried.
    """

    before: EightBit
    after: EightBit
    hole: Bools
    wire: bool = False

    def around(self, rim: int) -> tuple[Laid, Box]:
        """What lies so near to the hole, and where that is in this one."""
        box = box_of(self.hole).grow(rim, whole(self.hole))
        before, after = (np.array(each[box.slices], np.uint8) for each in (self.before, self.after))
        return Laid(before, after, np.array(self.hole[box.slices], np.bool_), self.wire), box

    def halved(self) -> Laid:
        """The laid at half the size; what was hardly filled counts as picture."""
        size = (max(self.hole.shape[1] // 2, 1), max(self.hole.shape[0] // 2, 1))
        before, after = (
            np.asarray(cv2.resize(each, size, interpolation=cv2.INTER_AREA), np.uint8)
            for each in (self.before, self.after)
        )
        share = cv2.resize(self.hole.astype(np.float32), size, interpolation=cv2.INTER_AREA)
        return Laid(before, after, share > 0.4, self.wire)


def outlines_elsewhere(laid: Laid, reach: int) -> list[Bools]:
    """Two outlines like the hole's on untouched ground, farther out.

    What is found there occurs in this picture by nature.

    Parameters
    ----------
    laid : Laid
        The fill.
    reach : int
        Width of the band along the outline that must stay clear of the hole, pixels.

    Returns
    -------
    list of (h, w) bool
        The areas inside these outlines.
    """
    distance = cv2.distanceTransform((~laid.hole).astype(np.uint8), cv2.DIST_L2, 5)
    return [np.asarray(distance <= 2 * reach + more) for more in (2, reach + 2)]


def snag_at(kind: SnagKind, place: Bools, strength: float, why: str) -> Snag:
    """Create a snag from its pixels.

    Parameters
    ----------
    kind : SnagKind
        What it is.
    place : (h, w) bool
        Its pixels in what was reviewed.
    strength : float
        0 to 1.
    why : str
        One sentence for the screen.

    Returns
    -------
    Snag
        The snag.
    """
    box = box_of(place)
    return Snag(kind, box, place[box.slices], float(np.clip(strength, 0, 1)), why)
