"""Starts from the picture's own repeats: bricks, panes and planks carry on in whole pieces.

He & Sun 2012 found that a picture repeats itself at a few offsets, and that filling by those alone keeps its
structure. Here the offsets are the minima of the mean squared difference between the picture and its shifted
self, exactly and for all shifts at once in the Fourier domain; a piece of the hole takes the offset that agrees
best with what is known near it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.methods.planes import Families, Plane, map_points, plane_of

# Number of offsets that are kept.
MAX_OFFSETS = 48
# Share of the largest overlap that a shift must leave.
MIN_OVERLAP_SHARE = 0.2
RING_WIDTH_PX = 5
# Share of a plane's repeats from which a start is made: they are few, and each counts.
PLANE_SHIFT_SHARE = 0.85
# Wider means are taken on a smaller picture, standard deviation in pixels.
MAX_SIGMA_PX = 6.0


@dataclass(frozen=True)
class Shifts:
    """Offsets at which a picture repeats itself.

    Attributes
    ----------
    offsets : (k, 2) int32
        Rows and columns.
    misfit : (k, n) float32
        Cost of each offset at each pixel of the hole in scan order; infinite where its source may not be
        used.
    """

    offsets: NDArray[np.int32]
    misfit: Floats


def repeats(planes: NDArray[np.int16], known: Bools, least: float) -> NDArray[np.int32]:
    """Offsets at which a picture repeats itself best.

    Parameters
    ----------
    planes : (H, W, C) int16
        Features of the picture.
    known : (H, W) bool
        Pixels that count.
    least : float
        Shorter offsets are left out, pixels: everything resembles its neighbour.

    Returns
    -------
    (k, 2) int32
        Rows and columns.
    """
    height, width = known.shape
    size = (scipy.fft.next_fast_len(2 * height - 1, True), scipy.fft.next_fast_len(2 * width - 1, True))
    weight = known.astype(np.float32)
    seen = scipy.fft.rfft2(weight, size)
    total = np.zeros(size, np.float32)
    for channel in range(planes.shape[2]):
        values = planes[..., channel].astype(np.float32)
        values = (values - values[known].mean()) * weight
        plain, squared = scipy.fft.rfft2(values, size), scipy.fft.rfft2(values**2, size)
        cross = np.conj(squared) * seen + np.conj(seen) * squared - 2 * np.conj(plain) * plain
        total += scipy.fft.irfft2(cross, size).astype(np.float32)
    overlap = scipy.fft.irfft2(np.conj(seen) * seen, size)
    mean = np.where(overlap >= MIN_OVERLAP_SHARE * overlap.max(), total / np.maximum(overlap, 1), np.inf)
    rows = scipy.fft.fftfreq(size[0], 1 / size[0])[:, None]
    columns = scipy.fft.fftfreq(size[1], 1 / size[1])[None]
    mean[np.hypot(rows, columns) < least] = np.inf
    dips = (mean <= scipy.ndimage.minimum_filter(mean, 5, mode="wrap")) & np.isfinite(mean)
    where = np.argwhere(dips)
    best = where[np.argsort(mean[tuple(where.T)], kind="stable")][:MAX_OFFSETS]
    return np.stack([rows[best[:, 0], 0], columns[0, best[:, 1]]], 1).astype(np.int32)


def shifts_of(planes: NDArray[np.int16], hole: Bools, known: Bools, allowed: Bools) -> Shifts | None:
    """The repeats of a level and their costs in its hole.

    Parameters
    ----------
    planes : (H, W, C) int16
        Features of the level.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Pixels that count.
    allowed : (H, W) bool
        Pixels that may be copied.

    Returns
    -------
    Shifts or None
        The repeats; None where there are none.
    """
    depth = cv2.distanceTransform(np.pad(hole.astype(np.uint8), 1), cv2.DIST_L2, 5)
    radius = float(depth.max())
    offsets = repeats(planes, known, max(6.0, 0.6 * radius))
    if not len(offsets):
        return None
    away = cv2.distanceTransform((~hole).astype(np.uint8), cv2.DIST_L2, 5)
    ring = ((away > 0) & (away <= RING_WIDTH_PX) & known).astype(np.float32)
    rows, columns = np.nonzero(hole)
    sigma = max(2.0, 0.6 * radius)
    # What costs are averaged over reaches no further than this.
    near_by = box_of(hole).grow(RING_WIDTH_PX + int(np.ceil(3 * sigma)), whole(hole))
    size = (near_by.width, near_by.height)
    values, seen = planes.astype(np.float32), known.astype(np.float32)
    ring = ring[near_by.slices]
    near_values = values[near_by.slices]
    at = (rows - near_by.y, columns - near_by.x)
    misfit = np.full((len(offsets), len(rows)), np.inf, np.float32)
    for k, (dy, dx) in enumerate(offsets):
        move = np.array([[1, 0, -dx - near_by.x], [0, 1, -dy - near_by.y]], np.float32)
        shifted = cv2.warpAffine(values, move, size, flags=cv2.INTER_NEAREST)
        usable = ring * cv2.warpAffine(seen, move, size, flags=cv2.INTER_NEAREST)
        difference = ((shifted - near_values) ** 2).sum(2) * usable
        near = blur(usable, sigma)
        cost = blur(difference, sigma) / np.maximum(near, 1e-6)
        y, x = rows + dy, columns + dx
        inside = (y >= 0) & (y < hole.shape[0]) & (x >= 0) & (x < hole.shape[1])
        inside[inside] = allowed[y[inside], x[inside]]
        inside &= near[at] > 1e-4
        misfit[k, inside] = cost[at][inside]
    return Shifts(offsets, misfit)


def blur(plane: Floats, sigma: float) -> Floats:
    """Blur a plane with a Gaussian; wide ones are approximated at a smaller size.

    Parameters
    ----------
    plane : (h, w) float32
        The plane.
    sigma : float
        Standard deviation, pixels.

    Returns
    -------
    (h, w) float32
        The blurred plane.
    """
    times = int(sigma / MAX_SIGMA_PX)
    if times <= 1:
        return np.asarray(cv2.GaussianBlur(plane, (0, 0), sigma), np.float32)
    size = (plane.shape[1], plane.shape[0])
    small = cv2.resize(plane, (-(-size[0] // times), -(-size[1] // times)), interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (0, 0), sigma * small.shape[1] / size[0], sigmaY=sigma * small.shape[0] / size[1])
    return np.asarray(cv2.resize(soft, size, interpolation=cv2.INTER_LINEAR), np.float32)


def best_shifts(shifts: Shifts, random: np.random.Generator, share: float = 0.5) -> Floats:
    """Choose for each pixel of the hole the best of a random selection of shifts.

    Parameters
    ----------
    shifts : Shifts
        The shifts.
    random : np.random.Generator
        Source of randomness.
    share : float, optional
        Share of the shifts that is selected.

    Returns
    -------
    (n, 2) float32
        Rows and columns in scan order; NaN where no shift is possible.
    """
    chosen = random.random(len(shifts.offsets)) < share
    if not chosen.any():
        chosen[:] = True
    misfit = np.where(chosen[:, None], shifts.misfit, np.inf)
    best = misfit.argmin(0)
    out = np.asarray(shifts.offsets[best], np.float32)
    out[~np.isfinite(misfit[best, np.arange(misfit.shape[1])])] = np.nan
    return out


@dataclass(frozen=True)
class FlatShifts:
    """Repeats in the rectified plane of a picture.

    Attributes
    ----------
    places : (n, 2) float64
        x and y of the hole's pixels in the rectified picture.
    shifts : Shifts
        The repeats there.
    plane : Plane
        The way back to the picture.
    """

    places: Doubles
    shifts: Shifts
    plane: Plane

    def start_from(self, random: np.random.Generator) -> Doubles:
        """Where each pixel of the hole would be drawn from: (n, 2) rows and columns in the picture, not a number where
        none of the repeats leads anywhere."""
        offsets = best_shifts(self.shifts, random, PLANE_SHIFT_SHARE)
        return np.asarray(map_points(self.places + offsets[:, ::-1], self.plane.back)[:, ::-1])


def flat_shifts_of(
    planes: NDArray[np.int16],
    hole: Bools,
    known: Bools,
    allowed: Bools,
    families: Families,
) -> FlatShifts | None:
    """Repeats of a level in the plane of two families of lines.

    Parameters
    ----------
    planes : (H, W, C) int16
        Features of the level.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Pixels that count.
    allowed : (H, W) bool
        Pixels that may be copied.
    families : Families
        The families of lines.

    Returns
    -------
    FlatShifts or None
        The repeats; None where the plane cannot be rectified or has none.
    """
    rows, columns = np.nonzero(hole)
    plane = plane_of(families, hole.shape, (float(columns.mean()), float(rows.mean())))
    if plane is None:
        return None
    # Nearest pixels: means of two bricks are none.
    flat = np.asarray(cv2.warpPerspective(planes, plane.to, plane.size, flags=cv2.INTER_NEAREST), np.int16)
    seen, gap, free = (
        cv2.warpPerspective(each.astype(np.uint8), plane.to, plane.size, flags=cv2.INTER_NEAREST) > 0
        for each in (known, hole, allowed)
    )
    if not gap.any() or not free.any():
        return None
    found = shifts_of(flat, gap, seen & ~gap, free)
    if found is None:
        return None
    places = map_points(np.column_stack([columns, rows]).astype(np.float64), plane.to)
    # The misfit of the flat hole's pixel that each pixel of the hole falls on.
    number = np.full(gap.shape, -1, np.int64)
    number[gap] = np.arange(int(gap.sum()))
    x, y = np.clip(np.rint(places).astype(int), 0, np.array(plane.size) - 1).T
    at = number[y, x]
    misfit = np.where(at >= 0, found.misfit[:, np.maximum(at, 0)], np.inf)
    return FlatShifts(places, Shifts(found.offsets, misfit.astype(np.float32)), plane)
