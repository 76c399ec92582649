"""What a file is, by its content; its size by its header, before any pixel is decoded."""

from __future__ import annotations

import struct
from collections.abc import Callable
from pathlib import Path

import pillow_heif
import tifffile
from PIL import Image

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo import raw
from keen_sweep.core.photo.bounds import check_bounds
from keen_sweep.core.photo.picture import Format
from keen_sweep.core.sentences import sentence

# Our own limit is checked on the header, with a message that names it; the library's would come first.
Image.MAX_IMAGE_PIXELS = None
FILE_SIGNATURES: tuple[tuple[bytes, Format], ...] = (
    (b"\xff\xd8\xff", "jpeg"),
    (b"\x89PNG\r\n\x1a\n", "png"),
    (b"II*\x00", "tiff"),
    (b"MM\x00*", "tiff"),
    (b"II+\x00", "tiff"),
    (b"MM\x00+", "tiff"),
)
# Container families, told apart by a further tag.
RIFF_TAG = b"RIFF"
WEBP_TAG = b"WEBP"
BRAND_TAG = b"ftyp"
AVIF_BRANDS = (b"avif", b"avis")
HEIF_BRANDS = (b"heic", b"heix", b"heim", b"heis", b"hevc", b"mif1", b"msf1")
# A TIFF with this tag has sensor data (DNG 1.7).
DNG_VERSION_TAG = 50706
# So has one with these photometric interpretations (TIFF/EP, ISO 12234-2).
FILTER_ARRAY_PHOTOMETRIC = 32803
LINEAR_RAW_PHOTOMETRIC = 34892


def sniff(path: Path) -> Format:
    """Format of a picture file, from its first bytes.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    Format
        The format.

    Raises
    ------
    BadPicture
        The file is unreadable, empty or of an unknown format.
    """
    try:
        with path.open("rb") as file:
            head = file.read(16)
    except OSError as error:
        raise BadPicture(sentence("The file cannot be read: {reason}.", reason=error.strerror or error)) from error
    if not head:
        raise BadPicture(sentence("The file is empty."))
    kind = _by_signature(head)
    if kind == "tiff" and _of_a_sensor(path):
        return "raw"
    if kind is not None:
        return kind
    if raw.is_raw(path):
        return "raw"
    raise BadPicture(
        sentence("This file type is not supported: the content is not JPEG, PNG, TIFF, WebP, AVIF, HEIF or raw.")
    )


def _by_signature(head: bytes) -> Format | None:
    for signature, kind in FILE_SIGNATURES:
        if head.startswith(signature):
            return kind
    if head.startswith(RIFF_TAG) and head[8:12] == WEBP_TAG:
        return "webp"
    if head[4:8] == BRAND_TAG and head[8:12] in AVIF_BRANDS:
        return "avif"
    return "heif" if head[4:8] == BRAND_TAG and head[8:12] in HEIF_BRANDS else None


def _of_a_sensor(path: Path) -> bool:
    """Whether a TIFF is a raw file: it says so itself, or one of its pictures is what a sensor saw."""
    try:
        with tifffile.TiffFile(path) as tiff:
            first = tiff.pages[0]
            pages = [first, *(getattr(first, "pages", None) or ())]
            return DNG_VERSION_TAG in first.tags or any(  # type: ignore[union-attr]
                int(getattr(page, "photometric", 0) or 0) in (FILTER_ARRAY_PHOTOMETRIC, LINEAR_RAW_PHOTOMETRIC)
                for page in pages
            )
    except Exception:  # a damaged one is found out when it is read
        return False


def header_size(path: Path, kind: Format) -> tuple[int, int]:
    """Stored size of a picture, from its header alone.

    Parameters
    ----------
    path : Path
        The file.
    kind : Format
        Its format.

    Returns
    -------
    tuple of 2 int
        Width and height, pixels.

    Raises
    ------
    BadPicture
        The header is damaged or the picture too large.
    """
    try:
        width, height, bytes_a_pixel = SIZE_READERS.get(kind, _decoded_size)(path)
    except BadPicture:
        raise
    except Exception as error:  # every decoder has its own errors for a damaged header
        raise BadPicture(sentence("The file is damaged: its header cannot be read.")) from error
    check_bounds(width, height, bytes_a_pixel)
    return width, height


def _png_size(path: Path) -> tuple[int, int, int]:
    with path.open("rb") as file:
        head = file.read(26)
    width, height, depth = struct.unpack(">IIB", head[16:25])
    return width, height, 4 * (2 if depth > 8 else 1)


def _tiff_size(path: Path) -> tuple[int, int, int]:
    with tifffile.TiffFile(path) as tiff:
        page = tiff.pages[0]
        assert isinstance(page, tifffile.TiffPage)
        # Of a page that is a volume every slice is unpacked.
        samples = int(page.samplesperpixel) * int(page.imagedepth)
        return int(page.imagewidth), int(page.imagelength), samples * -(-int(page.bitspersample) // 8)


def _raw_size(path: Path) -> tuple[int, int, int]:
    return *raw.size(path), 6


def _heif_size(path: Path) -> tuple[int, int, int]:
    width, height = pillow_heif.open_heif(path).size
    return int(width), int(height), 8


def _decoded_size(path: Path) -> tuple[int, int, int]:
    with Image.open(path, formats=["JPEG", "WEBP", "AVIF"]) as image:
        return *image.size, 4 * (2 if image.format == "AVIF" else 1)


SIZE_READERS: dict[Format, Callable[[Path], tuple[int, int, int]]] = {
    "png": _png_size,
    "tiff": _tiff_size,
    "raw": _raw_size,
    "heif": _heif_size,
}
