"""A take as it grows."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import Bools, Labels, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.local.laying_out import put_values
from keen_sweep.core.fill.local.pool import Finished


class Canvas:
    """Pixels and offsets of a take that is being put together.

    Parameters
    ----------
    box : Box
        Box of the take.
    pixels : (h, w, 3) uint8 or uint16
        The picture in that box.
    """

    def __init__(self, box: Box, pixels: Pixels) -> None:
        self.box, self.pixels = box, pixels
        self.offsets = np.zeros((box.height, box.width, 2), np.int32)
        self.loose: Bools | None = None
        self.pieces: Labels | None = None
        self.energy, self.area = 0.0, 0

    def lay(self, done: Finished, area: int) -> None:
        woven = done.woven
        put_values(self.pixels, self.box, woven.window, woven.pixels, woven.hole)
        rows, columns = woven.window.intersect(self.box).relative_to(self.box).slices
        inner = woven.window.intersect(self.box).relative_to(woven.window).slices
        self.offsets[rows, columns] += woven.offsets[inner]
        if woven.loose is not None:
            if self.loose is None:
                self.loose = np.zeros(self.offsets.shape[:2], np.bool_)
            self.loose[rows, columns] |= woven.loose[inner]
        if woven.pieces is not None:
            if self.pieces is None:
                self.pieces = np.zeros(self.offsets.shape[:2], np.int32)
            # Clusters do not touch, so their labels may be the same.
            self.pieces[rows, columns] += woven.pieces[inner]
        self.energy += done.bad * area
        self.area += area
