"""What lies under a brush's source: pixels copied from elsewhere in the picture, turned or mirrored if asked for."""

from __future__ import annotations

import math
from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.series.similarity import Similarity
from keen_sweep.core.touch.dab import Source

# The picture below a touch-up: the pixels (h, w, 3) of a box that lies in the picture.
Below = Callable[[Box], Pixels]
# Radius of cubic interpolation, pixels.
CUBIC_RADIUS_PX = 2


def upright(source: Source) -> bool:
    """Whether whole pixels can be copied: no rotation, or by quarter turns.

    Parameters
    ----------
    source : Source
        The source.

    Returns
    -------
    bool
        Whether it is so.
    """
    return source.turn % 90 == 0


def source_matrix(source: Source) -> Doubles:
    """Affine map from a pixel to the pixel that it is copied from; pixel centres are whole numbers.

    Parameters
    ----------
    source : Source
        The source.

    Returns
    -------
    (2, 3) float64
        For column, row, 1. Quarter turns map whole numbers to whole numbers.
    """
    angle = np.deg2rad(-source.turn)
    quarter = upright(source)
    cos, sin = (round(np.cos(angle)), round(np.sin(angle))) if quarter else (np.cos(angle), np.sin(angle))
    linear = np.array([[cos, -sin], [sin, cos]], np.float64)
    if source.mirror:
        linear = np.array([[-1.0, 0.0], [0.0, 1.0]]) @ linear
    shift = np.asarray(source.at) - linear @ np.asarray(source.to)
    # From centres at a half to centres at whole numbers.
    shift = shift + linear @ np.array([0.5, 0.5]) - 0.5
    if quarter:
        shift = np.rint(shift)
    return np.column_stack([linear, shift])


def transfer_source(source: Source, lies: Similarity) -> Source:
    """Transfer a source to another version of the picture that was straightened or cropped.

    Parameters
    ----------
    source : Source
        The source.
    lies : Similarity
        Similarity from the old version to the new one.

    Returns
    -------
    Source
        The source in the new version.
    """
    at, to = (
        tuple(float(v) for v in lies.places(np.array([point]) - 0.5)[0] + 0.5) for point in (source.at, source.to)
    )
    # What is mirrored is mirrored about the other's upright: that turns it twice as far.
    turn = math.fmod(source.turn + 2 * lies.turn, 360) if source.mirror else source.turn
    return source.model_copy(update={"at": at, "to": to, "turn": turn})


def source_box(source: Source, box: Box) -> Box:
    """Pixels that are read to fill a box.

    Parameters
    ----------
    source : Source
        The source.
    box : Box
        The box.

    Returns
    -------
    Box
        Their box, not cut to the picture.
    """
    matrix = source_matrix(source)
    corners = (
        np.array([[x, y, 1] for x in (box.x, box.right - 1) for y in (box.y, box.bottom - 1)], np.float64) @ matrix.T
    )
    rim = 0 if upright(source) else CUBIC_RADIUS_PX
    left, top = (int(v) for v in np.floor(corners.min(0) + 1e-6) - rim)
    right, bottom = (int(v) for v in np.ceil(corners.max(0) - 1e-6) + rim + 1)
    return Box(x=left, y=top, width=right - left, height=bottom - top)


def copy_source(source: Source, box: Box, picture: Box, below: Below) -> tuple[Pixels, Bools]:
    """Copy into a box.

    Whole pixels are copied exactly; rotated ones are interpolated cubically; beyond the picture its nearest
    pixel is used.

    Parameters
    ----------
    source : Source
        The source.
    box : Box
        The box.
    picture : Box
        Box of the picture.
    below : Below
        Reads the picture.

    Returns
    -------
    tuple of (h, w, 3) and (h, w) bool
        The copy, and where it comes from inside the picture.

    References
    ----------
    Keys 1981, "Cubic convolution interpolation" (as implemented by OpenCV).
    """
    matrix = source_matrix(source)
    if np.array_equal(matrix[:, :2], np.eye(2)):
        return _moved(box, int(matrix[0, 2]), int(matrix[1, 2]), picture, below)
    columns, rows = np.meshgrid(np.arange(box.x, box.right), np.arange(box.y, box.bottom))
    x = matrix[0, 0] * columns + matrix[0, 1] * rows + matrix[0, 2]
    y = matrix[1, 0] * columns + matrix[1, 1] * rows + matrix[1, 2]
    valid = (x > -0.5) & (y > -0.5) & (x < picture.width - 0.5) & (y < picture.height - 0.5)
    window = source_box(source, box).intersect(picture)
    if window.empty:
        return np.zeros((box.height, box.width, 3), below(box).dtype), np.zeros(valid.shape, np.bool_)
    pixels = below(window)
    x, y = x - window.x, y - window.y
    if upright(source):
        column = np.clip(x, 0, window.width - 1).astype(np.intp)
        row = np.clip(y, 0, window.height - 1).astype(np.intp)
        return np.asarray(pixels[row, column]), valid
    turned = cv2.remap(
        np.ascontiguousarray(pixels),
        x.astype(np.float32),
        y.astype(np.float32),
        cv2.INTER_CUBIC,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(turned), valid


def _moved(box: Box, across: int, down: int, picture: Box, below: Below) -> tuple[Pixels, Bools]:
    """The same for what is only moved."""
    moved_box = box.moved(across, down)
    window = moved_box.intersect(picture)
    if window == moved_box:
        return below(moved_box), np.ones((box.height, box.width), np.bool_)
    if window.empty:
        return np.zeros((box.height, box.width, 3), below(box).dtype), np.zeros((box.height, box.width), np.bool_)
    inside = window.relative_to(moved_box)
    rim = ((inside.y, box.height - inside.bottom), (inside.x, box.width - inside.right))
    valid = np.pad(np.ones((window.height, window.width), np.bool_), rim)
    return np.pad(below(window), (*rim, (0, 0)), mode="edge"), valid
