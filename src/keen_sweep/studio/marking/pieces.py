"""Pieces: the picture cut up along its edges, so that a click takes one."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.pieces import PieceSize, mask_of_pieces
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.marking.cling import marked_as
from keen_sweep.studio.open_frame import open_frame


def pieces_png(library: Library, frame_id: int, size: PieceSize) -> bytes:
    """The pieces of a frame as a PNG: the number of a piece is red + 256 green + 65536 blue."""
    current = open_frame(library, frame_id)
    labels = current.shelf.pieces(current.frame.original, size)
    bgr = np.stack([labels >> 16, (labels >> 8) & 255, labels & 255], axis=2).astype(np.uint8)
    return cv2.imencode(".png", bgr, [cv2.IMWRITE_PNG_COMPRESSION, 1])[1].tobytes()


def take_pieces(
    library: Library, frame_id: int, size: PieceSize, numbers: list[int], sweep_id: str | None, erase: bool = False
) -> tuple[str, Revision]:
    """Some pieces added to a sweep, taken away from it, or as a new one."""
    current = open_frame(library, frame_id)
    labels = current.shelf.pieces(current.frame.original, size)
    found = mask_of_pieces(labels, numbers, current.frame.width, current.frame.height)
    if not found.pixels.any():
        raise BadRequest(sentence("There is no such piece in this picture."))
    return marked_as(current, found, sweep_id, erase)
