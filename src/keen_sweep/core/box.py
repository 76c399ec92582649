"""Rectangles in picture pixels."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict


class Box(BaseModel):
    """A rectangle of whole pixels; right and bottom are exclusive.

    Attributes
    ----------
    x : int
        Left column.
    y : int
        Top row.
    width : int
        Width, pixels.
    height : int
        Height, pixels.
    """

    model_config = ConfigDict(frozen=True)

    x: int
    y: int
    width: int
    height: int

    @property
    def right(self) -> int:
        return self.x + self.width

    @property
    def bottom(self) -> int:
        return self.y + self.height

    @property
    def area(self) -> int:
        return max(self.width, 0) * max(self.height, 0)

    @property
    def empty(self) -> bool:
        return self.width <= 0 or self.height <= 0

    @property
    def slices(self) -> tuple[slice, slice]:
        """Row and column slices into an array that starts at the picture's corner."""
        return slice(self.y, self.bottom), slice(self.x, self.right)

    def intersect(self, other: Box) -> Box:
        x, y = max(self.x, other.x), max(self.y, other.y)
        right, bottom = min(self.right, other.right), min(self.bottom, other.bottom)
        return Box(x=x, y=y, width=max(right - x, 0), height=max(bottom - y, 0))

    def union(self, other: Box) -> Box:
        x, y = min(self.x, other.x), min(self.y, other.y)
        right, bottom = max(self.right, other.right), max(self.bottom, other.bottom)
        return Box(x=x, y=y, width=right - x, height=bottom - y)

    def grow(self, by: int, within: Box) -> Box:
        """This box made larger by some pixels on each side, cut to another one."""
        larger = Box(x=self.x - by, y=self.y - by, width=self.width + 2 * by, height=self.height + 2 * by)
        return larger.intersect(within)

    def moved(self, x: int, y: int) -> Box:
        """This box, so many pixels to the right and down."""
        return Box(x=self.x + x, y=self.y + y, width=self.width, height=self.height)

    def relative_to(self, other: Box) -> Box:
        """The same rectangle seen from another one's corner."""
        return Box(x=self.x - other.x, y=self.y - other.y, width=self.width, height=self.height)

    def reduced(self, level: int) -> Box:
        """The box that covers this one on a pyramid level (each level halves the sides, rounding up)."""
        step = 1 << level
        x, y = self.x // step, self.y // step
        return Box(x=x, y=y, width=-(-self.right // step) - x, height=-(-self.bottom // step) - y)

    def enlarged(self, level: int) -> Box:
        """The full-size pixels below this box of a pyramid level."""
        step = 1 << level
        return Box(x=self.x * step, y=self.y * step, width=self.width * step, height=self.height * step)


def whole(pixels: NDArray[np.generic]) -> Box:
    """Box of a whole array.

    Parameters
    ----------
    pixels : (H, W, ...) array
        The array.

    Returns
    -------
    Box
        The box.
    """
    return Box(x=0, y=0, width=int(pixels.shape[1]), height=int(pixels.shape[0]))


def box_of(mask: NDArray[np.generic]) -> Box:
    """Smallest box that contains all non-zero pixels.

    Parameters
    ----------
    mask : (H, W) array
        The array.

    Returns
    -------
    Box
        The box; empty if there are none.
    """
    rows = np.flatnonzero(mask.any(axis=1))
    if rows.size == 0:
        return Box(x=0, y=0, width=0, height=0)
    columns = np.flatnonzero(mask[rows[0] : rows[-1] + 1].any(axis=0))
    return Box(
        x=int(columns[0]),
        y=int(rows[0]),
        width=int(columns[-1] - columns[0] + 1),
        height=int(rows[-1] - rows[0] + 1),
    )
