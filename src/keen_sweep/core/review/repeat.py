"""Repeat: a part of a fill that stands once more near by, so that the eye finds the pair."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.review.scores import grey
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, snag_at
from keen_sweep.core.sentences import sentence

# Side of the compared cells, pixels.
CELL_SIDE_PX = 16
MAX_CELLS = 600
# Distance within which a cell is compared with its surroundings, pixels.
SEARCH_RADIUS_PX = 260
# One minus correlation of a copy and its source.
MAX_COPY_DISTANCE = 0.05
# Standard deviation from which on a cell is a motif, 8-bit levels.
MIN_STRUCTURE = 4.0
# Distance of the next best match: closer ones mean a texture that repeats by nature.
MIN_SECOND_DISTANCE = 0.03
# Cells with one common shift that make a snag.
MIN_SNAG_CELLS = 3


def repeat(laid: Laid) -> list[Snag]:
    """Find motifs of a fill that are copies of something near by.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    list of Snag
        The snags.
    """
    luma = grey(laid.after)
    small = np.asarray(cv2.resize(luma, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), np.float32)
    found: dict[tuple[int, int], list[tuple[int, int, float]]] = {}
    for x, y in _cells(laid):
        copy = _copied_from(luma, small, x, y)
        if copy is not None:
            shift, strength = copy
            near = next((known for known in found if max(abs(np.subtract(known, shift))) <= 1), shift)
            found.setdefault(near, []).append((x, y, strength))
    out = []
    for (dx, dy), cells in found.items():
        place = np.zeros(laid.hole.shape, np.bool_)
        for x, y, _ in cells:
            place[y : y + CELL_SIDE_PX, x : x + CELL_SIDE_PX] = True
        for part in _parts(place):
            inside = [strength for x, y, strength in cells if part[y, x]]
            if len(inside) < MIN_SNAG_CELLS:
                continue
            away = np.hypot(dx, dy)
            text = sentence("The same texture occurs {away:.0f} pixels away.", away=away)
            strength = float(np.mean(inside)) * min(1.0, len(inside) / 12 + 0.3)
            out.append(snag_at(SnagKind.REPEAT, part & laid.hole, strength, text))
    return out


def _cells(laid: Laid) -> list[tuple[int, int]]:
    """Corners of cells that lie in the hole, at half a cell's distance; fewer if there are many."""
    box = box_of(laid.hole)
    inside = cv2.boxFilter(laid.hole.astype(np.float32), -1, (CELL_SIDE_PX, CELL_SIDE_PX), anchor=(0, 0))
    step = CELL_SIDE_PX // 2
    out = []
    while True:
        out = [
            (x, y)
            for y in range(box.y, box.bottom - CELL_SIDE_PX + 1, step)
            for x in range(box.x, box.right - CELL_SIDE_PX + 1, step)
            if inside[y, x] > 0.97
        ]
        if len(out) <= MAX_CELLS:
            return out
        step += 2


def _copied_from(luma: Floats, small: Floats, x: int, y: int) -> tuple[tuple[int, int], float] | None:
    """The shift to the place that a cell was copied from, and how much of a motif it is; None for what is no copy.

    Looked for at half the size, where it is sixteen times quicker, and made sure of at full size.
    """
    cell = luma[y : y + CELL_SIDE_PX, x : x + CELL_SIDE_PX]
    if float(cell.std()) < MIN_STRUCTURE:
        return None
    half = CELL_SIDE_PX // 2
    window = Box(x=x // 2, y=y // 2, width=half, height=half).grow(SEARCH_RADIUS_PX // 2, whole(small))
    patch = small[y // 2 : y // 2 + half, x // 2 : x // 2 + half]
    misfit = np.asarray(1 - cv2.matchTemplate(small[window.slices], patch, cv2.TM_CCOEFF_NORMED), np.float32)
    row, column = y // 2 - window.y, x // 2 - window.x
    _blot(misfit, row, column)
    row, column = divmod(int(misfit.argmin()), misfit.shape[1])
    _blot(misfit, row, column)
    second = float(misfit.min())
    if second < MIN_SECOND_DISTANCE:
        return None
    around = Box(x=2 * (column + window.x), y=2 * (row + window.y), width=CELL_SIDE_PX, height=CELL_SIDE_PX).grow(
        3, whole(luma)
    )
    if around.width < CELL_SIDE_PX or around.height < CELL_SIDE_PX:
        return None
    close = 1 - cv2.matchTemplate(luma[around.slices], np.ascontiguousarray(cell), cv2.TM_CCOEFF_NORMED)
    row, column = divmod(int(close.argmin()), close.shape[1])
    if float(close[row, column]) > MAX_COPY_DISTANCE:
        return None
    return (around.x + column - x, around.y + row - y), min(1.0, second)


def _blot(misfit: Floats, row: int, column: int) -> None:
    """Leave a place and what is next to it out."""
    rim = CELL_SIDE_PX // 4
    misfit[max(row - rim, 0) : row + rim + 1, max(column - rim, 0) : column + rim + 1] = 2


def _parts(place: Bools) -> list[Bools]:
    count, labels = cv2.connectedComponents(place.astype(np.uint8), connectivity=8)
    return [labels == label for label in range(1, count)]
