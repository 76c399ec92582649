"""Write a picture file: whole or not at all."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from keen_sweep.core.errors import BadPicture, LibraryTrouble
from keen_sweep.core.photo import jpeg, png, tiff
from keen_sweep.core.photo.picture import Format, Picture, Written

# How the name of a file begins that is being written.
PART = ".part-"
ENCODERS: dict[Written, Callable[[Picture], bytes]] = {"jpeg": jpeg.encode, "png": png.encode, "tiff": tiff.encode}
# What is written for an original of each format if nothing else is asked for: never less than it holds.
LIKE: dict[Format, Written] = {
    "jpeg": "jpeg",
    "png": "png",
    "tiff": "tiff",
    "webp": "png",
    "avif": "tiff",
    "heif": "tiff",
    "raw": "tiff",
}
SUFFIXES: dict[Written, str] = {"jpeg": ".jpg", "png": ".png", "tiff": ".tif"}


def encode_picture(picture: Picture, kind: Written) -> bytes:
    """The bytes of a file of the given format, with everything the picture carries that the format can hold.

    PNG and TIFF keep the pixels to the bit; JPEG is 8 bit at quality 95 without colour subsampling.
    """
    if kind not in ENCODERS:
        raise BadPicture(f"Pictures are written as JPEG, PNG or TIFF, not as {kind}.")
    return ENCODERS[kind](picture)


def write_whole(path: Path, data: bytes) -> None:
    """Write bytes so that the file is there whole or not at all. Raises LibraryTrouble when it cannot be."""
    name = None
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, prefix=PART, delete=False) as file:
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
