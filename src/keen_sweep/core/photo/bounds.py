"""What a picture may ask for, held against its header before a pixel of it is unpacked."""

from __future__ import annotations

import os
import zlib
from pathlib import Path

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.sentences import sentence

MAX_PIXELS = 400_000_000
MAX_SIDE = 60_000
# Decompressed metadata of a file, bytes. Printer profiles have a few megabytes.
MAX_METADATA_BYTES = 64_000_000
# Copies in memory while a picture is read: the file, what the decoder returns, and the picture.
PICTURE_COPIES = 3
# Memory limit of a container (control groups version 2).
MEMORY_LIMIT_FILE = Path("/sys/fs/cgroup/memory.max")
GIGABYTE_BYTES = 1_000_000_000


def check_bounds(width: int, height: int, bytes_a_pixel: int, memory: int | None = None) -> None:
    """Check that a picture is small enough to be read on this machine.

    Parameters
    ----------
    width : int
        Width, pixels.
    height : int
        Height, pixels.
    bytes_a_pixel : int
        Bytes per pixel.
    memory : int or None, optional
        Available memory, bytes; None for that of this machine.

    Raises
    ------
    BadPicture
        The picture is too large.
    """
    if width <= 0 or height <= 0:
        raise BadPicture(sentence("The file is damaged: its header says that the picture has no pixels."))
    if width > MAX_SIDE or height > MAX_SIDE or width * height > MAX_PIXELS:
        raise BadPicture(
            sentence(
                "The picture is too large: {width} x {height} pixels. The limit is "
                "{megapixels} megapixels and {max_side:,} pixels a side.",
                width=width,
                height=height,
                megapixels=MAX_PIXELS // 1_000_000,
                max_side=MAX_SIDE,
            )
        )
    needed, available = PICTURE_COPIES * width * height * bytes_a_pixel, machine_memory() if memory is None else memory
    if needed > available:
        raise BadPicture(
            sentence(
                "There is not enough memory to read this picture. It needs {needed:.1f} GB, "
                "there are {available:.1f} GB.",
                needed=needed / GIGABYTE_BYTES,
                available=available / GIGABYTE_BYTES,
            )
        )


def machine_memory() -> int:
    """Memory that this program may use.

    Returns
    -------
    int
        Bytes.
    """
    whole = os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")
    try:
        allowed = MEMORY_LIMIT_FILE.read_text().strip()
    except OSError:
        return whole
    return min(whole, int(allowed)) if allowed.isdigit() else whole


def decompress(data: bytes) -> bytes:
    """Decompress deflate data (RFC 1950) up to the limit for metadata.

    Parameters
    ----------
    data : bytes
        The compressed data.

    Returns
    -------
    bytes
        The decompressed data.

    Raises
    ------
    BadPicture
        The data is damaged or exceeds the limit.
    """
    unpacker = zlib.decompressobj()
    try:
        out = unpacker.decompress(data, MAX_METADATA_BYTES)
    except zlib.error as error:
        raise BadPicture(sentence("The file is damaged: its colour profile cannot be unpacked.")) from error
    if unpacker.unconsumed_tail:
        raise BadPicture(METADATA_MESSAGE)
    if not unpacker.eof:
        raise BadPicture(sentence("The file is damaged: its colour profile is cut short."))
    return out


METADATA_MESSAGE = sentence(
    "The file has too much metadata. The limit is {megabytes} MB.", megabytes=MAX_METADATA_BYTES // 1_000_000
)


def check_metadata_size(size: int) -> None:
    """Check the size of a file's metadata.

    Parameters
    ----------
    size : int
        Size, bytes.

    Raises
    ------
    BadPicture
        The metadata is too large.
    """
    if size > MAX_METADATA_BYTES:
        raise BadPicture(METADATA_MESSAGE)
