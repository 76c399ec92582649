"""Closed outlines, drawn freely, point by point or as a box, and the pixels within."""

from __future__ import annotations

from typing import Literal

import numba
import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.arrays import Doubles, EightBit
from keen_sweep.core.box import Box
from keen_sweep.core.mask.stroke import Coordinate


class Outline(BaseModel):
    """A closed line in picture pixels.

    Where it crosses itself, everything that it encloses is inside (non-zero rule), so that a loop drawn in a
    hurry has no gaps.

    Attributes
    ----------
    kind : {"outline"}
        Discriminates outlines from strokes and areas.
    points : tuple of tuple of 2 Coordinate
        x and y of each point, pixels.
    erase : bool
        Whether the outline takes away from the mask.
    """

    model_config = ConfigDict(frozen=True)

    kind: Literal["outline"] = "outline"
    points: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=3, max_length=20_000)
    erase: bool = False

    @property
    def box(self) -> Box:
        """The pixels that it can cover; not cut to a picture."""
        xs, ys = [p[0] for p in self.points], [p[1] for p in self.points]
        left, top = int(np.floor(min(xs))), int(np.floor(min(ys)))
        right, bottom = int(np.ceil(max(xs))), int(np.ceil(max(ys)))
        return Box(x=left, y=top, width=max(right - left, 1), height=max(bottom - top, 1))

    def cover(self, window: Box) -> EightBit:
        """(h, w) of a window of the picture: 255 where a pixel's centre is inside, else 0."""
        out = np.zeros((window.height, window.width), np.uint8)
        points = np.asarray(self.points, np.float64) - (window.x, window.y)
        _fill(points, out)
        return out


@numba.njit(cache=True, nogil=True)
def _fill(points: Doubles, out: EightBit) -> None:
    """Pixel centres with a winding number other than 0, row by row."""
    height, width = out.shape
    count = len(points)
    xs = np.empty(count, np.float64)
    turns = np.empty(count, np.int64)
    for row in range(height):
        y = row + 0.5
        found = 0
        for i in range(count):
            j = i + 1 if i + 1 < count else 0
            ay, by = points[i, 1], points[j, 1]
            if (ay <= y) == (by <= y):
                continue
            xs[found] = points[i, 0] + (y - ay) / (by - ay) * (points[j, 0] - points[i, 0])
            turns[found] = 1 if by > ay else -1
            found += 1
        order = np.argsort(xs[:found])
        winding = 0
        for k in range(found - 1):
            winding += turns[order[k]]
            if winding == 0:
                continue
            first = max(int(np.ceil(xs[order[k]] - 0.5)), 0)
            last = min(int(np.ceil(xs[order[k + 1]] - 0.5)), width)
            for x in range(first, last):
                out[row, x] = 255
