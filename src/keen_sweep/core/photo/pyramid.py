"""The picture at full size, half, quarter and so on, so that any view of it is quick."""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

import numba
import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import Box, whole

MIN_SIDE_PX = 128


@numba.njit(cache=True, nogil=True)
def _halve(source: Pixels, out: Pixels) -> None:
    height, width, channels = source.shape
    for y in range(out.shape[0]):
        y0 = 2 * y
        y1 = min(y0 + 1, height - 1)
        for x in range(out.shape[1]):
            x0 = 2 * x
            x1 = min(x0 + 1, width - 1)
            for c in range(channels):
                total = (
                    np.uint32(source[y0, x0, c])
                    + np.uint32(source[y0, x1, c])
                    + np.uint32(source[y1, x0, c])
                    + np.uint32(source[y1, x1, c])
                )
                out[y, x, c] = (total + 2) // 4


def halve(pixels: Pixels) -> Pixels:
    """Halve a picture by rounded means of 2 x 2 pixels.

    Odd sides repeat their last row or column; a crop that starts at an even pixel halves to the crop of the
    half.

    Parameters
    ----------
    pixels : (H, W, C) uint8 or uint16
        The picture.

    Returns
    -------
    (ceil(H / 2), ceil(W / 2), C) of the same dtype
        The half.
    """
    height, width, channels = pixels.shape
    out = np.empty(((height + 1) // 2, (width + 1) // 2, channels), pixels.dtype)
    _halve(pixels, out)
    return out


class Pyramid:
    """Levels of one picture; level 0 is full size, each further one half of the one before.

    Parameters
    ----------
    levels : sequence of (H, W, 3) arrays
        The levels; they may be memory maps.
    name : str
        Identifies the picture in caches.
    """

    def __init__(self, levels: Sequence[Pixels], name: str = "") -> None:
        self.levels = list(levels)
        self.name = name

    @classmethod
    def of(cls, pixels: Pixels) -> Pyramid:
        """All levels of (H, W, 3) pixels, down to a longer side of MIN_SIDE_PX pixels."""
        levels = [pixels]
        while max(levels[-1].shape[:2]) > MIN_SIDE_PX:
            levels.append(halve(levels[-1]))
        return cls(levels)

    @property
    def box(self) -> Box:
        return whole(self.levels[0])

    def level(self, level: int) -> Pixels:
        """A level; those beyond the smallest one that is kept are made on the spot."""
        while level >= len(self.levels):
            self.levels.append(halve(self.levels[-1]))
        return self.levels[level]

    def window(self, box: Box, level: int = 0) -> Pixels:
        """A copy of a box of a level, cut to the picture."""
        pixels = self.level(level)
        return np.array(pixels[box.intersect(whole(pixels)).slices])

    def save(self, folder: Path) -> None:
        """Write the levels as .npy files, to be mapped into memory later; the index comes last."""
        folder.mkdir(parents=True, exist_ok=True)
        for number, pixels in enumerate(self.levels):
            np.save(folder / f"level-{number}.npy", pixels)
        (folder / "levels.json").write_text(json.dumps({"levels": len(self.levels)}))

    @classmethod
    def open(cls, folder: Path) -> Pyramid | None:
        """The saved levels, mapped read-only; None when they are not all there."""
        try:
            count = json.loads((folder / "levels.json").read_text())["levels"]
            levels: list[Pixels] = [np.load(folder / f"level-{number}.npy", mmap_mode="r") for number in range(count)]
        except (OSError, ValueError, KeyError):
            return None
        return cls(levels, folder.name)
