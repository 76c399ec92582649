"""Camera raw, developed neutrally by LibRaw (by way of rawpy): camera white balance, 16 bit, ROMM RGB."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import rawpy
from PIL import Image

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo import exif as exif_block
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.profiles import ROMM_POWER, wide_gamut
from keen_sweep.core.sentences import sentence

EXIF_PREFIX = b"Exif\x00\x00"
DEVELOPMENT_NOTE = sentence("developed neutrally")
UNKNOWN_CAMERA_MESSAGE = sentence("Raw files of this camera are not supported: develop it to a TIFF first.")


def is_raw(path: Path) -> bool:
    """Whether LibRaw recognises a file, by its content.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    bool
        Whether it is a raw file.
    """
    try:
        with rawpy.imread(str(path)):
            return True
    except (rawpy.LibRawError, OSError):
        return False


def size(path: Path) -> tuple[int, int]:
    """Size of a raw file when developed, before it is turned upright.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    tuple of 2 int
        Width and height, pixels.

    Raises
    ------
    BadPicture
        LibRaw does not support the camera.
    """
    try:
        with rawpy.imread(str(path)) as raw:
            return int(raw.sizes.width), int(raw.sizes.height)
    except rawpy.LibRawFileUnsupportedError as error:
        raise BadPicture(UNKNOWN_CAMERA_MESSAGE) from error


def read(path: Path) -> Picture:
    """Develop a raw file.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    Picture
        The upright picture.

    Raises
    ------
    BadPicture
        LibRaw does not support the camera, or the file is damaged.
    """
    try:
        with rawpy.imread(str(path)) as raw:
            pixels = raw.postprocess(
                use_camera_wb=True,
                no_auto_bright=True,
                output_bps=16,
                output_color=rawpy.ColorSpace.ProPhoto,
                gamma=(ROMM_POWER, 0),
            )
            exif = _exif(path, raw)
    except rawpy.LibRawFileUnsupportedError as error:
        raise BadPicture(UNKNOWN_CAMERA_MESSAGE) from error
    except rawpy.LibRawError as error:
        raise BadPicture(sentence("The raw file is damaged or cut short.")) from error
    metadata = Metadata(icc=wide_gamut(), exif=exif)
    return Picture(pixels=np.ascontiguousarray(pixels), format="raw", metadata=metadata, converted=DEVELOPMENT_NOTE)


def _exif(path: Path, raw: rawpy.RawPy) -> bytes | None:
    """What the camera says of the picture: of the file itself, if it is laid out as a TIFF, or of its small picture."""
    try:
        found, _ = exif_block.from_tiff(path)
    except Exception:  # most makers lay their files out in ways of their own
        found = None
    if found is None:
        found = _exif_of_small(raw)
    return exif_block.with_upright_orientation(found) if found else None


def _exif_of_small(raw: rawpy.RawPy) -> bytes | None:
    try:
        small = raw.extract_thumb()
    except rawpy.LibRawError:
        return None
    if small.format != rawpy.ThumbFormat.JPEG:
        return None
    with Image.open(io.BytesIO(bytes(small.data))) as image:
        exif: bytes | None = image.info.get("exif")
    return exif.removeprefix(EXIF_PREFIX) if exif else None
