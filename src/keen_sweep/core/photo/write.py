"""Write a picture file: whole or not at all."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from keen_sweep.core.errors import BadPicture, LibraryTrouble
from keen_sweep.core.photo import jpeg, png, tiff
from keen_sweep.core.photo.picture import Format, Picture, Written
from keen_sweep.core.sentences import sentence

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
    """Encode a picture in a format, with all metadata that the format can hold.

    PNG and TIFF keep the pixels exactly; JPEG is 8 bit at quality 95 without chroma subsampling.

    Parameters
    ----------
    picture : Picture
        The picture.
    kind : Written
        The format.

    Returns
    -------
    bytes
        The file.

    Raises
    ------
    BadPicture
        The picture cannot be written in that format.
    """
    if kind not in FORMAT_ENCODERS:
        raise BadPicture(sentence("Pictures are written as JPEG, PNG or TIFF, not as {kind}.", kind=kind))
    return FORMAT_ENCODERS[kind](picture)


def write_whole(path: Path, data: bytes) -> None:
    """Write a file completely or not at all.

    Parameters
    ----------
    path : Path
        The file.
    data : bytes
        Its content.

    Raises
    ------
    LibraryTrouble
        The file cannot be written.
    """
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
        raise LibraryTrouble(
            sentence("{name} cannot be written: {reason}.", name=path.name, reason=error.strerror or error)
        ) from error
