"""A JPEG of which only what changed is coded anew (ITU-T T.81).

Decoding and encoding a JPEG again changes all of it a little. Here the coefficients of every block that nothing was
done to are those of the original; only units that hold a changed pixel are transformed and quantised again, with the
original's own tables and sampling. Coefficients are read and written by libjpeg, by way of the package jpeglib.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
import scipy
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, EightBit, Floats, Pixels
from keen_sweep.core.deliver.segments import with_segments_of
from keen_sweep.core.errors import BadPicture
from keen_sweep.core.sentences import sentence

# Side of a DCT block (ITU-T T.81, A.3.1), pixels.
BLOCK_SIDE_PX = 8
# Colour spaces of JPEG components that can be read, as jpeglib names them.
GREY_SPACE = "JCS_GRAYSCALE"
RGB_SPACE = "JCS_RGB"
YCBCR_SPACE = "JCS_YCbCr"


def jpeg_with_changes(original: Path, before: EightBit, after: EightBit, xmp: bytes | None = None) -> bytes:
    """Change a JPEG only in the blocks that contain changed pixels; all other blocks and segments are copied
    byte for byte.

    Parameters
    ----------
    original : Path
        The original file.
    before : (H, W, 3) uint8
        Its decoded pixels, as stored.
    after : (H, W, 3) uint8
        The wanted pixels, as stored.
    xmp : bytes or None, optional
        Replaces the original's XMP packet; None keeps it.

    Returns
    -------
    bytes
        The new file.

    Raises
    ------
    BadPicture
        The JPEG's components are not grey, RGB or YCbCr.
    """
    import jpeglib

    # Of those that the package brings along one whose way with coefficients is quick.
    jpeglib.version.set("turbo150")
    coded = jpeglib.read_dct(str(original))
    space = coded.jpeg_color_space.name
    if space not in (GREY_SPACE, RGB_SPACE, YCBCR_SPACE):
        raise BadPicture(sentence("This JPEG is CMYK, so it has to be encoded anew."))
    changed = changed_pixels(before, after)
    factors = np.array(coded.samp_factor).reshape(-1, 2)
    tall, wide = (int(each) for each in factors.max(axis=0))
    units = changed_units(changed, BLOCK_SIDE_PX * tall, BLOCK_SIDE_PX * wide)
    rows, columns = np.nonzero(units)
    if len(rows):
        planes = _components(_units_of(after, rows, columns, BLOCK_SIDE_PX * tall, BLOCK_SIDE_PX * wide), space)
        names = ("Y", "Cb", "Cr")[: len(planes)]
        for k, (name, plane) in enumerate(zip(names, planes, strict=True)):
            down, across = int(factors[k][0]), int(factors[k][1])
            blocks = _coded(plane, tall // down, wide // across, coded.qt[coded.quant_tbl_no[k]])
            _put(getattr(coded, name), blocks, rows * down, columns * across)
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "coded.jpg"
        coded.write_dct(str(file))
        return with_segments_of(original.read_bytes(), file.read_bytes(), xmp)


def changed_pixels(before: Pixels, after: Pixels) -> Bools:
    """Where two pictures differ.

    Parameters
    ----------
    before : (H, W, 3) uint8 or uint16
        The first picture.
    after : (H, W, 3) of the same dtype
        The second picture.

    Returns
    -------
    (H, W) bool
        True where they differ.
    """
    out = np.asarray(before[..., 0] != after[..., 0], np.bool_)
    out |= before[..., 1] != after[..., 1]
    out |= before[..., 2] != after[..., 2]
    return out


def changed_units(changed: Bools, tall: int, wide: int) -> Bools:
    """Which units of a grid contain changed pixels.

    Parameters
    ----------
    changed : (H, W) bool
        The changed pixels.
    tall : int
        Rows of a unit.
    wide : int
        Columns of a unit.

    Returns
    -------
    (ceil(H / tall), ceil(W / wide)) bool
        True for units with changed pixels.
    """
    height, width = changed.shape
    rows, columns = -(-height // tall), -(-width // wide)
    framed = np.zeros((rows * tall, columns * wide), np.bool_)
    framed[:height, :width] = changed
    return np.asarray(framed.reshape(rows, tall, columns, wide).any(axis=(1, 3)), np.bool_)


def _units_of(pixels: EightBit, rows: NDArray[np.intp], columns: NDArray[np.intp], tall: int, wide: int) -> Floats:
    """Some units of a picture, (n, tall, wide, 3); beyond the picture its last row and column go on."""
    height, width = pixels.shape[:2]
    y = np.minimum(rows[:, None] * tall + np.arange(tall), height - 1)
    x = np.minimum(columns[:, None] * wide + np.arange(wide), width - 1)
    return np.asarray(pixels[y[:, :, None], x[:, None, :]], np.float32)


def _components(units: Floats, space: str) -> list[Floats]:
    """The components of some units, (n, tall, wide) each, about zero (JFIF 1.02, equations of YCbCr)."""
    red, green, blue = (units[..., k] for k in range(3))
    if space == GREY_SPACE:
        return [red - 128]
    if space == RGB_SPACE:
        return [red - 128, green - 128, blue - 128]
    luma = 0.299 * red + 0.587 * green + 0.114 * blue
    return [luma - 128, (blue - luma) / 1.772, (red - luma) / 1.402]


def _coded(plane: Floats, down: int, across: int, table: NDArray[np.uint16]) -> NDArray[np.int16]:
    """A component's units (n, tall, wide) as quantised blocks (n, r, c, 8, 8), once every so many rows and columns have
    become one by their mean."""
    count, tall, wide = plane.shape
    less = plane.reshape(count, tall // down, down, wide // across, across).mean(axis=(2, 4))
    rows, columns = less.shape[1] // BLOCK_SIDE_PX, less.shape[2] // BLOCK_SIDE_PX
    blocks = less.reshape(count, rows, BLOCK_SIDE_PX, columns, BLOCK_SIDE_PX).swapaxes(2, 3)
    # The orthonormal transform of eight by eight is that of T.81, A.3.3.
    return np.rint(scipy.fft.dctn(blocks, axes=(3, 4), norm="ortho") / table).astype(np.int16)


def _put(into: NDArray[np.int16], blocks: NDArray[np.int16], rows: NDArray[np.intp], columns: NDArray[np.intp]) -> None:
    """Put blocks of units (n, r, c, 8, 8) into a component (R, C, 8, 8), each unit's first at a row and column; a
    component has no blocks for what lies wholly beyond the picture."""
    for down in range(blocks.shape[1]):
        for across in range(blocks.shape[2]):
            y, x = rows + down, columns + across
            inside = (y < into.shape[0]) & (x < into.shape[1])
            into[y[inside], x[inside]] = blocks[inside, down, across]
