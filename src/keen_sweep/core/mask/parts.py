"""Connected parts of a mask."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box


@dataclass(frozen=True)
class Part:
    """One connected part: its box, and inside the box an (h, w) array of bool that is true on the part.

    radius is that of the largest disc which fits into it, in pixels.
    """

    box: Box
    inside: NDArray[np.bool_]
    radius: float

    @property
    def area(self) -> int:
        return int(self.inside.sum())


def parts_of(mask: NDArray[np.uint8]) -> list[Part]:
    """The parts of the non-zero pixels of an (H, W) mask, touching by sides or corners, from top to bottom."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats((mask > 0).astype(np.uint8), connectivity=8)
    parts = []
    for number in range(1, count):
        x, y, width, height = (int(v) for v in stats[number, :4])
        box = Box(x=x, y=y, width=width, height=height)
        inside = labels[box.slices] == number
        framed = np.pad(inside.astype(np.uint8), 1)
        radius = float(cv2.distanceTransform(framed, cv2.DIST_L2, cv2.DIST_MASK_PRECISE).max())
        parts.append(Part(box=box, inside=inside, radius=radius))
    return sorted(parts, key=lambda part: (part.box.y, part.box.x))
