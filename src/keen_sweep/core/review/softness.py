"""Softness: a fill with less fine detail than anything of the same tone round it has. A photograph has grain all over:
even its plainest parts have some."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.review.scores import grey
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, snag_at
from keen_sweep.core.sentences import sentence

CELL_SIDE_PX = 16
# A cell counts with this many pixels on one side.
MIN_CELL_PIXELS = 40
# Only cells of similar tone are compared, 8-bit levels.
MAX_TONE_DIFFERENCE = 14.0
# Below this share of the plainest surroundings' fine detail, a cell is soft.
MIN_DETAIL_SHARE = 0.6
# Ground with less fine detail has no grain to miss.
MIN_GRAIN = 0.12
PLAIN_PERCENTILE = 10
# Connected soft cells that make a snag.
MIN_CONNECTED_CELLS = 4
# Share of a fill from which on soft cells make a snag.
MIN_SOFT_SHARE = 0.3


def softness(laid: Laid, min_share: float = MIN_DETAIL_SHARE) -> list[Snag]:
    """Find places where a fill is blurred.

    Parameters
    ----------
    laid : Laid
        The fill.
    min_share : float, optional
        A cell with less than this share of the plainest surroundings' fine detail is blurred, 0 to 1.

    Returns
    -------
    list of Snag
        The snags.
    """
    luma = grey(laid.after)
    fine = np.abs(luma - cv2.GaussianBlur(luma, (0, 0), 0.8))
    # Next to the border both sides mix.
    kernel = np.ones((3, 3), np.uint8)
    inside = np.asarray(cv2.erode(laid.hole.astype(np.uint8), kernel), np.uint8)
    outside = np.asarray(1 - cv2.dilate(laid.hole.astype(np.uint8), kernel), np.uint8)
    d_in, n_in = _cells(fine, inside)
    d_out, n_out = _cells(fine, outside)
    tone_in, tone_out = _cells(luma, inside)[0], _cells(luma, outside)[0]
    whole = n_out >= CELL_SIDE_PX * CELL_SIDE_PX * 0.8
    if whole.sum() < 12:
        return []
    ring_detail, ring_tone = d_out[whole], tone_out[whole]
    soft = np.zeros(d_in.shape, np.bool_)
    left = np.ones(d_in.shape, np.float32)
    filled = n_in >= MIN_CELL_PIXELS
    for row, column in np.argwhere(filled):
        alike = np.abs(ring_tone - tone_in[row, column]) < MAX_TONE_DIFFERENCE
        if alike.sum() < 8:
            alike[:] = True
        floor = float(np.percentile(ring_detail[alike], PLAIN_PERCENTILE))
        if floor < MIN_GRAIN:
            continue
        left[row, column] = d_in[row, column] / floor
        soft[row, column] = left[row, column] < min_share
    count, labels = cv2.connectedComponents(soft.astype(np.uint8), connectivity=8)
    sizes = np.bincount(labels.ravel(), minlength=count)
    large = (sizes >= MIN_CONNECTED_CELLS) | (sizes >= MIN_SOFT_SHARE * filled.sum())
    large[0] = False
    cells = large[labels]
    if not cells.any():
        return []
    place = (
        np.kron(cells, np.ones((CELL_SIDE_PX, CELL_SIDE_PX), np.bool_))[: luma.shape[0], : luma.shape[1]] & laid.hole
    )
    share = float(left[cells].mean())
    text = sentence("It has {share:.0%} of the grain of its plainest surroundings.", share=share)
    return [snag_at(SnagKind.SOFTNESS, place, 1 - share, text)]


def _cells(plane: Floats, where: EightBit) -> tuple[Floats, Floats]:
    """Means over the true pixels of cells, and their counts."""
    height, width = plane.shape
    tall, wide = -(-height // CELL_SIDE_PX) * CELL_SIDE_PX, -(-width // CELL_SIDE_PX) * CELL_SIDE_PX

    def summed(values: Floats) -> Floats:
        padded = np.zeros((tall, wide), np.float32)
        padded[:height, :width] = values
        return np.asarray(
            padded.reshape(tall // CELL_SIDE_PX, CELL_SIDE_PX, wide // CELL_SIDE_PX, CELL_SIDE_PX).sum(axis=(1, 3))
        )

    count = summed(where.astype(np.float32))
    return np.asarray(summed(plane * where) / np.maximum(count, 1), np.float32), count
