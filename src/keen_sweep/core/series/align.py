"""Align: find how one frame of a shoot maps onto another.

Features give the planes of the scene, planes a first guess of every place's motion, dense flow the rest; what is kept
of it is smooth, and the same there and back.
"""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Matrix
from keen_sweep.core.errors import NotTheSamePlace
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.alignment import Alignment, map_by_homography
from keen_sweep.core.series.features import match_views
from keen_sweep.core.series.flow import by_cells, consistent_flow, lengths, local_similarity, texture_strength, warp_by
from keen_sweep.core.series.planes import motion_by, planes_of, unseen_pixels, warp_view
from keen_sweep.core.series.tones import Tones, tones_between
from keen_sweep.core.series.view import View

# Side of a cell, pixels of the view.
CELL_SIDE_PX = 16
# Motion below which the camera only turned, pixels of the view.
MAX_TURN_MOTION_PX = 0.6
# Quantile of the places at which that motion is read.
STILL_QUANTILE = 0.9
# Places with a lower certainty do not count.
MIN_CERTAINTY = 0.5
# Tones are compared at every so many rows and columns.
TONE_STEP_PX = 2


def align(one: View, other: View, aside: Bools | None = None) -> Alignment:
    """Align one frame to another.

    Parameters
    ----------
    one : View
        View of the first frame.
    other : View
        View of the second frame.
    aside : (h, w) bool or None, optional
        Pixels of the first view that are ignored, such as the subject.

    Returns
    -------
    Alignment
        The alignment.

    Raises
    ------
    NotTheSamePlace
        Too little of the first frame is visible in the second.
    """
    found = match_views(one, other, aside)
    if found is None:
        raise NotTheSamePlace(sentence("These two frames do not show the same place."))
    planes = planes_of(found, one, other)
    first = planes[0]
    other_warped = warp_view(other, first, one)
    motion, same = consistent_flow(one.grey, other_warped.grey, motion_by(planes, one, other))
    same &= ~unseen_pixels(first, one, other)
    sure = np.where(same, local_similarity(one.grey, warp_by(other_warped.grey, motion)), 0).astype(np.float32)
    grid = by_cells(motion, sure * texture_strength(one.grey), CELL_SIDE_PX)
    certain = by_cells(np.repeat(sure[..., None], 2, axis=2), np.ones_like(sure), CELL_SIDE_PX)[..., 0]
    far = lengths(grid)[certain > MIN_CERTAINTY]
    if len(far) and np.quantile(far, STILL_QUANTILE) < MAX_TURN_MOTION_PX:
        grid = np.zeros_like(grid)
    matrix = other.to_frame @ first @ np.linalg.inv(one.to_frame)
    return Alignment(
        size=(one.width, one.height),
        other=(other.width, other.height),
        homography=matrix / matrix[2, 2],
        motion=_in_frame(grid, first, one, other),
        sure=np.clip(certain * 1.5, 0, 1).astype(np.float32),
        tones=_tones(one, other_warped, motion, sure),
    )


def _in_frame(grid: Floats, first: Matrix, one: View, other: View) -> Floats:
    """Motions of the warped view by cells as motions in the other frame's pixels."""
    rows, columns = grid.shape[:2]
    height, width = one.pixels.shape[:2]
    x, y = np.meshgrid(
        (np.arange(columns) + 0.5) * width / columns - 0.5, (np.arange(rows) + 0.5) * height / rows - 0.5
    )
    cells = np.stack([x.ravel(), y.ravel()], 1)
    ends = map_by_homography(first, cells + grid.reshape(-1, 2)) - map_by_homography(first, cells)
    return (ends / other.scale).reshape(rows, columns, 2).astype(np.float32)


def _tones(one: View, other_warped: View, motion: Floats, sure: Floats) -> Tones:
    """The curves that give the other frame the tones of one."""
    some = (slice(None, None, TONE_STEP_PX),) * 2
    counts = sure[some] > MIN_CERTAINTY
    pixels = warp_by(other_warped.pixels, motion)[some][counts].astype(np.float32) / np.float32(255)
    return tones_between(pixels, one.pixels[some][counts].astype(np.float32) / np.float32(255))
