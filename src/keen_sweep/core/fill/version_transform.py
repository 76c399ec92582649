"""A take of one version of a picture as it lies in another that was straightened or cropped: its places, not its
pixels, which are laid anew (relay)."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.similarity import Similarity

# Share of a take whose source may have been cut away; it is copied from where its neighbours' sources are.
MAX_LOST_SHARE = 0.25
REPAIR_ROUNDS = 4


def transfer_take(take: Patch, lies: Similarity, picture: Box) -> Patch:
    """Transfer a take to another version of its picture.

    Each pixel will be copied from where its source lies in that version, rounded to the nearest pixel; the
    pixels themselves are left empty.

    Parameters
    ----------
    take : Patch
        The take.
    lies : Similarity
        Similarity from the take's version to the new one.
    picture : Box
        Box of the new version.

    Returns
    -------
    Patch
        The transferred take.

    Raises
    ------
    BadRequest
        It lies outside the new version, or too much of its source does.
    """
    box = _landing(take.box, lies).intersect(picture)
    if box.empty:
        raise BadRequest(sentence("It lies outside the picture now."))
    x, y = np.meshgrid(np.arange(box.x, box.right), np.arange(box.y, box.bottom))
    back = lies.inverse.places(np.stack([x.ravel(), y.ravel()], 1)).reshape(box.height, box.width, 2)
    back = (back - (take.box.x, take.box.y)).astype(np.float32)
    alpha = np.asarray(cv2.remap(take.alpha, back[..., 0], back[..., 1], cv2.INTER_LINEAR), np.uint8)
    if not alpha.any():
        raise BadRequest(sentence("It lies outside the picture now."))
    # The nearest pixel of the fill: its rim may round to one beside it.
    at = np.rint(back).astype(np.int64)
    column, row = (at[..., k].clip(0, take.alpha.shape[1 - k] - 1) for k in range(2))
    rows, columns = _nearest(take.alpha > 0)
    row, column = rows[row, column], columns[row, column]
    offsets = None
    if take.offsets is not None:
        offsets = _led(take.offsets[row, column], lies) * (alpha > 0)[..., None]
        offsets = _within(offsets, box, picture)
    parts = tuple(replace(part, box=_landing(part.box, lies).intersect(picture)) for part in take.parts)
    return replace(
        take,
        box=box,
        pixels=np.zeros((box.height, box.width, 3), take.pixels.dtype),
        alpha=alpha,
        offsets=offsets,
        loose=None if take.loose is None else take.loose[row, column] & (alpha > 0),
        pieces=None if take.pieces is None else np.where(alpha > 0, take.pieces[row, column], 0).astype(np.int32),
        parts=tuple(part for part in parts if not part.box.empty),
    )


def _landing(box: Box, lies: Similarity) -> Box:
    corners = np.array([(x, y) for x in (box.x, box.right - 1) for y in (box.y, box.bottom - 1)], np.float64)
    landed = lies.places(corners)
    low, high = np.floor(landed.min(axis=0)).astype(int) - 1, np.ceil(landed.max(axis=0)).astype(int) + 2
    return Box(x=int(low[0]), y=int(low[1]), width=int(high[0] - low[0]), height=int(high[1] - low[1]))


def _nearest(inside: Bools) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """For every pixel (h, w) the row and the column of the nearest one that is inside."""
    rows, columns = scipy.ndimage.distance_transform_edt(~inside, return_distances=False, return_indices=True)
    return rows.astype(np.int64), columns.astype(np.int64)


def _led(offsets: NDArray[np.int32], lies: Similarity) -> NDArray[np.int32]:
    """Offsets (h, w, 2) turned and scaled; what was copied stays so, what was not is 0, 0."""
    return np.rint(offsets @ lies.matrix[:2, :2].T).astype(np.int32)


def _within(offsets: NDArray[np.int32], box: Box, picture: Box) -> NDArray[np.int32]:
    """Offsets (h, w, 2) of a box, none of which leads out of the picture or to what is copied itself."""
    copied = (offsets != 0).any(axis=2)
    lost = copied & ~_leads(offsets, copied, box, picture)
    if lost.sum() > MAX_LOST_SHARE * max(copied.sum(), 1):
        raise BadRequest(sentence("Too much of its source has been cropped away: fill it again."))
    for _ in range(REPAIR_ROUNDS):
        if not lost.any():
            return offsets
        rows, columns = _nearest(copied & ~lost)
        offsets = np.where(lost[..., None], offsets[rows, columns], offsets)
        led = _leads(offsets, copied, box, picture)
        lost = lost & ~led
    raise BadRequest(sentence("Too much of its source has been cropped away: fill it again."))


def _leads(offsets: NDArray[np.int32], copied: Bools, box: Box, picture: Box) -> Bools:
    """(h, w): whether a pixel's source is a pixel of the picture that is not copied itself."""
    y, x = np.mgrid[box.y : box.bottom, box.x : box.right]
    x, y = x + offsets[..., 0], y + offsets[..., 1]
    out = (x >= picture.x) & (x < picture.right) & (y >= picture.y) & (y < picture.bottom)
    own = (x >= box.x) & (x < box.right) & (y >= box.y) & (y < box.bottom)
    out[own] &= ~copied[(y - box.y)[own], (x - box.x)[own]]
    return np.asarray(out)
