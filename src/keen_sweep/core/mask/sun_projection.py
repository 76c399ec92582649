"""Where a sun throws the outline of what stands on the ground.

The outline of a thing that stands upright is thrown onto flat ground by an affine map that keeps the feet where they
are: height h above them goes to h times one vector, the same for all things in a frame. (From first principles, no
source.)
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools

# Suns closer than this may be the same.
MAX_SUN_DISTANCE = 0.5
# Grid of the suns that are tried.
SUN_ACROSS = np.linspace(-2.4, 2.4, 25)
SUN_ALONG = np.array([-0.8, -0.6, -0.45, -0.3, -0.2, -0.15, -0.1, -0.06, 0.06, 0.1, 0.15, 0.2, 0.3, 0.45, 0.6, 0.8])


@dataclass(frozen=True)
class Sun:
    """The displacement of a shadow.

    Attributes
    ----------
    across : float
        Displacement to the right for each pixel of height.
    down : float
        Displacement downwards for each pixel of height.
    """

    across: float
    down: float

    def away(self, other: Sun) -> float:
        """How far two suns are apart."""
        return abs(self.across - other.across) + 2 * abs(self.down - other.down)

    def like(self, other: Sun) -> bool:
        """Whether both may be one sun, seen from two things."""
        return self.away(other) < MAX_SUN_DISTANCE


# All suns that are tried.
SUN_CANDIDATES = tuple(Sun(float(across), float(down)) for across in SUN_ACROSS for down in SUN_ALONG)
_SUN_POSITIONS = np.array([(each.across, 2 * each.down) for each in SUN_CANDIDATES])
# How close any two of them are, 0 to 1.
SUN_CLOSENESS = np.maximum(
    1 - np.abs(_SUN_POSITIONS[:, None] - _SUN_POSITIONS[None]).sum(axis=2) / MAX_SUN_DISTANCE, 0
).astype(np.float32)


def projected_outline(sun: Sun, body: Bools) -> Bools:
    """Project the outline of a thing onto the ground.

    Parameters
    ----------
    sun : Sun
        The sun.
    body : (h, w) bool
        The thing.

    Returns
    -------
    (h, w) bool
        The projected outline.
    """
    foot = foot_of(body)
    move = np.array([[1, -sun.across, foot * sun.across], [0, -sun.down, foot * (1 + sun.down)]], np.float32)
    flat = cv2.warpAffine(body.astype(np.uint8) * 255, move, body.shape[::-1], flags=cv2.INTER_LINEAR)
    return np.asarray(flat > 96)


def foot_of(body: Bools) -> float:
    """Lowest row of a thing.

    Parameters
    ----------
    body : (h, w) bool
        The thing; at least one pixel.

    Returns
    -------
    float
        The row.
    """
    return float(np.flatnonzero(body.any(axis=1))[-1])
