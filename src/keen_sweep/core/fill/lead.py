"""Lead lines: where the photographer says that an edge goes on behind what is removed, and what ground lies there."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.arrays import Doubles
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

# Most points of one line.
MAX_LEAD_POINTS = 200
# Most lines of one sweep.
MAX_LEAD_LINES = 12
# Shortest line, pixels.
MIN_LENGTH_PX = 4.0
# Longest line, as a multiple of the picture's width and height together.
MAX_LENGTH_SIDES = 4
# Reach around the beginning of a ground's arrow from which it is copied, share of the longer side of the hole.
GROUND_REACH_SHARE = 0.5
# Its bounds, pixels.
MIN_GROUND_REACH_PX = 48
MAX_GROUND_REACH_PX = 300
# Room around what a hole is an image of, pixels: an axis is put right by a few.
IMAGE_ROOM_PX = 24
Coordinate = Annotated[float, Field(allow_inf_nan=False)]


class LeadLine(BaseModel):
    """A line that says what goes on in a mask: an edge, a bar or a horizon along it; the ground that an arrow brings;
    what the other side of an axis shows; or what repeats along a row.

    Attributes
    ----------
    points : tuple of (float, float)
        x and y in picture pixels, from one end to the other; at least two. An edge begins or ends outside the mask,
        where the picture shows what goes on; a ground begins outside and ends inside; an axis may lie anywhere; a row
        leads through the mask and over what repeats outside of it.
    brings : {"edge", "ground", "mirror", "repeat"}
        An edge that goes on along the line; the ground at its beginning, which goes on where it ends; what lies on the
        other side of it, mirrored; or what repeats along it.
    """

    model_config = ConfigDict(frozen=True)

    points: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=2, max_length=MAX_LEAD_POINTS)
    brings: Literal["edge", "ground", "mirror", "repeat"] = "edge"

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
        return self.model_copy(update={"points": tuple((a + x, b + y) for a, b in self.points)})

    def with_mask_moved(self, x: float, y: float) -> LeadLine:
        """The line after its mask was moved: an arrow still begins on the same ground, and an axis stays.

        Parameters
        ----------
        x : float
            Added to each x of the mask, pixels.
        y : float
            Added to each y of the mask, pixels.

        Returns
        -------
        LeadLine
            The line.
        """
        moved = self.moved(x, y)
        if self.brings == "mirror":
            return self
        if self.brings == "ground":
            return moved.model_copy(update={"points": (self.points[0], *moved.points[1:])})
        return moved

    def reduced(self, factor: float) -> LeadLine:
        """The line in a picture reduced by a factor; pixel centres lie at whole numbers.

        Parameters
        ----------
        factor : float
            Pixels of this picture in one of the reduced one.

        Returns
        -------
        LeadLine
            The line.
        """
        return self.through((self.xy + 0.5) / factor - 0.5)

    def through(self, points: Doubles) -> LeadLine:
        """A line that brings the same along other points.

        Parameters
        ----------
        points : (n, 2) float64
            x and y of the points.

        Returns
        -------
        LeadLine
            The line.
        """
        return LeadLine.model_validate({"points": points.tolist(), "brings": self.brings})

    @property
    def xy(self) -> Doubles:
        """Its points as an array, (n, 2) float64."""
        return np.array(self.points, np.float64)

    def mirrored(self, places: Doubles) -> Doubles:
        """Mirror places over the straight line through both ends.

        Parameters
        ----------
        places : (n, 2) float64
            x and y.

        Returns
        -------
        (n, 2) float64
            x and y of their mirror images.
        """
        first, last = self.xy[[0, -1]]
        along = last - first
        normal = np.array([-along[1], along[0]]) / max(float(np.hypot(*along)), 1e-9)
        return mirrored_over(places, first, normal)

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
        points = self.xy
        along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
        at = np.linspace(0, float(along[-1]), max(int(along[-1] / step) + 1, 2))
        return np.stack([np.interp(at, along, points[:, 0]), np.interp(at, along, points[:, 1])], 1)

    @property
    def length(self) -> float:
        """Length, pixels."""
        return sum(math.dist(a, b) for a, b in zip(self.points, self.points[1:], strict=False))


def mirrored_over(places: Doubles, point: Doubles, normal: Doubles) -> Doubles:
    """Mirror places over an axis.

    Parameters
    ----------
    places : (n, 2) float64
        x and y.
    point : (2,) float64
        A point of the axis.
    normal : (2,) float64
        Unit vector across the axis.

    Returns
    -------
    (n, 2) float64
        x and y of their mirror images.
    """
    return np.asarray(places - 2 * ((places - point) @ normal)[:, None] * normal, np.float64)


def check_lead(lines: Sequence[LeadLine], width: int, height: int) -> None:
    """Check lines before anything is done with them.

    Parameters
    ----------
    lines : sequence of LeadLine
        The lines.
    width : int
        Width of the picture, pixels.
    height : int
        Height of the picture, pixels.

    Raises
    ------
    BadRequest
        There are too many, or one is too short or too long.
    """
    if len(lines) > MAX_LEAD_LINES:
        raise BadRequest(sentence("A sweep holds at most {count} lines.", count=MAX_LEAD_LINES))
    for line in lines:
        if line.length < MIN_LENGTH_PX:
            raise BadRequest(sentence("This line is too short."))
        if line.length > MAX_LENGTH_SIDES * (width + height):
            raise BadRequest(sentence("This line is too long."))


def with_grounds(seen: Box, lead: Sequence[LeadLine], hole: Box, picture: Box) -> Box:
    """Extend what a fill reads by the grounds that are brought into its hole.

    Parameters
    ----------
    seen : Box
        What it reads without them.
    lead : sequence of LeadLine
        The lines.
    hole : Box
        Box of the hole.
    picture : Box
        Box of the picture.

    Returns
    -------
    Box
        The box with all of them.
    """
    reach = round(np.clip(GROUND_REACH_SHARE * max(hole.width, hole.height), MIN_GROUND_REACH_PX, MAX_GROUND_REACH_PX))
    for line in lead:
        (x, y), (to_x, to_y) = line.points[0], line.points[-1]
        if line.brings == "ground" and hole.x <= to_x < hole.right and hole.y <= to_y < hole.bottom:
            ground = Box(x=round(x), y=round(y), width=1, height=1).grow(reach, picture)
            seen = seen if ground.empty else seen.union(ground)
        if line.brings in ("mirror", "repeat"):
            image = _box_shown_again(line, hole).grow(IMAGE_ROOM_PX, picture)
            seen = seen if image.empty else seen.union(image)
    return seen


def _box_shown_again(line: LeadLine, hole: Box) -> Box:
    """The box of what a hole is an image of: its mirror image, or the row that repeats."""
    points = line.xy
    if line.brings == "mirror":
        corners = [(x, y) for x in (hole.x, hole.right) for y in (hole.y, hole.bottom)]
        points = line.mirrored(np.array(corners, np.float64))
    (left, top), (right, bottom) = np.floor(points.min(axis=0)), np.ceil(points.max(axis=0))
    return Box(x=int(left), y=int(top), width=int(right - left) + 1, height=int(bottom - top) + 1)


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
    points = line.xy
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
    return line.through(points[keep])
