"""TIFF 6.0 in 8 and 16 bit, with profile, Exif, XMP and IPTC kept."""

from __future__ import annotations

import io
import os
import struct
from pathlib import Path

import numpy as np
import tifffile

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo import exif as exif_block
from keen_sweep.core.photo.channels import join, split
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.profiles import CMYK_CONVERSION, LAB_CONVERSION, cmyk_to_srgb, lab_to_romm, srgb, wide_gamut
from keen_sweep.core.sentences import sentence

XMP_TAG = 700
IPTC_TAG = 33723
IMAGE_RESOURCES_TAG = 34377
ICC_TAG = 34675
LONG_TYPE = 4
MAX_CLASSIC_BYTES = 3_900_000_000
# Higher levels take up to half as long again and make photographs no smaller.
COMPRESSION_PARAMETERS = {"level": 1}
INK_PHOTOMETRIC = tifffile.PHOTOMETRIC.SEPARATED
LAB_PHOTOMETRIC = tifffile.PHOTOMETRIC.CIELAB
READABLE_PHOTOMETRICS = {
    tifffile.PHOTOMETRIC.MINISBLACK,
    tifffile.PHOTOMETRIC.RGB,
    tifffile.PHOTOMETRIC.YCBCR,
    INK_PHOTOMETRIC,
    LAB_PHOTOMETRIC,
}


def read(path: Path) -> Picture:
    """Read the first page of a TIFF file: grey or RGB, 8 or 16 bit, with or without transparency; CMYK and
    L*a*b* are converted.

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
    with tifffile.TiffFile(path) as tiff:
        page = tiff.pages[0]
        assert isinstance(page, tifffile.TiffPage)
        if page.photometric not in READABLE_PHOTOMETRICS:
            kind = tifffile.PHOTOMETRIC(page.photometric).name.lower()
            raise BadPicture(sentence("A TIFF of the kind {kind} is not supported: save it as RGB.", kind=kind))
        size = path.stat().st_size
        for offset, count in zip(page.dataoffsets, page.databytecounts, strict=False):
            if offset + count > size:
                raise BadPicture(sentence("The TIFF file is cut short: some of its pixels are missing."))
        stored = page.asarray()
        if page.planarconfig == tifffile.PLANARCONFIG.SEPARATE and stored.ndim == 3:
            stored = np.moveaxis(stored, 0, -1)
        tags = {
            tag.code: tag.value
            for tag in page.tags.values()
            if tag.code in (XMP_TAG, IPTC_TAG, IMAGE_RESOURCES_TAG, ICC_TAG)
        }
        resolution = _resolution(page)
    exif, orientation = exif_block.from_tiff(path)
    icc, converted = _bytes(tags.get(ICC_TAG)), ""
    if page.photometric == INK_PHOTOMETRIC:
        stored, icc, converted = cmyk_to_srgb(stored[..., :4], icc), srgb(), CMYK_CONVERSION
    elif page.photometric == LAB_PHOTOMETRIC:
        stored, icc, converted = lab_to_romm(stored[..., :3]), wide_gamut(), LAB_CONVERSION
    pixels, alpha, grey = split(stored, orientation)
    metadata = Metadata(
        orientation=orientation,
        icc=icc,
        exif=exif,
        xmp=_bytes(tags.get(XMP_TAG)),
        resolution=resolution,
        tiff_iptc=tuple((code, _bytes(tags[code]) or b"") for code in (IPTC_TAG, IMAGE_RESOURCES_TAG) if code in tags),
    )
    return Picture(pixels=pixels, format="tiff", alpha=alpha, grey=grey, metadata=metadata, converted=converted)


def encode(picture: Picture) -> bytes:
    """Encode a picture as TIFF in its own bit depth, losslessly compressed (deflate with predictor).

    Parameters
    ----------
    picture : Picture
        The picture.

    Returns
    -------
    bytes
        The file.
    """
    meta = picture.metadata
    stored = join(picture.pixels, picture.alpha, picture.grey, meta.orientation)
    extra: list[tuple[int, int | str, int, object, bool]] = []
    big = stored.nbytes > MAX_CLASSIC_BYTES
    # Beyond 4 GB directories have another layout, which nothing here writes: such files go without them.
    wanted = () if big or not meta.exif else (exif_block.EXIF_IFD_TAG, exif_block.GPS_IFD_TAG)
    directories = [d for d in wanted if meta.exif and _has(meta.exif, d)]
    if meta.orientation != 1:
        extra.append((exif_block.ORIENTATION_TAG, "H", 1, meta.orientation, True))
    if meta.exif:
        for tag, value in exif_block.describing_tags(meta.exif).items():
            extra.append((tag, "s", 0, str(value), True))
    if meta.xmp:
        extra.append((XMP_TAG, "B", len(meta.xmp), meta.xmp, True))
    for code, body in meta.tiff_iptc:
        extra.append((code, "B", len(body), body, True))
    for directory in directories:
        extra.append((directory - 1, "I", 1, 0, True))
    buffer = io.BytesIO()
    with tifffile.TiffWriter(buffer, byteorder="<", bigtiff=big) as writer:
        writer.write(
            stored,
            photometric="minisblack" if picture.grey else "rgb",
            extrasamples=["unassalpha"] if picture.alpha is not None else None,
            compression="zlib",
            compressionargs=COMPRESSION_PARAMETERS,
            predictor=True,
            rowsperstrip=max(1, 1_048_576 // max(1, stored.strides[0])),
            maxworkers=os.cpu_count(),
            resolution=meta.resolution,
            resolutionunit="INCH" if meta.resolution else None,
            iccprofile=meta.icc,
            metadata=None,
            software=False,
            extratags=extra,
        )
    if meta.exif and directories:
        _append_directories(buffer, meta.exif, directories)
    return buffer.getvalue()


def _append_directories(buffer: io.BytesIO, exif: bytes, directories: list[int]) -> None:
    """Put sub-directories behind the file and point tags at them.

    The library refuses to write these tags; entries numbered one less stand in for them and are renamed.
    """
    for directory in directories:
        end = buffer.seek(0, io.SEEK_END)
        offset = end + end % 2
        body = exif_block.directory_bytes(exif, directory, offset)
        assert body is not None
        buffer.write(b"\0" * (offset - end) + body)
        buffer.seek(0)
        with tifffile.TiffFile(buffer) as tiff:
            entry_at = tiff.pages[0].tags[directory - 1].offset  # type: ignore[union-attr]
        buffer.seek(entry_at)
        buffer.write(struct.pack("<HHII", directory, LONG_TYPE, 1, offset))


def _has(exif: bytes, directory: int) -> bool:
    return exif_block.directory_bytes(exif, directory, 0) is not None


def _bytes(value: object) -> bytes | None:
    if value is None or isinstance(value, bytes):
        return value
    if isinstance(value, str):
        return value.encode()
    return np.asarray(value, dtype=np.uint8).tobytes()


def _resolution(page: tifffile.TiffPage) -> tuple[float, float] | None:
    if "XResolution" not in page.tags or "YResolution" not in page.tags:
        return None
    unit = int(page.tags["ResolutionUnit"].value) if "ResolutionUnit" in page.tags else 2
    scale = {2: 1.0, 3: 2.54}.get(unit)
    if scale is None:
        return None
    across, down = page.tags["XResolution"].value, page.tags["YResolution"].value
    if not across[1] or not down[1]:
        return None
    return across[0] / across[1] * scale, down[0] / down[1] * scale
