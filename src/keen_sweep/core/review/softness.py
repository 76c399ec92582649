"""Softness: a fill with less fine detail than anything of the same tone round it has. A photograph has grain all over:
even its plainest parts have some."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.review.scores import grey
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, placed

CELL = 16
# Cells count with at least so many pixels of one side; what is compared is of the same tone, levels.
LEAST = 40
ALIKE = 14.0
# Fine detail below this share of the plainest surroundings is missing; and what is no grain at all is not missed.
SOFT = 0.6
NO_GRAIN = 0.12
PLAINEST = 10
# Cells that hang together, or a share of the fill, to be worth a word.
CELLS = 4
SHARE = 0.3


def softness(laid: Laid) -> list[Snag]:
    """Where a fill has gone soft."""
    luma = grey(laid.after)
    fine = np.abs(luma - cv2.GaussianBlur(luma, (0, 0), 0.8))
    # Next to the border both sides mix.
    kernel = np.ones((3, 3), np.uint8)
    inside = np.asarray(cv2.erode(laid.hole.astype(np.uint8), kernel), np.uint8)
    outside = np.asarray(1 - cv2.dilate(laid.hole.astype(np.uint8), kernel), np.uint8)
    d_in, n_in = _cells(fine, inside)
    d_out, n_out = _cells(fine, outside)
    tone_in, tone_out = _cells(luma, inside)[0], _cells(luma, outside)[0]
    whole = n_out >= CELL * CELL * 0.8
    if whole.sum() < 12:
        return []
    ring_detail, ring_tone = d_out[whole], tone_out[whole]
    soft = np.zeros(d_in.shape, np.bool_)
    left = np.ones(d_in.shape, np.float32)
    filled = n_in >= LEAST
    for row, column in np.argwhere(filled):
        alike = np.abs(ring_tone - tone_in[row, column]) < ALIKE
        if alike.sum() < 8:
            alike[:] = True
        floor = float(np.percentile(ring_detail[alike], PLAINEST))
        if floor < NO_GRAIN:
            continue
        left[row, column] = d_in[row, column] / floor
        soft[row, column] = left[row, column] < SOFT
    count, labels = cv2.connectedComponents(soft.astype(np.uint8), connectivity=8)
    sizes = np.bincount(labels.ravel(), minlength=count)
    large = (sizes >= CELLS) | (sizes >= SHARE * filled.sum())
    large[0] = False
    cells = large[labels]
    if not cells.any():
        return []
    place = np.kron(cells, np.ones((CELL, CELL), np.bool_))[: luma.shape[0], : luma.shape[1]] & laid.hole
    share = float(left[cells].mean())
    text = f"It has {share:.0%} of the grain of its plainest surroundings."
    return [placed(SnagKind.SOFTNESS, place, 1 - share, text)]


def _cells(plane: Floats, where: EightBit) -> tuple[Floats, Floats]:
    """Means over the true pixels of cells, and their counts."""
    height, width = plane.shape
    tall, wide = -(-height // CELL) * CELL, -(-width // CELL) * CELL

    def summed(values: Floats) -> Floats:
        padded = np.zeros((tall, wide), np.float32)
        padded[:height, :width] = values
        return np.asarray(padded.reshape(tall // CELL, CELL, wide // CELL, CELL).sum(axis=(1, 3)))

    count = summed(where.astype(np.float32))
    return np.asarray(summed(plane * where) / np.maximum(count, 1), np.float32), count
