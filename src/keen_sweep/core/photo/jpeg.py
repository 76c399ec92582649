"""JPEG (ITU-T T.81) with Exif, XMP, profile and application segments kept."""

from __future__ import annotations

import io
import struct
from pathlib import Path

import numpy as np
from PIL import Image, ImageFile

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.channels import join, split, to_eight_bit
from keen_sweep.core.photo.exif import orientation_of
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.profiles import CMYK_CONVERSION, cmyk_to_srgb, srgb
from keen_sweep.core.sentences import sentence

EXIF_PREFIX = b"Exif\x00\x00"
SEGMENT_LIMIT = 65_533


def read(path: Path) -> Picture:
    """Read a JPEG file: 8 bit, grey or colour; CMYK is converted to sRGB by its profile.

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
        The file cannot be read, or is CMYK without a profile.
    """
    with Image.open(path, formats=["JPEG"]) as image:
        if image.mode not in ("L", "RGB", "CMYK"):
            raise BadPicture(sentence("The colour model of this JPEG is not supported."))
        stored = np.asarray(image)
        info = image.info
        inks = image.mode == "CMYK"
        app13 = getattr(image, "app", {}).get("APP13")
    exif = info.get("exif")
    exif = exif.removeprefix(EXIF_PREFIX) if exif else None
    orientation = orientation_of(exif)
    icc = info.get("icc_profile")
    if inks:
        stored, icc = cmyk_to_srgb(stored, icc), srgb()
    pixels, _, grey = split(stored, orientation)
    metadata = Metadata(
        orientation=orientation,
        icc=icc,
        exif=exif,
        xmp=info.get("xmp"),
        resolution=_resolution(info.get("dpi")),
        jpeg_app13=app13 if isinstance(app13, bytes) else None,
    )
    converted = CMYK_CONVERSION if inks else ""
    return Picture(pixels=pixels, format="jpeg", grey=grey, metadata=metadata, converted=converted)


def encode(picture: Picture, quality: int = 95) -> bytes:
    """Encode a picture as JPEG: 8 bit, without chroma subsampling and transparency.

    Parameters
    ----------
    picture : Picture
        The picture.
    quality : int, optional
        Quality, 1 to 100.

    Returns
    -------
    bytes
        The file.
    """
    meta = picture.metadata
    stored = to_eight_bit(join(picture.pixels, None, picture.grey, meta.orientation))
    options: dict[str, object] = {"quality": quality, "subsampling": 0, "optimize": True}
    if meta.icc:
        options["icc_profile"] = meta.icc
    if meta.exif and len(meta.exif) + len(EXIF_PREFIX) <= SEGMENT_LIMIT:
        options["exif"] = EXIF_PREFIX + meta.exif
    if meta.xmp and len(meta.xmp) + 29 <= SEGMENT_LIMIT:
        options["xmp"] = meta.xmp
    if meta.resolution:
        options["dpi"] = tuple(round(v) for v in meta.resolution)
    if meta.jpeg_app13 and len(meta.jpeg_app13) + 2 <= SEGMENT_LIMIT:
        options["extra"] = b"\xff\xed" + struct.pack(">H", len(meta.jpeg_app13) + 2) + meta.jpeg_app13
    buffer = io.BytesIO()
    # One pass over a large picture needs a buffer of about its size (a limit of the encoder's).
    size, ImageFile.MAXBLOCK = ImageFile.MAXBLOCK, max(ImageFile.MAXBLOCK, stored.size)
    try:
        Image.fromarray(stored).save(buffer, "JPEG", **options)
    finally:
        ImageFile.MAXBLOCK = size
    return buffer.getvalue()


def _resolution(dpi: tuple[float, float] | None) -> tuple[float, float] | None:
    return (float(dpi[0]), float(dpi[1])) if dpi and dpi[0] > 0 and dpi[1] > 0 else None
