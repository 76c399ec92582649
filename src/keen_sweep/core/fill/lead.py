"""Lead lines: where the photographer says that an edge goes on behind what is removed."""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.arrays import Doubles

# Most points of one line.
MAX_LEAD_POINTS = 200
# Most lines of one sweep.
MAX_LEAD_LINES = 12
# Largest distance of a point from the picture's corner, pixels: more than any picture's side.
MAX_COORDINATE_PX = 200_000.0
Coordinate = Annotated[float, Field(ge=-MAX_COORDINATE_PX, le=MAX_COORDINATE_PX, allow_inf_nan=False)]


class LeadLine(BaseModel):
    """A line through a mask along which an edge, a bar or a horizon goes on.

    Attributes
    ----------
    points : tuple of (float, float)
        x and y in picture pixels, from one end to the other; at least two. It begins or ends outside the mask, where
        the picture shows what goes on.
    """

    model_config = ConfigDict(frozen=True)

    points: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=2, max_length=MAX_LEAD_POINTS)

    def moved(self, x: float, y: float) -> LeadLine:
        """The line in another coordinate system.

        Parameters
        ----------
        x : float
            Added to each x, pixels.
        y : float
            Added to each y, pixels.

        Returns
        -------
        LeadLine
            The line.
        """
        return LeadLine(points=tuple((a + x, b + y) for a, b in self.points))

    def at_scale(self, factor: float) -> Doubles:
        """Points of the line in a picture reduced by a factor; pixel centres lie at whole numbers.

        Parameters
        ----------
        factor : float
            Pixels of this picture in one of the reduced one.

        Returns
        -------
        (n, 2) float64
            x and y.
        """
        return np.asarray((np.array(self.points, np.float64) + 0.5) / factor - 0.5)

    def places(self, step: float) -> Doubles:
        """Places along the line.

        Parameters
        ----------
        step : float
            Distance between two of them, pixels.

        Returns
        -------
        (n, 2) float64
            x and y, with both ends.
        """
        points = np.array(self.points, np.float64)
        along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
        at = np.linspace(0, float(along[-1]), max(int(along[-1] / step) + 1, 2))
        return np.stack([np.interp(at, along, points[:, 0]), np.interp(at, along, points[:, 1])], 1)

    @property
    def length(self) -> float:
        """Length, pixels."""
        return sum(math.dist(a, b) for a, b in zip(self.points, self.points[1:], strict=False))


def line_through(points: Doubles) -> LeadLine:
    """Make a line.

    Parameters
    ----------
    points : (n, 2) float64
        x and y of its points.

    Returns
    -------
    LeadLine
        The line.
    """
    return LeadLine.model_validate({"points": points.tolist()})


def simplified(line: LeadLine, tolerance: float) -> LeadLine:
    """The same line with fewer points.

    Parameters
    ----------
    line : LeadLine
        A line, such as a free hand draws it.
    tolerance : float
        How far the result may lie from it, pixels.

    Returns
    -------
    LeadLine
        A line through some of its points, with both of its ends.

    References
    ----------
    Douglas and Peucker 1973, "Algorithms for the reduction of the number of points".
    """
    points = np.array(line.points, np.float64)
    keep = np.zeros(len(points), np.bool_)
    keep[[0, -1]] = True
    open_spans = [(0, len(points) - 1)]
    while open_spans:
        first, last = open_spans.pop()
        if last - first < 2:
            continue
        chord = points[last] - points[first]
        offsets = points[first + 1 : last] - points[first]
        length = float(np.hypot(*chord))
        if length > 0:
            along = np.clip(offsets @ chord / length**2, 0, 1)[:, None]
            away = np.hypot(*(offsets - along * chord).T)
        else:
            away = np.hypot(*offsets.T)
        k = int(away.argmax())
        if away[k] > tolerance:
            middle = first + 1 + k
            keep[middle] = True
            open_spans += [(first, middle), (middle, last)]
    return line_through(points[keep])
