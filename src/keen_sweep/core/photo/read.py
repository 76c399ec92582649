"""Read a picture file whole, in 8 or 16 bit, with profile, orientation and metadata."""

from __future__ import annotations

from pathlib import Path

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo import heif_avif_webp, jpeg, png, raw, tiff
from keen_sweep.core.photo.bounds import check_metadata_size
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.sniff import header_size, sniff
from keen_sweep.core.sentences import sentence

FORMAT_READERS = {
    "jpeg": jpeg.read,
    "png": png.read,
    "tiff": tiff.read,
    "webp": heif_avif_webp.read_webp,
    "avif": heif_avif_webp.read_avif,
    "heif": heif_avif_webp.read_heif,
    "raw": raw.read,
}


def read_picture(path: Path) -> Picture:
    """Read a picture file of any supported format.

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
        The file cannot be read completely: a truncated file is refused instead of shown half grey.
    """
    kind = sniff(path)
    header_size(path, kind)
    try:
        picture = FORMAT_READERS[kind](path)
        check_metadata_size(picture.metadata.size)
        return picture
    except BadPicture:
        raise
    except MemoryError as error:
        raise BadPicture(sentence("There is not enough memory to read this picture.")) from error
    except Exception as error:  # every decoder has its own errors for damaged data
        raise BadPicture(sentence("The {kind} file is damaged or cut short.", kind=kind.upper())) from error
