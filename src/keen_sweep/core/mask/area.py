"""An area that was found rather than drawn: clung to a thing, read from a file, accepted from a proposal."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import imagecodecs
import numpy as np
from pydantic import BaseModel, ConfigDict

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.photo.png_encoder import packed_png

# From the content hash of an area's file to the file.
AreaLoader = Callable[[str], bytes]


class Area(BaseModel):
    """Coverage of the pixels of a box, kept as a file of its own and known by its content hash.

    sun: of a shadow that was accepted, where it falls for every pixel of height, across and down. rim: of what cling
    found, how many pixels past the thing's edge it was grown at most, where something of it was left.
    """

    model_config = ConfigDict(frozen=True)

    kind: Literal["area"] = "area"
    file: str
    box: Box
    erase: bool = False
    sun: tuple[float, float] | None = None
    rim: int | None = None

    def cover(self, window: Box, load: AreaLoader) -> EightBit:
        """(h, w) of a window of the picture, 0 to 255. Raises LibraryTrouble if the file does not fit the box."""
        stored = area_from_bytes(load(self.file))
        if stored.shape != (self.box.height, self.box.width):
            raise LibraryTrouble("A stored area of a mark is damaged.")
        out = np.zeros((window.height, window.width), np.uint8)
        common = self.box.intersect(window)
        if not common.empty:
            out[common.relative_to(window).slices] = stored[common.relative_to(self.box).slices]
        return out


def area_to_bytes(cover: EightBit) -> bytes:
    """(h, w) uint8 coverage as a PNG file; the same coverage gives the same bytes."""
    return packed_png(cover)


def area_from_bytes(data: bytes) -> EightBit:
    """The inverse of area_to_bytes. Raises LibraryTrouble if damaged."""
    try:
        cover = np.asarray(imagecodecs.png_decode(data))
    except (ValueError, RuntimeError) as error:
        raise LibraryTrouble("A stored area of a mark is damaged.") from error
    if cover.dtype != np.uint8 or cover.ndim != 2:
        raise LibraryTrouble("A stored area of a mark is damaged.")
    return cover
