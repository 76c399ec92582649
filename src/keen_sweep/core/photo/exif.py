"""Exif as a TIFF structure: reading the orientation, and moving tags between a TIFF file and the others."""

from __future__ import annotations

import io
from pathlib import Path
from typing import BinaryIO

from PIL import Image
from PIL.TiffImagePlugin import ImageFileDirectory_v2

ORIENTATION_TAG = 274
EXIF_IFD_TAG = 34665
GPS_IFD_TAG = 34853
BIGTIFF_MAGIC = (b"+\x00", b"\x00+")
# Tags of the first directory that describe the picture, not how its pixels are stored.
DESCRIPTIVE_TAGS = (270, 271, 272, 305, 306, 315, 33432, ORIENTATION_TAG)


def orientation_of(exif: bytes | None) -> int:
    """Orientation in an Exif block.

    Parameters
    ----------
    exif : bytes or None
        The block.

    Returns
    -------
    int
        1 to 8; 1 where the block has none or an invalid one.
    """
    if not exif:
        return 1
    try:
        block = Image.Exif()
        block.load(exif)
        value = block.get(ORIENTATION_TAG, 1)
    except Exception:  # a damaged block is kept as it is and simply not believed
        return 1
    return value if isinstance(value, int) and 1 <= value <= 8 else 1


def with_upright_orientation(exif: bytes) -> bytes:
    """Set the orientation in an Exif block to upright.

    Parameters
    ----------
    exif : bytes
        The block.

    Returns
    -------
    bytes
        The changed block; unchanged if it cannot be read.
    """
    if orientation_of(exif) == 1:
        return exif
    block = _load(exif)
    block[ORIENTATION_TAG] = 1
    return block.tobytes().removeprefix(b"Exif\x00\x00")


def from_tiff(path: Path) -> tuple[bytes | None, int]:
    """Descriptive tags of a TIFF file as an Exif block.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    tuple of (bytes or None, int)
        The block, None if there is none, and the orientation.
    """
    with path.open("rb") as file:
        head = file.read(16)
        file.seek(0)
        if head[2:4] in BIGTIFF_MAGIC:
            return None, _big_orientation(file, head)
        source = Image.Exif()
        source.load_from_fp(file)
        kept = Image.Exif()
        for tag in DESCRIPTIVE_TAGS:
            if tag in source:
                kept[tag] = source[tag]
        for directory in (EXIF_IFD_TAG, GPS_IFD_TAG):
            values = source.get_ifd(directory)
            if values:
                kept.get_ifd(directory).update(values)
                kept[directory] = dict(values)
        orientation = source.get(ORIENTATION_TAG, 1)
    if not isinstance(orientation, int) or not 1 <= orientation <= 8:
        orientation = 1
    return (kept.tobytes().removeprefix(b"Exif\x00\x00") if len(kept) else None), orientation


def _big_orientation(file: BinaryIO, head: bytes) -> int:
    """The orientation of a TIFF with 64-bit offsets, whose other tags the Exif reader cannot take."""
    directory = ImageFileDirectory_v2(ifh=head)
    file.seek(directory.next)
    directory.load(file)
    value = directory.get(ORIENTATION_TAG, 1)
    return value if isinstance(value, int) and 1 <= value <= 8 else 1


def describing_tags(exif: bytes) -> dict[int, object]:
    """Descriptive tags of an Exif block, without the orientation.

    Parameters
    ----------
    exif : bytes
        The block.

    Returns
    -------
    dict of int to object
        Values by tag.
    """
    block = _load(exif)
    return {tag: block[tag] for tag in DESCRIPTIVE_TAGS if tag in block and tag != ORIENTATION_TAG}


def directory_bytes(exif: bytes, directory: int, offset: int) -> bytes | None:
    """A sub-directory of an Exif block, little-endian, for a given file offset.

    Parameters
    ----------
    exif : bytes
        The block.
    directory : int
        EXIF_IFD_TAG or GPS_IFD_TAG.
    offset : int
        Offset at which it will be stored, bytes.

    Returns
    -------
    bytes or None
        The directory; None if there is none.
    """
    values = _load(exif).get_ifd(directory)
    if not values:
        return None
    laid = ImageFileDirectory_v2(ifh=b"II*\x00\x00\x00\x00\x00")
    for tag, value in values.items():
        if not isinstance(value, dict):  # the interoperability directory points elsewhere
            laid[tag] = value
    return laid.tobytes(offset)


def _load(exif: bytes) -> Image.Exif:
    block = Image.Exif()
    block.load_from_fp(io.BytesIO(exif))
    return block
