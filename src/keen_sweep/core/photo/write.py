"""Write a picture file: whole or not at all."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from keen_sweep.core.errors import BadPicture, LibraryTrouble
from keen_sweep.core.photo import jpeg, png, tiff
from keen_sweep.core.photo.picture import Format, Picture, Written

# Prefix of the name of a file that is being written.
PARTIAL_PREFIX = ".part-"
FORMAT_ENCODERS: dict[Written, Callable[[Picture], bytes]] = {
    "jpeg": jpeg.encode,
    "png": png.encode,
    "tiff": tiff.encode,
}
# Format written for each original unless another is requested: one that loses nothing.
DEFAULT_FORMATS: dict[Format, Written] = {
    "jpeg": "jpeg",
    "png": "png",
    "tiff": "tiff",
    "webp": "png",
    "avif": "tiff",
    "heif": "tiff",
    "raw": "tiff",
}
FORMAT_SUFFIXES: dict[Written, str] = {"jpeg": ".jpg", "png": ".png", "tiff": ".tif"}


def encode_picture(picture: Picture, kind: Written) -> bytes:
    """The bytes of a file of the given format, with everything the picture carries that the format can hold.

    PNG and TIFF keep the pixels to the bit; JPEG is 8 bit at quality 95 without colour subsampling.
    """
    if kind not in FORMAT_ENCODERS:
        raise BadPicture(f"Pictures are written as JPEG, PNG or TIFF, not as {kind}.")
    return FORMAT_ENCODERS[kind](picture)


def write_whole(path: Path, data: bytes) -> None:
    """Write bytes so that the file is there whole or not at all. Raises LibraryTrouble when it cannot be."""
    name = None
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, prefix=PARTIAL_PREFIX, delete=False) as file:
            name = file.name
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(name, 0o644)
        os.replace(name, path)
    except OSError as error:
        if name:
            Path(name).unlink(missing_ok=True)
        raise LibraryTrouble(f"{path.name} cannot be written: {error.strerror or error}.") from error
