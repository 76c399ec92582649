"""A picture in memory: pixels the right way up, and everything else the file said."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from keen_sweep.core.arrays import Pixels

# uint8 or uint16
# Formats that are written, and those that can only be read.
Written = Literal["jpeg", "png", "tiff"]
Format = Literal["jpeg", "png", "tiff", "webp", "avif", "heif", "raw"]


@dataclass(frozen=True)
class Metadata:
    """What a file carries besides pixels, as bytes of the open standards.

    orientation is the Exif value 1 to 8 of the stored file; exif is a TIFF structure as in Exif 2.32 without
    the "Exif" prefix; resolution is pixels per inch, x and y.
    """

    orientation: int = 1
    icc: bytes | None = None
    exif: bytes | None = None
    xmp: bytes | None = None
    resolution: tuple[float, float] | None = None
    png_chunks: tuple[tuple[bytes, bytes], ...] = ()
    jpeg_app13: bytes | None = None
    tiff_iptc: tuple[tuple[int, bytes], ...] = ()

    @property
    def size(self) -> int:
        """All of it together, bytes."""
        blocks = (self.icc, self.exif, self.xmp, self.jpeg_app13)
        listed = (body for _, body in (*self.png_chunks, *self.tiff_iptc))
        return sum(len(each) for each in (*blocks, *listed) if each)


@dataclass(frozen=True)
class Picture:
    """Pixels (H, W, 3), uint8 or uint16, upright; grey pictures repeat their one channel three times.

    alpha is (H, W) of the same dtype, or None. The numbers are those of the file: nothing is converted to
    another profile on reading or writing, unless its colours are no red, green and blue; converted says so then.
    """

    pixels: Pixels
    format: Format
    alpha: Pixels | None = None
    grey: bool = False
    metadata: Metadata = field(default_factory=Metadata)
    converted: str = ""

    @property
    def height(self) -> int:
        return int(self.pixels.shape[0])

    @property
    def width(self) -> int:
        return int(self.pixels.shape[1])

    @property
    def depth(self) -> int:
        """Bits per channel, 8 or 16."""
        return 16 if self.pixels.dtype == np.uint16 else 8
