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
from keen_sweep.core.sentences import sentence

# From the content hash of an area's file to the file.
AreaLoader = Callable[[str], bytes]


class Area(BaseModel):
    """Coverage of a box of pixels, stored in a file that is named by its content hash.

    Attributes
    ----------
    kind : {"area"}
        Discriminates areas from strokes and outlines.
    file : str
        Content hash of the coverage's file.
    box : Box
        The box in picture pixels.
    erase : bool
        Whether the area takes away from the mask.
    sun : tuple of 2 float or None
        For an accepted shadow: its displacement across and down for each pixel of height.
    rim : int or None
        For what Cling found: largest growth beyond the thing's edge, pixels.
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
            raise LibraryTrouble(sentence("A stored area of a mark is damaged."))
        out = np.zeros((window.height, window.width), np.uint8)
        common = self.box.intersect(window)
        if not common.empty:
            out[common.relative_to(window).slices] = stored[common.relative_to(self.box).slices]
        return out


def area_to_bytes(cover: EightBit) -> bytes:
    """Encode coverage as a PNG file; the same coverage always gives the same bytes.

    Parameters
    ----------
    cover : (h, w) uint8
        Coverage, 0 to 255.

    Returns
    -------
    bytes
        The file.
    """
    return packed_png(cover)


def area_from_bytes(data: bytes) -> EightBit:
    """Decode the coverage written by `area_to_bytes`.

    Parameters
    ----------
    data : bytes
        The file.

    Returns
    -------
    (h, w) uint8
        Coverage, 0 to 255.

    Raises
    ------
    LibraryTrouble
        The file is damaged.
    """
    try:
        cover = np.asarray(imagecodecs.png_decode(data))
    except (ValueError, RuntimeError) as error:
        raise LibraryTrouble(sentence("A stored area of a mark is damaged.")) from error
    if cover.dtype != np.uint8 or cover.ndim != 2:
        raise LibraryTrouble(sentence("A stored area of a mark is damaged."))
    return cover
