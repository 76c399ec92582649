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
    """What a file contains besides pixels, as bytes of the open standards.

    Attributes
    ----------
    orientation : int
        Exif orientation of the stored file, 1 to 8.
    icc : bytes or None
        ICC profile.
    exif : bytes or None
        TIFF structure as in Exif 2.32, without the "Exif" prefix.
    xmp : bytes or None
        XMP packet.
    resolution : tuple of 2 float or None
        Pixels per inch, across and down.
    png_chunks : tuple of tuple of 2 bytes
        Type and data of PNG chunks that are kept.
    jpeg_app13 : bytes or None
        Data of the APP13 segment (IPTC).
    tiff_iptc : tuple of tuple of (int, bytes)
        Tag and data of IPTC and image resource tags.
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
    """A picture as it is edited.

    The numbers are those of the file: nothing is converted to another profile, unless the file's colours are
    not RGB.

    Attributes
    ----------
    pixels : (H, W, 3) uint8 or uint16
        Upright pixels; a grey picture repeats its channel.
    format : Format
        Format of the file.
    alpha : (H, W) of the same dtype, or None
        Transparency.
    grey : bool
        Whether the file is grey.
    metadata : Metadata
        What else the file contains.
    converted : str
        How the colours were converted; empty if they were not.
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
