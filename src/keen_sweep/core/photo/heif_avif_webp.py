"""WebP, AVIF and HEIF: read as exactly as they are packed, with Exif, XMP and profile kept."""

from __future__ import annotations

from pathlib import Path

import imagecodecs
import numpy as np
import pillow_heif
from PIL import Image

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.photo.channels import split
from keen_sweep.core.photo.exif import orientation_of, with_upright_orientation
from keen_sweep.core.photo.picture import Metadata, Picture

EXIF_PREFIX = b"Exif\x00\x00"


def read_webp(path: Path) -> Picture:
    """Read the first picture of a WebP file (RFC 9649), 8 bit.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    Picture
        The picture.

    Raises
    ------
    BadPicture
        The file cannot be read.
    """
    with Image.open(path, formats=["WEBP"]) as image:
        stored = np.asarray(image if image.mode in ("RGB", "RGBA") else image.convert("RGBA"))
        metadata = _metadata(image.info)
    return _picture(stored, metadata, "webp")


def read_avif(path: Path) -> Picture:
    """Read an AVIF file (AV1 Image File Format 1.1): 8 bit, or 16 from 10 or 12.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    Picture
        The picture.

    Raises
    ------
    BadPicture
        The file cannot be read.
    """
    data = path.read_bytes()
    with Image.open(path, formats=["AVIF"]) as image:
        metadata = _metadata(image.info)
    stored = np.asarray(imagecodecs.avif_decode(data))
    return _picture(_full_range(stored, _bits(data)), metadata, "avif")


def read_heif(path: Path) -> Picture:
    """Read the main picture of a HEIF file (ISO/IEC 23008-12): 8 bit, or 16 from 10 or 12; the decoder turns
    it upright.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    Picture
        The picture.

    Raises
    ------
    BadPicture
        The file cannot be read.
    """
    file = pillow_heif.open_heif(path, convert_hdr_to_8bit=False, hdr_to_16bit=True)
    stored = np.asarray(file)
    found = _metadata(file.info)
    exif = with_upright_orientation(found.exif) if found.exif else None
    return _picture(stored, Metadata(icc=found.icc, exif=exif, xmp=found.xmp), "heif")


def _picture(stored: np.ndarray, metadata: Metadata, kind: str) -> Picture:
    pixels, alpha, grey = split(stored, metadata.orientation)
    assert kind in ("webp", "avif", "heif")
    return Picture(pixels=pixels, format=kind, alpha=alpha, grey=grey, metadata=metadata)  # type: ignore[arg-type]


def _metadata(info: dict[str | tuple[int, int], object]) -> Metadata:
    exif, xmp, icc = (info.get(name) for name in ("exif", "xmp", "icc_profile"))
    exif = exif.removeprefix(EXIF_PREFIX) if isinstance(exif, bytes) and exif else None
    return Metadata(
        orientation=orientation_of(exif),
        icc=icc if isinstance(icc, bytes) and icc else None,
        exif=exif,
        xmp=xmp if isinstance(xmp, bytes) and xmp else None,
    )


def _bits(data: bytes) -> int:
    """Bits a channel: the property "pixi" says so (ISO/IEC 23008-12, 6.5.6)."""
    at = data.find(b"pixi")
    return data[at + 9] if 0 <= at < len(data) - 9 else 8


def _full_range(stored: np.ndarray, bits: int) -> Pixels:
    if stored.dtype == np.uint8:
        return stored
    most = (1 << bits) - 1
    return np.asarray((stored.astype(np.uint32) * 65535 + most // 2) // most, np.uint16)
