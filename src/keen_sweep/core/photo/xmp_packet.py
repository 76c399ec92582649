"""The XMP packet of a picture file, without decoding its pixels."""

from __future__ import annotations

from pathlib import Path

import tifffile
from PIL import Image

XMP_TAG = 700


def packet_of(path: Path) -> bytes | None:
    """XMP packet of a picture file, without decoding its pixels.

    Parameters
    ----------
    path : Path
        The file.

    Returns
    -------
    bytes or None
        The packet; None where there is none.
    """
    try:
        with Image.open(path) as image:
            found = image.info.get("xmp") or image.info.get("XML:com.adobe.xmp")
        if found is None:
            with tifffile.TiffFile(path) as tiff:
                tag = tiff.pages[0].tags.get(XMP_TAG)  # type: ignore[union-attr]
                found = None if tag is None else tag.value
    except Exception:  # each reader has its own errors, and there are files that only their own reader knows
        return None
    return found.encode() if isinstance(found, str) else found if isinstance(found, bytes) else None
