"""Where a sun throws the outline of what stands on the ground.

The outline of a thing that stands upright is thrown onto flat ground by an affine map that keeps the feet where they
are: height h above them goes to h times one vector, the same for all things in a frame. (From first principles, no
source.)
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Bools = NDArray[np.bool_]
Floats = NDArray[np.float32]
ACROSS = np.linspace(-2.4, 2.4, 25)
ALONG = np.array([-0.8, -0.6, -0.45, -0.3, -0.2, -0.15, -0.1, -0.06, 0.06, 0.1, 0.15, 0.2, 0.3, 0.45, 0.6, 0.8])
# Suns no farther apart than this may be the same.
NEAR = 0.5


@dataclass(frozen=True)
class Sun:
    """Where a shadow falls: across and down the picture for every pixel of height."""

    across: float
    down: float

    def like(self, other: Sun) -> bool:
        """Whether both may be the same sun, seen from different things."""
        return abs(self.across - other.across) + 2 * abs(self.down - other.down) < NEAR


SUNS = tuple(Sun(float(across), float(down)) for across in ACROSS for down in ALONG)


def thrown(body: Floats, foot: float, sun: Sun) -> Floats:
    """The outline of a thing (h, w), 0 to 1, as a sun throws it onto the ground from its feet, the row foot."""
    move = np.array([[1, -sun.across, foot * sun.across], [0, -sun.down, foot * (1 + sun.down)]], np.float64)
    height, width = body.shape
    return np.asarray(cv2.warpAffine(body, move, (width, height), flags=cv2.INTER_LINEAR), np.float32)
