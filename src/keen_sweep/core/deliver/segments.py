"""The segments of a JPEG file (ITU-T T.81, annex B): what it says besides its pixels."""

from __future__ import annotations

import struct
from collections.abc import Iterator

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.sentences import sentence

# JPEG markers (ITU-T T.81, table B.1).
START_MARKER = 0xD8
SCAN_MARKER = 0xDA
COMMENT_MARKER = 0xFE
APP0_MARKER = 0xE0
APP1_MARKER = 0xE1
APP2_MARKER = 0xE2
APP15_MARKER = 0xEF
XMP_PREFIX = b"http://ns.adobe.com/xap/1.0/\0"
EXTENDED_XMP_PREFIX = b"http://ns.adobe.com/xmp/extension/\0"
MULTI_PICTURE_PREFIX = b"MPF\0"
MAX_SEGMENT_BYTES = 65_533


def segments(data: bytes) -> Iterator[tuple[int, bytes]]:
    """Iterate over the segments of a JPEG file.

    Parameters
    ----------
    data : bytes
        The file.

    Yields
    ------
    iterator of tuple of (int, bytes)
        Marker and body of each segment before the first scan; then the scan's marker with the rest of the
        file.

    Raises
    ------
    BadPicture
        The file is damaged.
    """
    at = 2
    while at + 4 <= len(data):
        if data[at] != 0xFF:
            break
        if data[at + 1] == 0xFF:  # a fill byte
            at += 1
            continue
        marker, (length,) = data[at + 1], struct.unpack(">H", data[at + 2 : at + 4])
        if marker == SCAN_MARKER:
            yield marker, data[at:]
            return
        yield marker, data[at + 4 : at + 2 + length]
        at += 2 + length
    raise BadPicture(sentence("The JPEG file is damaged or cut short."))


def segment(marker: int, body: bytes) -> bytes:
    """Encode one segment.

    Parameters
    ----------
    marker : int
        Its marker.
    body : bytes
        Its body.

    Returns
    -------
    bytes
        The bytes.
    """
    return struct.pack(">BBH", 0xFF, marker, len(body) + 2) + body


def with_segments_of(original: bytes, coded: bytes, xmp: bytes | None = None) -> bytes:
    """Give a JPEG file the metadata segments of another.

    Parameters
    ----------
    original : bytes
        The file with the metadata.
    coded : bytes
        The file with the pixels.
    xmp : bytes or None, optional
        Replaces the original's XMP packet; None keeps it.

    Returns
    -------
    bytes
        The combined file.
    """
    out = [b"\xff\xd8"]
    said = [(marker, body) for marker, body in segments(original) if _says(marker)]
    if xmp is not None:
        said = [
            (marker, body)
            for marker, body in said
            if not (marker == APP1_MARKER and body.startswith((XMP_PREFIX, EXTENDED_XMP_PREFIX)))
        ]
        # Exif wants to be first, and JFIF before all.
        at = sum(1 for marker, body in said if marker == APP0_MARKER or body.startswith(b"Exif\0"))
        said.insert(at, (APP1_MARKER, XMP_PREFIX + xmp))
    # Further pictures behind the first are told of by their places in the file, which are others now.
    out += [
        segment(marker, body)
        for marker, body in said
        if not (marker == APP2_MARKER and body.startswith(MULTI_PICTURE_PREFIX))
    ]
    for marker, body in segments(coded):
        if marker == SCAN_MARKER:
            out.append(body)
        elif not _says(marker):
            out.append(segment(marker, body))
    return b"".join(out)


def _says(marker: int) -> bool:
    return APP0_MARKER <= marker <= APP15_MARKER or marker == COMMENT_MARKER
