"""Close one part: its smooth continuation, and grain by seed on top."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.mask.parts import Part
from keen_sweep.core.methods.grain import grain_for, smooth_known
from keen_sweep.core.methods.thin_plate import continuation

# Margin around a part that is read, pixels.
SURROUNDINGS_PX = 128
# Detail finer than this standard deviation is grain, pixels.
BASE_SIGMA_PX = 1.2
EDGE_MARGIN_PX = 4


@dataclass(frozen=True)
class Closed:
    """A part that was closed, before grain is added.

    Attributes
    ----------
    box : Box
        Its box with surroundings.
    smooth : (h, w, 3) float32
        The closed picture without grain.
    residual : (h, w, 3) float32
        Grain of the surroundings.
    known : (h, w) bool
        Known pixels.
    hole : (h, w) bool
        The part.
    """

    box: Box
    smooth: Floats
    residual: Floats
    known: Bools
    hole: Bools

    def with_grain(self, seed: int) -> Floats:
        """(h, w, 3) float32 of the box, right in the hole only. The same seed gives the same grain."""
        random = np.random.Generator(np.random.PCG64(seed))
        return self.smooth + grain_for(self.residual, self.known, self.hole, random)


def close_part(below: Pixels, part: Part, known: Bools) -> Closed:
    """Close a part of a mask by continuing its surroundings smoothly.

    The continuation starts from the picture without grain: otherwise each grain on the rim would become a
    streak.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture below the sweep.
    part : Part
        The part.
    known : (H, W) bool
        Pixels that may be read.

    Returns
    -------
    Closed
        The closed part.
    """
    box = part.box.grow(SURROUNDINGS_PX, whole(below))
    pixels = below[box.slices].astype(np.float32)
    seen = known[box.slices]
    inside = np.zeros(seen.shape, bool)
    inside[part.box.relative_to(box).slices] = part.inside
    base = smooth_known(pixels, seen, BASE_SIGMA_PX)
    near = part.box.grow(EDGE_MARGIN_PX, whole(below)).relative_to(box)
    smooth = base.copy()
    # Pixels of other parts inside the near box count as hole too: they must not shine through.
    smooth[near.slices] = continuation(base[near.slices], (~seen)[near.slices])
    residual = np.where(seen[..., None], pixels - base, np.float32(0))
    return Closed(box=box, smooth=smooth, residual=residual, known=seen, hole=inside)
