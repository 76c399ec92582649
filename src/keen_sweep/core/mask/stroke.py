"""Brush strokes as vectors in picture pixels, and the full-resolution coverage that they make."""

from __future__ import annotations

from threading import Lock
from typing import Annotated, Literal, Self

import numba
import numpy as np
from cachetools import LRUCache
from pydantic import BaseModel, ConfigDict, Field, model_validator

from keen_sweep.core.arrays import Doubles, EightBit
from keen_sweep.core.box import Box

Coordinate = Annotated[float, Field(ge=-200_000, le=200_000, allow_inf_nan=False)]
Press = Annotated[float, Field(ge=0, le=1)]


class Stroke(BaseModel):
    """One movement of a round brush.

    Attributes
    ----------
    kind : {"stroke"}
        Discriminates strokes from outlines and areas.
    points : tuple of tuple of 2 Coordinate
        x and y of each point in picture pixels; (0, 0) is the corner of the first pixel, (0.5, 0.5) its
        centre.
    size : float
        Diameter at full pressure, pixels.
    softness : float
        0 is a hard edge; at s the outer share s of the radius fades out.
    erase : bool
        Whether the stroke takes away from the mask.
    pressure : tuple of Press or None
        Share of the size at each point, interpolated linearly; None for full pressure.
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
    def path(self) -> Doubles:
        """The points as an array, (n, 2)."""
        return _array(self.points)

    @property
    def is_dab(self) -> bool:
        """Whether the brush was put down and hardly moved."""
        return float(np.ptp(self.path, axis=0).max()) <= self.size / 2

    @property
    def box(self) -> Box:
        """The pixels that the stroke can touch; not cut to a picture."""
        reach = self.size / 2 + 1
        left, top = (int(v) for v in np.floor(self.path.min(axis=0) - reach))
        right, bottom = (int(v) for v in np.ceil(self.path.max(axis=0) + reach))
        return Box(x=left, y=top, width=right - left, height=bottom - top)

    def cover(self, window: Box) -> EightBit:
        """(h, w) of a window of the picture, 0 to 255.

        A hard stroke covers exactly the pixels whose centre is within the radius of its path, that is the union
        of all discs along it.
        """
        out = np.empty((window.height, window.width), np.uint8)
        path = self.path - (window.x + 0.5, window.y + 0.5)
        radii = np.full(len(path), self.size / 2)
        if self.pressure is not None:
            radii *= np.asarray(self.pressure, np.float64)
        _sweep_discs(path, radii, self.softness, out)
        return out


# Paths of this length are kept as arrays: a stroke is drawn block by block, and each block would convert it again.
# The key is the identity of the tuple, which is kept with its array so that no other can have it.
MIN_CACHED_POINTS = 100
CACHED_ARRAYS = 32
_PATH_ARRAYS: LRUCache[int, tuple[object, Doubles]] = LRUCache(CACHED_ARRAYS)
_CACHE_LOCK = Lock()


def _array(points: tuple[tuple[float, float], ...]) -> Doubles:
    if len(points) < MIN_CACHED_POINTS:
        return np.asarray(points, np.float64)
    with _CACHE_LOCK:
        known = _PATH_ARRAYS.get(id(points))
        if known is None:
            known = _PATH_ARRAYS[id(points)] = points, np.asarray(points, np.float64)
        return known[1]


# Rows processed at a time, so that memory does not grow with the stroke.
STRIP_ROWS = 256


def _sweep_discs(path: Doubles, radii: Doubles, softness: float, cover: EightBit) -> None:
    """Write into cover (h, w) the largest coverage, 0 to 255, that discs along the path give each pixel, (0, 0) a
    pixel's centre."""
    nearest = np.empty((min(STRIP_ROWS, len(cover)), cover.shape[1]), np.float64)
    for top in range(0, len(cover), STRIP_ROWS):
        strip = cover[top : top + STRIP_ROWS]
        _nearest(path - (0.0, top), radii, nearest[: len(strip)])
        _covered(nearest[: len(strip)], softness, strip)


@numba.njit(cache=True, nogil=True, fastmath={"nnan", "ninf", "nsz"})
def _nearest_even(
    row: Doubles, px: float, py: float, along_x: float, along_y: float, dx: float, dy: float, even: float
) -> None:
    """What _nearest does, for a row and a segment whose discs are all alike: it becomes vector instructions."""
    for k in range(len(row)):
        x = px + k
        t = x * along_x + py * along_y
        t = t if t > 0.0 else 0.0
        t = t if t < 1.0 else 1.0
        ex, ey = x - t * dx, py - t * dy
        square = (ex * ex + ey * ey) * even
        row[k] = square if square < row[k] else row[k]


@numba.njit(cache=True, nogil=True, fastmath={"nnan", "ninf", "nsz"})
def _nearest(points: Doubles, radii: Doubles, out: Doubles) -> None:
    """out = the least square of distance over radius, to a disc of any segment; 2 or more where none is near."""
    height, width = out.shape
    out[:] = 2.0
    for i in range(max(len(points) - 1, 1)):
        j = min(i + 1, len(points) - 1)
        ax, ay, bx, by = points[i, 0], points[i, 1], points[j, 0], points[j, 1]
        first, last = radii[i], radii[j]
        reach = max(first, last)
        y0 = max(int(np.floor(min(ay, by) - reach)), 0)
        y1 = min(int(np.ceil(max(ay, by) + reach)), height - 1)
        x0 = max(int(np.floor(min(ax, bx) - reach)), 0)
        x1 = min(int(np.ceil(max(ax, bx) + reach)), width - 1)
        if y0 > y1 or x0 > x1 or reach <= 0.0:
            continue
        dx, dy = bx - ax, by - ay
        length = np.sqrt(dx * dx + dy * dy)
        # A disc that swells faster than it moves swallows all the others of the segment.
        if abs(last - first) >= length:
            if last > first:
                ax, ay, first = bx, by, last
            dx, dy, last, length = 0.0, 0.0, first, 1.0
        along_x, along_y = dx / length / length, dy / length / length
        grows = last - first
        lean = grows / np.sqrt(length * length - grows * grows)
        even = 1.0 / (first * first) if grows == 0.0 else 0.0
        for y in range(y0, y1 + 1):
            row, py = out[y, x0 : x1 + 1], y - ay
            if grows == 0.0:
                _nearest_even(row, x0 - ax, py, along_x, along_y, dx, dy, even)
                continue
            for k in range(len(row)):
                px = x0 + k - ax
                # Where the pixel lies deepest in a disc of the segment.
                t = px * along_x + py * along_y + abs(px * along_y - py * along_x) * lean
                t = min(max(t, 0.0), 1.0)
                ex, ey = px - t * dx, py - t * dy
                radius = max(first + t * grows, 1e-6)
                row[k] = min(row[k], (ex * ex + ey * ey) / (radius * radius))


@numba.njit(cache=True, nogil=True)
def _covered(nearest: Doubles, softness: float, cover: EightBit) -> None:
    """From the square of distance over radius to coverage."""
    core = (1.0 - softness) * (1.0 - softness)
    for y in range(cover.shape[0]):
        for x in range(cover.shape[1]):
            square = nearest[y, x]
            if square > 1.0:
                cover[y, x] = 0
            elif softness == 0.0 or square <= core:
                cover[y, x] = 255
            else:
                u = (1.0 - np.sqrt(square)) / softness
                cover[y, x] = int(np.rint(255.0 * u * u * (3.0 - 2.0 * u)))
