"""Cling and pieces: what was pointed at roughly becomes an exact area of a mark."""

from __future__ import annotations

import threading
from collections import OrderedDict

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.errors import BadMask, BadRequest
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.cling import LEAST_ROUND, How, cling
from keen_sweep.core.mask.edge import margin_for
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mark import Mark, Mask, guard_of, mask_of
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.pieces import Grain, mask_of_pieces, pieces_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.mask.subject import subject_of
from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.render import render
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Revision
from keen_sweep.studio.mark import add_shapes, guard, new_sweep, state_of
from keen_sweep.studio.originals import Originals

Labels = NDArray[np.int32]


class PiecesKept:
    """Labels of the pictures last looked at: they take a second to make. Safe to use from several threads."""

    def __init__(self, originals: Originals) -> None:
        self.originals = originals
        self._lock = threading.Lock()
        self._kept: OrderedDict[tuple[str, Grain], Labels] = OrderedDict()

    def labels(self, original: str, grain: Grain) -> Labels:
        """The pieces of an original."""
        with self._lock:
            if (original, grain) not in self._kept:
                pyramid = self.originals.pyramid(original)
                level = 0
                while pyramid.level(level).shape[0] * pyramid.level(level).shape[1] > 4_000_000:
                    level += 1
                self._kept[original, grain] = pieces_of(np.asarray(pyramid.level(level)), grain)
            self._kept.move_to_end((original, grain))
            while len(self._kept) > 6:
                self._kept.popitem(last=False)
            return self._kept[original, grain]


def cling_to(
    library: Library, originals: Originals, frame_id: int, shape: Stroke | Outline, sweep_id: str | None
) -> tuple[str, Revision]:
    """The thing under a scribble or within a loose outline, added to a sweep (taken away if the shape takes away),
    or as a new one with the margin that its edge needs."""
    frame, stack = state_of(library, frame_id)
    rough = mask_of(Mark(shapes=(shape.model_copy(update={"erase": False}),)), frame.width, frame.height)
    if not rough.pixels.any():
        raise BadMask("This mark lies outside the picture.")
    guard = guard_of(stack.guard, frame.width, frame.height, library.files.read)
    # Only the surroundings that cling looks at are rendered.
    picture = Box(x=0, y=0, width=frame.width, height=frame.height)
    window = rough.box.grow(max(rough.box.width, rough.box.height) + 2 * LEAST_ROUND, picture)
    below = render(originals.pyramid(frame.original), stack, originals, window)
    near = np.zeros((window.height, window.width), bool)
    near[rough.box.relative_to(window).slices] = rough.pixels > 0
    how: How = "outline" if isinstance(shape, Outline) else "scribble"
    found = cling(below, near, how, None if guard is None else guard[window.slices])
    return _take(library, frame, below, found, window, sweep_id, shape.erase)


def guard_subject(library: Library, originals: Originals, frame_id: int) -> Revision:
    """Guard the sharp main subject. Raises BadRequest where sharpness does not tell one."""
    frame, _ = state_of(library, frame_id)
    pyramid = originals.pyramid(frame.original)
    found = subject_of(pyramid.window(Box(x=0, y=0, width=frame.width, height=frame.height)))
    if found is None:
        raise BadRequest("Nothing here stands out by its sharpness: paint the guard by hand.")
    tight = box_of(found.pixels > 0)
    placed = Box(x=tight.x + found.box.x, y=tight.y + found.box.y, width=tight.width, height=tight.height)
    return guard(library, frame_id, [as_area(Mask(placed, found.pixels[tight.slices]), library.files.add)])


def pieces_png(library: Library, kept: PiecesKept, frame_id: int, grain: Grain) -> bytes:
    """The pieces of a frame as a PNG: the number of a piece is red + 256 green + 65536 blue."""
    frame, _ = state_of(library, frame_id)
    labels = kept.labels(frame.original, grain)
    bgr = np.stack([labels >> 16, (labels >> 8) & 255, labels & 255], axis=2).astype(np.uint8)
    return cv2.imencode(".png", bgr, [cv2.IMWRITE_PNG_COMPRESSION, 1])[1].tobytes()


def take_pieces(
    library: Library,
    kept: PiecesKept,
    frame_id: int,
    grain: Grain,
    numbers: list[int],
    sweep_id: str | None,
    erase: bool = False,
) -> tuple[str, Revision]:
    """Some pieces added to a sweep, taken away from it, or as a new one."""
    frame, _ = state_of(library, frame_id)
    found = mask_of_pieces(kept.labels(frame.original, grain), numbers, frame.width, frame.height)
    if not found.pixels.any():
        raise BadRequest("There is no such piece in this picture.")
    picture = Box(x=0, y=0, width=frame.width, height=frame.height)
    window = found.box.grow(LEAST_ROUND, picture)
    pixels = kept.originals.pyramid(frame.original).window(window)
    here = Mask(found.box.relative_to(window), found.pixels)
    return _take(library, frame, pixels, here, window, sweep_id, erase)


def _take(
    library: Library, frame: Frame, pixels: Pixels, found: Mask, window: Box, sweep_id: str | None, erase: bool
) -> tuple[str, Revision]:
    """A mask found in a window of the picture becomes a shape of a sweep."""
    assert frame.id is not None
    tight = box_of(found.pixels > 0)
    cover = found.pixels[tight.slices]
    x, y = tight.x + found.box.x + window.x, tight.y + found.box.y + window.y
    placed = Mask(Box(x=x, y=y, width=tight.width, height=tight.height), cover)
    area = as_area(placed, library.files.add, erase)
    if sweep_id is not None:
        return sweep_id, add_shapes(library, frame.id, sweep_id, [area])
    fit = Fit(margin=margin_for(pixels, found))
    return new_sweep(library, frame.id, [area], fit=fit)
