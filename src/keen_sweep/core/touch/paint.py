"""What a stroke of a touch-up brush makes of the picture below it."""

from __future__ import annotations

import numba
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.touch.dab import Dab
from keen_sweep.core.touch.source import Below, copied


def painted(dab: Dab, stroke: Stroke, box: Box, picture: Box, below: Below, original: Below) -> Patch:
    """The patch that a touch-up lays on a box of the picture.

    below gives the picture under the touch-up, original the picture as shot; both uint8 or uint16. The patch is
    exact: where the brush covers wholly at full strength a clone is the source to the bit, and where it covers
    nothing, or the source runs out of the picture, alpha is 0.
    """
    cover = stroke.cover(box)
    here = below(box)
    there: Pixels | Floats
    touched = cover > 0
    if dab.brush == "bring back":
        there = original(box)
    else:
        assert dab.source is not None
        source, valid = copied(dab.source, box, picture, below)
        touched &= valid
        there = healed(here, source, touched) if dab.brush == "heal" else source
    share = cover.astype(np.float32) * np.float32(dab.strength / 100 / 255)
    return Patch(
        box=box,
        pixels=mixed(here, there, share),
        alpha=np.where(touched, 255, 0).astype(np.uint8),
        method=dab.brush,
        seed=0,
    )


def mixed(here: Pixels, there: Pixels | Floats, share: Floats) -> Pixels:
    """(h, w, 3) of here's dtype: a share (h, w), 0 to 1, of there and the rest of here, to the nearest step."""
    out = here.copy()
    _mix(out, there, share, np.iinfo(here.dtype).max)
    return out


@numba.njit(cache=True, nogil=True)
def _mix(out: Pixels, there: Pixels | Floats, share: Floats, top: int) -> None:
    for y in range(share.shape[0]):
        for x in range(share.shape[1]):
            s = share[y, x]
            if s <= 0:
                continue
            for c in range(out.shape[2]):
                value = np.float32(there[y, x, c])
                if s < 1:
                    value = out[y, x, c] + s * (value - out[y, x, c])
                out[y, x, c] = int(np.floor(min(max(value, np.float32(0)), np.float32(top)) + np.float32(0.5)))


def healed(here: Pixels, there: Pixels, hole: Bools) -> Floats:
    """(h, w, 3) float32: there's texture with here's tone, in the hole (h, w).

    Poisson editing (Perez, Gangnet, Blake 2003, eq. 3 and 4: the guidance is the source's gradient): the source
    plus the harmonic function that carries the difference at the hole's border over it. Pixels at the edge of the
    array that are not in the hole, or the picture's own edge, must surround it.
    """
    difference = here.astype(np.float32) - there
    planes = [membrane(np.ascontiguousarray(difference[..., c]), hole) for c in range(3)]
    return np.asarray(there + np.dstack(planes), np.float32)
