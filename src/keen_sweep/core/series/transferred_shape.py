"""Carried: a shape of a mark as it lies in another frame. What was drawn stays drawn, point by point."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.core.arrays import Floats, Matrix
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.area import Area, AreaLoader, area_from_bytes
from keen_sweep.core.mask.areas import AreaKeeper, as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke

# Where places (n, 2) of one frame, pixel centres at whole numbers, are seen in another.
Places = Callable[[Matrix], Matrix]

# Lines get a point at least every so many pixels.
POINT_STEP_PX = 24.0
# Areas are carried by places this far apart, pixels.
GRID_STEP_PX = 16
# Largest number of points of a shape.
MAX_POINTS = 20_000
# Bounds of the size of a brush, pixels.
MIN_BRUSH_PX = 1.0
MAX_BRUSH_PX = 5_000.0
INVERSION_ROUNDS = 4
# How far a stroke continues beyond the picture, share of its longer side.
EXTENSION_SHARE = 0.15


def transfer_shape(
    shape: Stroke | Outline | Area, places: Places, load: AreaLoader, keep: AreaKeeper, room: Box | None = None
) -> Stroke | Outline | Area:
    """Transfer a shape from one frame to another.

    Parameters
    ----------
    shape : Stroke or Outline or Area
        The shape.
    places : Places
        Maps points of the first frame to the second.
    load : AreaLoader
        Reads the file of an area.
    keep : AreaKeeper
        Stores the file of an area and returns its name.
    room : Box or None, optional
        The first frame: a stroke that leaves it, as along a cable, continues in the other one, which may show
        more.

    Returns
    -------
    Stroke or Outline or Area
        The transferred shape.
    """
    if isinstance(shape, Area):
        return _area(shape, places, load, keep)
    closed = isinstance(shape, Outline)
    path = np.array(shape.points, np.float64)
    if room is not None and isinstance(shape, Stroke) and shape.pressure is None:
        path = _run_on(path, shape.size, room)
    fine, at = _often(path, closed)
    # Shapes count from a pixel's corner, alignments from its centre.
    landed = places(fine - 0.5) + 0.5
    points = tuple((float(x), float(y)) for x, y in landed)
    if isinstance(shape, Outline):
        return shape.model_copy(update={"points": points})
    size = float(np.clip(shape.size * scale_at(places, path.mean(axis=0)), MIN_BRUSH_PX, MAX_BRUSH_PX))
    pressure = None
    if shape.pressure is not None:
        pressures = np.interp(at, np.arange(len(path)), np.array(shape.pressure))
        pressure = tuple(float(each) for each in pressures)
    return shape.model_copy(update={"points": points, "size": size, "pressure": pressure})


def _run_on(path: Matrix, size: float, room: Box) -> Matrix:
    """A stroke's path (n, 2), drawn on straight beyond the picture's edge where it ends at it."""
    for _ in range(2):
        end = path[-1]
        edge = min(end[0] - room.x, end[1] - room.y, room.right - end[0], room.bottom - end[1])
        far = np.flatnonzero(np.hypot(*(path - end).T) > 4 * size)
        if edge < size and len(far):
            along = end - path[far[-1]]
            path = np.vstack([path, end + along / np.hypot(*along) * EXTENSION_SHARE * max(room.width, room.height)])
        path = path[::-1]
    return path


def scale_at(places: Places, point: Matrix) -> float:
    """Scale of a mapping at a point.

    Parameters
    ----------
    places : Places
        Maps points of one frame to another.
    point : (2,) float64
        The point.

    Returns
    -------
    float
        How many times larger things are in the other frame.
    """
    x, y = point
    square = places(np.array([[x - 8, y], [x + 8, y], [x, y - 8], [x, y + 8]], np.float64))
    across, down = (square[1] - square[0]) / 16, (square[3] - square[2]) / 16
    return float(np.sqrt(abs(across[0] * down[1] - across[1] * down[0])))


def _often(path: Matrix, closed: bool) -> tuple[Matrix, Matrix]:
    """A path (n, 2) with points often enough to bend, and where on the old one each of them is."""
    ends = np.vstack([path, path[:1]]) if closed else path
    lengths = np.hypot(*np.diff(ends, axis=0).T)
    often = (
        max(POINT_STEP_PX, float(lengths.sum()) / (MAX_POINTS - len(path) - 1))
        if len(path) < MAX_POINTS - 1
        else np.inf
    )
    steps = [np.arange(k, k + 1, 1 / max(int(np.ceil(length / often)), 1)) for k, length in enumerate(lengths)]
    at = np.concatenate(steps) if steps else np.zeros(1)
    if not closed and len(path) > 1:
        at = np.append(at, len(path) - 1)
    count = np.arange(len(ends))
    return np.stack([np.interp(at, count, ends[:, k]) for k in range(2)], axis=1), at


def _area(shape: Area, places: Places, load: AreaLoader, keep: AreaKeeper) -> Area:
    cover = area_from_bytes(load(shape.file))
    box, back = _led_back(shape.box, places)
    laid = cv2.remap(cover, back[..., 0] - shape.box.x, back[..., 1] - shape.box.y, cv2.INTER_LINEAR)
    full = np.asarray(laid, np.uint8)
    tight = box_of(full)
    if tight.empty:
        tight = Box(x=0, y=0, width=1, height=1)
    place = tight.moved(box.x, box.y)
    made = as_area(Mask(place, full[tight.slices]), keep, shape.erase)
    return made.model_copy(update={"sun": shape.sun})


def _led_back(box: Box, places: Places) -> tuple[Box, Floats]:
    """The box of another frame that a box of one lands in, and where each of its pixels comes from, (h, w, 2)."""
    edge = [np.linspace(box.x, box.right - 1, 33), np.linspace(box.y, box.bottom - 1, 33)]
    x, y = np.meshgrid(*edge)
    known = np.stack([x.ravel(), y.ravel()], 1)
    landed = places(known)
    low, high = np.floor(landed.min(axis=0)).astype(int) - 2, np.ceil(landed.max(axis=0)).astype(int) + 3
    width, height = (int(each) for each in high - low)
    # Beyond the box too, so that its edges lie between known places.
    columns, rows = -(-width // GRID_STEP_PX) + 3, -(-height // GRID_STEP_PX) + 3
    gx, gy = np.meshgrid((np.arange(columns) - 1.0) * GRID_STEP_PX, (np.arange(rows) - 1.0) * GRID_STEP_PX)
    wanted = np.stack([gx.ravel() + low[0], gy.ravel() + low[1]], 1)
    # The inverse by Newton's method, with the affine map that fits best as its slope.
    design = np.column_stack([known, np.ones(len(known))])
    slope = np.linalg.lstsq(design, landed, rcond=None)[0]
    inverse = np.linalg.pinv(slope[:2])
    back = (wanted - slope[2]) @ inverse
    for _ in range(INVERSION_ROUNDS):
        back = back - (places(back) - wanted) @ inverse
    # Shifts rather than places are drawn between them: OpenCV rounds where it looks to a 32nd of a cell.
    grid = (back - wanted).reshape(rows, columns, 2).astype(np.float32)
    x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    shift = cv2.remap(grid, x / GRID_STEP_PX + 1, y / GRID_STEP_PX + 1, cv2.INTER_LINEAR)
    full = shift + np.stack([x + low[0], y + low[1]], axis=2)
    return Box(x=int(low[0]), y=int(low[1]), width=width, height=height), np.asarray(full, np.float32)
