"""Whether something half hidden goes on behind a mask: clear edges that end at its rim and find no partner across it.

Such an edge may end, turn or meet another one behind the mask, and the picture does not say which. Edges of texture are
short, bent or faint; long and clear ones bound things.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, Floats, Pixels
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.inventing import reduced
from keen_sweep.core.fill.weave.bars import bar_bridges
from keen_sweep.core.fill.weave.bridges import bridges_of
from keen_sweep.core.fill.weave.ends import End, ends_of

# Longer side of the hole at working size, pixels.
HOLE_SIDE_PX = 160
# Surroundings that are read, in longer sides of the hole, and at least, pixels at working size.
ROOM_RATIO = 1.2
MIN_ROOM_PX = 60
# Smallest difference between the two sides of an edge that counts, L*a*b*.
MIN_CONTRAST = 18.0
# An edge with this much counts alone, L*a*b*.
MIN_ALONE_CONTRAST = 60.0
# Number of fainter ones that say that something is half hidden.
MIN_EDGES = 2
# Length over which an edge must have been followed from the rim, pixels at working size.
MIN_EDGE_LENGTH_PX = 30.0
# Two edges that end nearer to each other than this are one, pixels at working size.
MIN_BETWEEN_PX = 5.0


@dataclass(frozen=True)
class HalfHidden:
    """Edges that end at a mask without a partner.

    Attributes
    ----------
    ends : (n, 2) float64
        x and y in the picture of where they end.
    contrast : float
        Largest difference between the two sides of one of them, L*a*b*.
    """

    ends: Doubles
    contrast: float

    @property
    def says(self) -> bool:
        """Whether something half hidden goes on there."""
        return len(self.ends) >= MIN_EDGES or self.contrast >= MIN_ALONE_CONTRAST


def half_hidden(below: Pixels, hole: Bools) -> HalfHidden:
    """Find where something half hidden goes on behind a mask.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture.
    hole : (H, W) bool
        The mask.

    Returns
    -------
    HalfHidden
        The edges without a partner.
    """
    tight = box_of(hole)
    side = max(tight.width, tight.height)
    scale = min(1.0, HOLE_SIDE_PX / side)
    box = tight.grow(int(max(ROOM_RATIO * side, MIN_ROOM_PX / scale)), whole(below))
    seen, gap = reduced(below, hole, box, scale)
    planes = np.asarray(cv2.cvtColor(seen.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), np.float32)
    alone = _without_partner(planes, gap, ~gap)
    ends = np.array([end.at for end, _ in alone], np.float64).reshape(-1, 2)
    return HalfHidden(ends / scale + (box.x, box.y), max((contrast for _, contrast in alone), default=0.0))


def _without_partner(planes: Floats, hole: Bools, known: Bools) -> list[tuple[End, float]]:
    """The edges, and how much their two sides differ, the clearest first."""
    ends = ends_of(planes, hole, known)
    edges = bridges_of(ends, hole)
    bridges = [*edges, *bar_bridges(planes, edges, hole, known)]
    joined = {id(end) for bridge in bridges for end in (bridge.first, bridge.second)}
    clear = [
        (end, contrast)
        for end in ends
        if id(end) not in joined
        and end.length >= MIN_EDGE_LENGTH_PX
        and (contrast := float(np.linalg.norm((end.left - end.right)[:3]))) >= MIN_CONTRAST
    ]
    out: list[tuple[End, float]] = []
    for end, contrast in sorted(clear, key=lambda each: -each[1]):
        if all(np.linalg.norm(end.at - other.at) >= MIN_BETWEEN_PX for other, _ in out):
            out.append((end, contrast))
    return out
