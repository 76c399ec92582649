"""Brush strokes as vectors in picture pixels, and the full-resolution mask that they make."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.box import Box, box_of

Coordinate = Annotated[float, Field(ge=-200_000, le=200_000, allow_inf_nan=False)]


class Stroke(BaseModel):
    """One movement of a round brush.

    Points are in picture pixels, (0, 0) the corner of the first pixel and (0.5, 0.5) its centre. size is the
    diameter. softness 0 is a hard edge; at s the outer share s of the radius fades to nothing.
    """

    model_config = ConfigDict(frozen=True)

    points: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=1, max_length=20_000)
    size: float = Field(ge=1, le=5_000)
    softness: float = Field(default=0.0, ge=0, le=1)
    erase: bool = False

    @property
    def box(self) -> Box:
        """The pixels that the stroke can touch; not cut to a picture."""
        xs, ys = [p[0] for p in self.points], [p[1] for p in self.points]
        reach = self.size / 2 + 1
        left, top = int(np.floor(min(xs) - reach)), int(np.floor(min(ys) - reach))
        right, bottom = int(np.ceil(max(xs) + reach)), int(np.ceil(max(ys) + reach))
        return Box(x=left, y=top, width=right - left, height=bottom - top)


@numba.njit(cache=True, nogil=True)
def _sweep_discs(points: Any, radius: float, fade: float, left: int, top: int, cover: Any) -> None:
    """cover = largest coverage, 0 to 255, that discs along the path give each pixel centre."""
    height, width = cover.shape
    hard = radius - fade
    for i in range(max(len(points) - 1, 1)):
        ax, ay = points[i, 0] - left - 0.5, points[i, 1] - top - 0.5
        j = min(i + 1, len(points) - 1)
        bx, by = points[j, 0] - left - 0.5, points[j, 1] - top - 0.5
        dx, dy = bx - ax, by - ay
        length2 = dx * dx + dy * dy
        y0 = max(int(np.floor(min(ay, by) - radius)), 0)
        y1 = min(int(np.ceil(max(ay, by) + radius)), height - 1)
        x0 = max(int(np.floor(min(ax, bx) - radius)), 0)
        x1 = min(int(np.ceil(max(ax, bx) + radius)), width - 1)
        for y in range(y0, y1 + 1):
            for x in range(x0, x1 + 1):
                if cover[y, x] == 255:
                    continue
                t = 0.0
                if length2 > 0.0:
                    t = min(max(((x - ax) * dx + (y - ay) * dy) / length2, 0.0), 1.0)
                ex, ey = x - ax - t * dx, y - ay - t * dy
                distance = np.sqrt(ex * ex + ey * ey)
                if distance > radius:
                    continue
                value = 255
                if fade > 0.0 and distance > hard:
                    u = (radius - distance) / fade
                    value = int(np.rint(255.0 * u * u * (3.0 - 2.0 * u)))
                cover[y, x] = max(cover[y, x], value)


def mask_of_strokes(strokes: Sequence[Stroke], width: int, height: int) -> NDArray[np.uint8]:
    """The (height, width) mask of strokes in their order: adding takes the larger coverage of mask and
    stroke, taking away leaves at most 255 minus the stroke's coverage.

    A hard stroke covers exactly the pixels whose centre is within size / 2 of its path, that is the union of
    all discs along it.
    """
    mask = np.zeros((height, width), np.uint8)
    for stroke in strokes:
        box = stroke.box.intersect(Box(x=0, y=0, width=width, height=height))
        if box.empty:
            continue
        cover = np.zeros((box.height, box.width), np.uint8)
        radius = stroke.size / 2
        path = np.asarray(stroke.points, np.float64)
        _sweep_discs(path, radius, stroke.softness * radius, box.x, box.y, cover)
        part = mask[box.slices]
        if stroke.erase:
            np.minimum(part, 255 - cover, out=part)
        else:
            np.maximum(part, cover, out=part)
    return mask


def strokes_box(strokes: Sequence[Stroke], within: Box) -> Box:
    """The tightest box round the mask of strokes, cut to a picture; made from the mask, so it is exact."""
    return box_of(mask_of_strokes(strokes, within.width, within.height))
