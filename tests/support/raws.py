"""Small raw files for tests: DNG (version 1.7) of a sensor with filters in red, green, green, blue, by tifffile."""

from pathlib import Path
from typing import Any

import numpy as np
import tifffile
from numpy.typing import NDArray

# What a neutral grey gives in the three channels of this sensor.
NEUTRAL = (0.5, 1.0, 0.625)
# From XYZ to the sensor's colours: those of linear sRGB (IEC 61966-2-1), which makes checks easy.
MATRIX = ((3.2406, -1.5372, -0.4986), (-0.9689, 1.8758, 0.0415), (0.0557, -0.2040, 1.0570))


def write_dng(path: Path, scene: NDArray[Any], orientation: int = 1, description: str = "a raw garden") -> None:
    """scene (H, W, 3) float, linear sRGB, 0 to 1, even sides; it is dimmed by the sensor's neutral and sampled by its
    filters."""
    seen = scene * np.array(NEUTRAL)
    mosaic = seen[..., 1].copy()
    mosaic[0::2, 0::2] = seen[0::2, 0::2, 0]
    mosaic[1::2, 1::2] = seen[1::2, 1::2, 2]
    levels = np.rint(mosaic * 16_000).astype(np.uint16)
    rationals = [n for row in MATRIX for each in row for n in (round(each * 10_000), 10_000)]
    neutral = [n for each in NEUTRAL for n in (round(each * 1_000), 1_000)]
    tifffile.imwrite(
        path,
        levels,
        photometric=32803,
        metadata=None,
        description=description,
        extratags=[
            (274, "H", 1, orientation, True),
            (33421, "H", 2, (2, 2), True),
            (33422, "B", 4, (0, 1, 1, 2), True),
            (50706, "B", 4, (1, 4, 0, 0), True),
            (50708, "s", 0, "Vale One", True),
            (50714, "H", 1, 0, True),
            (50717, "H", 1, 16_000, True),
            (50721, "2i", 9, rationals, True),
            (50728, "2I", 3, neutral, True),
            (50778, "H", 1, 21, True),
        ],
    )


def write_unknown(path: Path) -> None:
    """A raw file of a camera that nobody knows: laid out as a TIFF, and compressed in a way of its own."""
    levels = np.random.default_rng(0).integers(0, 16_000, (96, 128), dtype=np.uint16)
    pattern = [(271, "s", 0, "Vale Optical", True), (33421, "H", 2, (2, 2), True), (33422, "B", 4, (0, 1, 1, 2), True)]
    tifffile.imwrite(path, levels, photometric=32803, metadata=None, extratags=pattern)
    with tifffile.TiffFile(path) as tiff:
        place = tiff.pages[0].aspage().tags[259].valueoffset
    content = bytearray(path.read_bytes())
    content[place : place + 2] = (65111).to_bytes(2, "little")
    path.write_bytes(content)
