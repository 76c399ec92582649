"""Brush strokes as vectors in picture pixels, and the full-resolution coverage that they make."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from keen_sweep.core.box import Box

Coordinate = Annotated[float, Field(ge=-200_000, le=200_000, allow_inf_nan=False)]
Press = Annotated[float, Field(ge=0, le=1)]


class Stroke(BaseModel):
    """One movement of a round brush.

    Points are in picture pixels, (0, 0) the corner of the first pixel and (0.5, 0.5) its centre. size is the
    diameter at full pressure. softness 0 is a hard edge; at s the outer share s of the radius fades to nothing.
    pressure, if any, has a share of the size for every point; between points it changes evenly.
    """

    model_config = ConfigDict(frozen=True)

    kind: Literal["stroke"] = "stroke"
    points: tuple[tuple[Coordinate, Coordinate], ...] = Field(min_length=1, max_length=20_000)
    size: float = Field(ge=1, le=5_000)
    softness: float = Field(default=0.0, ge=0, le=1)
    erase: bool = False
    pressure: tuple[Press, ...] | None = None

    @model_validator(mode="after")
    def _one_pressure_a_point(self) -> Self:
        if self.pressure is not None and len(self.pressure) != len(self.points):
            raise ValueError("A stroke has one pressure for every point, or none.")
        return self

    @property
    def box(self) -> Box:
        """The pixels that the stroke can touch; not cut to a picture."""
        xs, ys = [p[0] for p in self.points], [p[1] for p in self.points]
        reach = self.size / 2 + 1
        left, top = int(np.floor(min(xs) - reach)), int(np.floor(min(ys) - reach))
        right, bottom = int(np.ceil(max(xs) + reach)), int(np.ceil(max(ys) + reach))
        return Box(x=left, y=top, width=right - left, height=bottom - top)

    def cover(self, window: Box) -> NDArray[np.uint8]:
        """(h, w) of a window of the picture, 0 to 255.

        A hard stroke covers exactly the pixels whose centre is within the radius of its path, that is the union
        of all discs along it.
        """
        out = np.zeros((window.height, window.width), np.uint8)
        path = np.asarray(self.points, np.float64) - (window.x + 0.5, window.y + 0.5)
        radii = np.full(len(path), self.size / 2)
        if self.pressure is not None:
            radii *= np.asarray(self.pressure, np.float64)
        _sweep_discs(path, radii, self.softness, out)
        return out


@numba.njit(cache=True, nogil=True)
def _sweep_discs(points: Any, radii: Any, softness: float, cover: Any) -> None:
    """cover = largest coverage, 0 to 255, that discs along the path give each pixel, (0, 0) a pixel's centre."""
    height, width = cover.shape
    for i in range(max(len(points) - 1, 1)):
        j = min(i + 1, len(points) - 1)
        ax, ay, bx, by = points[i, 0], points[i, 1], points[j, 0], points[j, 1]
        first, last = radii[i], radii[j]
        reach = max(first, last)
        dx, dy = bx - ax, by - ay
        length = np.sqrt(dx * dx + dy * dy)
        # A disc that swells faster than it moves swallows all the others of the segment.
        swallowed = abs(last - first) >= length
        lean = 0.0 if swallowed else (last - first) / np.sqrt(length * length - (last - first) ** 2)
        y0 = max(int(np.floor(min(ay, by) - reach)), 0)
        y1 = min(int(np.ceil(max(ay, by) + reach)), height - 1)
        x0 = max(int(np.floor(min(ax, bx) - reach)), 0)
        x1 = min(int(np.ceil(max(ax, bx) + reach)), width - 1)
        for y in range(y0, y1 + 1):
            for x in range(x0, x1 + 1):
                if cover[y, x] == 255:
                    continue
                if swallowed:
                    t = 1.0 if last > first else 0.0
                else:
                    along = ((x - ax) * dx + (y - ay) * dy) / length
                    aside = abs((x - ax) * dy - (y - ay) * dx) / length
                    # Where the pixel lies deepest in a disc of the segment.
                    t = min(max((along + aside * lean) / length, 0.0), 1.0)
                radius = first + t * (last - first)
                ex, ey = x - ax - t * dx, y - ay - t * dy
                distance = np.sqrt(ex * ex + ey * ey)
                if distance > radius:
                    continue
                value = 255
                fade = softness * radius
                if fade > 0.0 and distance > radius - fade:
                    u = (radius - distance) / fade
                    value = int(np.rint(255.0 * u * u * (3.0 - 2.0 * u)))
                cover[y, x] = max(cover[y, x], value)
