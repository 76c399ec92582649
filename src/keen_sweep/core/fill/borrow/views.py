"""Views: a sister's pixels as they would be seen from the frame that is filled, one view for each way in which what is
round the hole moved between the two.

What a hole hides cannot be followed from frame to frame; what is round it can. It lies on a few planes, a wall, the
ground, and what is hidden mostly goes on with one of them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Matrix, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.fill.borrow.window import Window
from keen_sweep.core.photo.channels import in_depth_of
from keen_sweep.core.series.alignment import Alignment, map_by_homography, sample_grid
from keen_sweep.core.series.features import homography_of
from keen_sweep.core.series.flow import (
    by_cells,
    consistent_flow,
    continue_cells,
    local_similarity,
    texture_strength,
    warp_by,
)
from keen_sweep.core.series.projected_view import project_view

# Places with a lower certainty do not vote for a plane.
MIN_CERTAINTY = 0.4
# Number of places that vote for planes, at most.
MAX_PLACES = 5_000
# A plane needs this many places.
MIN_PLANE_PLACES = 120
# Places agree with a plane within this distance, pixels of the picture.
PLANE_TOLERANCE_PX = 1.0
# Distance for the final fit of a plane, pixels of the picture.
FINAL_TOLERANCE_PX = 0.5
MAX_PLANES = 4
# Side of the cells of a motion that follows no plane, pixels at working size.
CELL_SIDE_PX = 8
# Places this close to the hole may belong to the thing, pixels at working size.
THING_MARGIN_PX = 4


@dataclass(frozen=True)
class Warped:
    """A sister frame warped to a box of the filled frame.

    Attributes
    ----------
    sister : int
        Index of the sister.
    pixels : (h, w, 3) uint8 or uint16
        Its pixels, in the picture's dtype and tones.
    there : (h, w) bool
        Where there are pixels that may be borrowed.
    bends : bool
        Whether the motion bends; otherwise it is that of a plane.
    """

    sister: int
    pixels: Pixels
    there: Bools
    bends: bool = False


def views_of(number: int, sister: Sister, window: Window, within: Box) -> list[Warped]:
    """Views of a sister frame for a hole, one for each plane and one for a bending motion.

    Parameters
    ----------
    number : int
        Index of the sister.
    sister : Sister
        The sister.
    window : Window
        The hole and its surroundings.
    within : Box
        Box of the picture that the views cover.

    Returns
    -------
    list of Warped
        The views; empty if it shows nothing around the hole.
    """
    leads = _leads(sister, window)
    return [replace(_view(number, sister, window, within, lead), bends=k == 0) for k, lead in enumerate(leads)]


def _leads(sister: Sister, window: Window) -> list[Callable[[Matrix], Matrix]]:
    """Ways from places of the picture to those of a sister, as what is round the hole tells: the smooth motion, and
    planes."""
    alignment = _without(sister.alignment, window)
    warped, seen = project_view(sister.pixels, alignment, window.box, window.size)
    grey, theirs = window.grey, np.asarray(cv2.cvtColor(warped, cv2.COLOR_RGB2GRAY), np.uint8)
    near = np.ones((2 * THING_MARGIN_PX + 1,) * 2, np.uint8)
    known = cv2.dilate(window.reduced(window.hole).astype(np.uint8), near) == 0
    # The thing must not draw what is round it along to whoever stands there in the sister.
    blank = np.where(known, grey, theirs).astype(np.uint8)
    motion, same = consistent_flow(blank, theirs, np.zeros((*grey.shape, 2), np.float32), finest=0)
    sure = np.where(
        same & seen & known, local_similarity(grey, warp_by(theirs, motion)) * texture_strength(grey), 0
    ).astype(np.float32)
    rows, columns = np.nonzero(sure > MIN_CERTAINTY)
    if len(rows) < MIN_PLANE_PLACES:
        return []
    some = np.random.Generator(np.random.PCG64(1)).permutation(len(rows))[:MAX_PLACES]
    rows, columns = rows[some], columns[some]
    places = window.places(np.stack([columns, rows], 1).astype(np.float64))
    enlarged = np.array([window.box.width / window.size[0], window.box.height / window.size[1]], np.float32)
    shift = np.asarray(motion * enlarged, np.float32)
    ends = alignment.places(places + shift[rows, columns])
    leads = [_smooth(alignment, window, shift, sure)]
    while len(leads) <= MAX_PLANES and len(places) >= MIN_PLANE_PLACES:
        plane, agreeing = homography_of(places, ends, PLANE_TOLERANCE_PX)
        if plane is None or agreeing.sum() < MIN_PLANE_PLACES:
            break
        leads.append(_flat(_refined(plane, places, ends)))
        places, ends = places[~agreeing], ends[~agreeing]
    return leads


def _flat(plane: Matrix) -> Callable[[Matrix], Matrix]:
    return lambda places: map_by_homography(plane, places)


def _refined(plane: Matrix, places: Matrix, ends: Matrix) -> Matrix:
    """A plane that was found among others, by those of its places alone that agree with it closely."""
    for most in (PLANE_TOLERANCE_PX, FINAL_TOLERANCE_PX, FINAL_TOLERANCE_PX):
        off = np.linalg.norm(map_by_homography(plane, places) - ends, axis=1)
        if (off < most).sum() < MIN_PLANE_PLACES:
            break
        better, _ = cv2.findHomography(places[off < most], ends[off < most], 0)
        if better is None:
            break
        plane = np.asarray(better, np.float64)
    return plane


def _without(alignment: Alignment, window: Window) -> Alignment:
    """An alignment that does not heed what is in the hole: a thing that moved leads astray what is round it."""
    rows, columns = alignment.motion.shape[:2]
    hole = np.zeros(alignment.size[::-1], np.float32)
    hole[window.box.moved(*alignment.corner).slices] = window.hole
    share = np.asarray(cv2.resize(hole, (columns, rows), interpolation=cv2.INTER_AREA))
    astray = share > 0
    weight = np.where(astray, 0, np.maximum(alignment.sure, 0.05)).astype(np.float32)
    drawn = continue_cells(weight, alignment.motion)
    return replace(alignment, motion=np.where(astray[..., None], drawn, alignment.motion).astype(np.float32))


def _smooth(alignment: Alignment, window: Window, shift: Floats, sure: Floats) -> Callable[[Matrix], Matrix]:
    """The motion of what is round the hole, drawn on over it."""
    grid = by_cells(shift, sure, CELL_SIDE_PX)
    box, (rows, columns) = window.box, grid.shape[:2]

    def lead(places: Matrix) -> Matrix:
        across = (places[:, 0] - box.x + 0.5) * columns / box.width - 0.5
        down = (places[:, 1] - box.y + 0.5) * rows / box.height - 0.5
        return alignment.places(places + sample_grid(grid, across, down))

    return lead


def _view(number: int, sister: Sister, window: Window, within: Box, lead: Callable[[Matrix], Matrix]) -> Warped:
    at = lead(window.every(within)).reshape(within.height, within.width, 2).astype(np.float32)
    height, width = sister.pixels.shape[:2]
    valid = ((at > 0) & (at < (width - 1, height - 1))).all(axis=2)
    low = np.clip(np.floor(at.min(axis=(0, 1))).astype(int) - 4, 0, (width - 1, height - 1))
    high = np.clip(np.ceil(at.max(axis=(0, 1))).astype(int) + 5, 1, (width, height))
    part = np.ascontiguousarray(sister.pixels[low[1] : high[1], low[0] : high[0]])
    across, down = at[..., 0] - np.float32(low[0]), at[..., 1] - np.float32(low[1])
    laid = cv2.remap(part, across, down, cv2.INTER_LANCZOS4, borderMode=cv2.BORDER_REPLICATE)
    if sister.barred is not None:
        barred = sister.barred[low[1] : high[1], low[0] : high[0]].astype(np.uint8)
        valid &= cv2.remap(barred, across, down, cv2.INTER_NEAREST, borderMode=cv2.BORDER_REPLICATE) == 0
    toned = sister.alignment.tones.laid_on(in_depth_of(np.asarray(laid), window.pixels))
    return Warped(number, toned, np.asarray(valid))
