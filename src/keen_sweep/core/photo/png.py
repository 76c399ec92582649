"""PNG (ISO/IEC 15948) in 8 and 16 bit; chunks that say something about the picture are kept."""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterable, Iterator
from functools import lru_cache
from pathlib import Path

import imagecodecs
import numpy as np
from PIL import Image, PngImagePlugin

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.bounds import MAX_METADATA_BYTES, check_metadata_size, decompress
from keen_sweep.core.photo.channels import join, split
from keen_sweep.core.photo.exif import orientation_of
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.png_encoder import packed_png
from keen_sweep.core.sentences import sentence

PNG_SIGNATURE = b"\x89PNG\r\n\x1a\n"
XMP_KEYWORD = b"XML:com.adobe.xmp"
KEPT_CHUNKS = (b"gAMA", b"cHRM", b"sRGB", b"cICP", b"tEXt", b"zTXt", b"iTXt", b"tIME")
METRES_PER_INCH = 0.0254
# The library's own limit is below what profiles of printers have.
PngImagePlugin.MAX_TEXT_CHUNK = MAX_METADATA_BYTES


def read(path: Path) -> Picture:
    """Read a PNG file of any colour type; palettes become colours, 16 bit stays 16 bit.

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
    chunks = list(_chunks(data))
    check_metadata_size(sum(len(body) for _, body in chunks))
    metadata = _metadata(chunks)
    head = dict(chunks)[b"IHDR"]
    depth, colour_type = head[8], head[9]
    if depth == 16:
        stored = np.asarray(imagecodecs.png_decode(data))
    else:
        stored = _eight_bit(path, colour_type, any(kind == b"tRNS" for kind, _ in chunks))
    pixels, alpha, grey = split(stored, metadata.orientation)
    return Picture(pixels=pixels, format="png", alpha=alpha, grey=grey, metadata=metadata)


def encode(picture: Picture) -> bytes:
    """Encode a picture as PNG in its own bit depth.

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
    return _with_chunks(packed_png(stored), _kept_chunks(meta))


def encode_for_display(pixels: EightBit, icc: bytes | None) -> bytes:
    """Encode pixels as an uncompressed PNG for display: 2 ms instead of 40 for a tile.

    Parameters
    ----------
    pixels : (H, W, 3) uint8
        The pixels.
    icc : bytes or None
        Their profile; None for sRGB.

    Returns
    -------
    bytes
        The file.
    """
    data = bytes(imagecodecs.spng_encode(np.ascontiguousarray(pixels), level=0))
    return _with_chunks(data, [_profile_chunk(icc)]) if icc else data


def _with_chunks(data: bytes, chunks: Iterable[tuple[bytes, bytes]]) -> bytes:
    body_at = len(PNG_SIGNATURE) + 25  # after the header chunk
    return data[:body_at] + b"".join(_chunk(kind, body) for kind, body in chunks) + data[body_at:]


@lru_cache(maxsize=4)
def _profile_chunk(icc: bytes) -> tuple[bytes, bytes]:
    return b"iCCP", b"profile\0\0" + zlib.compress(icc)


def _eight_bit(path: Path, colour_type: int, transparent: bool) -> np.ndarray:
    with Image.open(path, formats=["PNG"]) as image:
        wanted = {0: "L", 2: "RGB", 3: "RGB", 4: "LA", 6: "RGBA"}[colour_type]
        if transparent:
            wanted = {"L": "LA", "RGB": "RGBA"}.get(wanted, wanted)
        return np.asarray(image if image.mode == wanted else image.convert(wanted))


def _metadata(chunks: list[tuple[bytes, bytes]]) -> Metadata:
    icc = exif = xmp = None
    resolution = None
    kept: list[tuple[bytes, bytes]] = []
    for kind, body in chunks:
        if kind == b"iCCP":
            icc = decompress(body.split(b"\0", 1)[1][1:])
        elif kind == b"eXIf":
            exif = body
        elif kind == b"pHYs" and body[8] == 1:
            across, down = struct.unpack(">II", body[:8])
            resolution = (across * METRES_PER_INCH, down * METRES_PER_INCH)
        elif kind == b"iTXt" and body.startswith(XMP_KEYWORD + b"\0\0"):
            xmp = body.split(b"\0", 5)[-1] if body.count(b"\0") >= 5 else None
        elif kind in KEPT_CHUNKS:
            kept.append((kind, body))
    return Metadata(
        orientation=orientation_of(exif),
        icc=icc,
        exif=exif,
        xmp=xmp,
        resolution=resolution,
        png_chunks=tuple(kept),
    )


def _kept_chunks(meta: Metadata) -> Iterator[tuple[bytes, bytes]]:
    if meta.icc:
        yield _profile_chunk(meta.icc)
    # sRGB and iCCP exclude each other in the standard.
    yield from ((kind, body) for kind, body in meta.png_chunks if not (meta.icc and kind == b"sRGB"))
    if meta.exif:
        yield b"eXIf", meta.exif
    if meta.xmp:
        yield b"iTXt", XMP_KEYWORD + b"\0\0\0\0\0" + meta.xmp
    if meta.resolution:
        across, down = (round(v / METRES_PER_INCH) for v in meta.resolution)
        yield b"pHYs", struct.pack(">IIB", across, down, 1)


def _chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def _chunks(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = len(PNG_SIGNATURE)
    while at + 12 <= len(data):
        (length,) = struct.unpack(">I", data[at : at + 4])
        kind = data[at + 4 : at + 8]
        if kind == b"IEND":
            return
        if at + 12 + length > len(data):
            break
        yield kind, b"" if kind == b"IDAT" else data[at + 8 : at + 8 + length]
        at += 12 + length
    raise BadPicture(sentence("The PNG file is damaged or cut short."))
