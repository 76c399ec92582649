"""A sister frame that may be borrowed from."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.series.alignment import Alignment

# Margin of a sister that is read around a hole, share of the hole's longer side.
MARGIN_SHARE = 1.0
# Smallest such margin, pixels.
MIN_MARGIN_PX = 200


@dataclass(frozen=True)
class Sister:
    """A frame that shows the same place.

    Attributes
    ----------
    name : str
        Its name.
    pixels : (H', W', 3) uint8 or uint16
        The frame as shot, or a crop of it.
    alignment : Alignment
        Alignment of the filled frame to it.
    barred : (H', W') bool or None
        Pixels that must not be borrowed, such as people and marks.
    """

    name: str
    pixels: Pixels
    alignment: Alignment
    barred: Bools | None = None

    def near(self, window: Box) -> Sister:
        """The sister of a cut of the frame that is filled."""
        return replace(self, alignment=self.alignment.cut(window))


def surroundings_in(pixels: Pixels, alignment: Alignment, box: Box) -> Box:
    """Where another frame shows the surroundings of a box.

    Parameters
    ----------
    pixels : (H', W', 3) uint8 or uint16
        The other frame.
    alignment : Alignment
        Alignment of the filled frame to it.
    box : Box
        Box in the filled frame.

    Returns
    -------
    Box
        Box in the other frame; empty if it does not show them.
    """
    x, y = np.meshgrid(np.linspace(box.x, box.right, 9), np.linspace(box.y, box.bottom, 9))
    ends = alignment.places(np.stack([x.ravel(), y.ravel()], 1))
    left, top = (int(each) for each in np.floor(ends.min(axis=0)))
    right, bottom = (int(each) for each in np.ceil(ends.max(axis=0)))
    place = Box(x=left, y=top, width=right - left, height=bottom - top)
    return place.grow(max(MIN_MARGIN_PX, round(MARGIN_SHARE * max(box.width, box.height))), whole(pixels))
