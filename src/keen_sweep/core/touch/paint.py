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
from keen_sweep.core.touch.source import Below, copy_source


def paint_patch(dab: Dab, stroke: Stroke, box: Box, picture: Box, below: Below, original: Below) -> Patch:
    """Compute the patch of a touch-up.

    Where the brush covers fully at full strength, a clone equals its source exactly; where it covers nothing,
    or the source lies outside the picture, alpha is 0.

    Parameters
    ----------
    dab : Dab
        The touch-up.
    stroke : Stroke
        Its stroke.
    box : Box
        The box to compute.
    picture : Box
        Box of the picture.
    below : Below
        Reads the picture below the touch-up, uint8 or uint16.
    original : Below
        Reads the picture as shot.

    Returns
    -------
    Patch
        The patch.
    """
    cover = stroke.cover(box)
    present = below(box)
    laid: Pixels | Floats
    touched = cover > 0
    if dab.brush == "bring back":
        laid = original(box)
    else:
        assert dab.source is not None
        source, valid = copy_source(dab.source, box, picture, below)
        touched &= valid
        laid = heal(present, source, touched) if dab.brush == "heal" else source
    share = cover.astype(np.float32) * np.float32(dab.strength / 100 / 255)
    return Patch(
        box=box,
        pixels=blend(present, laid, share),
        alpha=np.where(touched, 255, 0).astype(np.uint8),
        method=dab.brush,
        seed=0,
    )


def blend(first: Pixels, second: Pixels | Floats, share: Floats) -> Pixels:
    """Blend two pictures, rounded to the nearest step.

    Parameters
    ----------
    first : (h, w, 3) uint8 or uint16
        The first picture.
    second : (h, w, 3)
        The second picture.
    share : (h, w) float32
        Share of the second one, 0 to 1.

    Returns
    -------
    (h, w, 3) of the dtype of `first`
        The blend.
    """
    out = first.copy()
    _mix(out, second, share, np.iinfo(first.dtype).max)
    return out


@numba.njit(cache=True, nogil=True)
def _mix(out: Pixels, laid: Pixels | Floats, share: Floats, top: int) -> None:
    for y in range(share.shape[0]):
        for x in range(share.shape[1]):
            s = share[y, x]
            if s <= 0:
                continue
            for c in range(out.shape[2]):
                value = np.float32(laid[y, x, c])
                if s < 1:
                    value = out[y, x, c] + s * (value - out[y, x, c])
                out[y, x, c] = int(np.floor(min(max(value, np.float32(0)), np.float32(top)) + np.float32(0.5)))


def heal(tone: Pixels, texture: Pixels, hole: Bools) -> Floats:
    """Texture of one picture with the tone of another (Poisson editing, equations 3 and 4).

    Pixels outside the hole, or the picture's own edge, must surround it.

    Parameters
    ----------
    tone : (h, w, 3) uint8 or uint16
        The picture with the tone.
    texture : (h, w, 3) uint8 or uint16
        The picture with the texture.
    hole : (h, w) bool
        What is replaced.

    Returns
    -------
    (h, w, 3) float32
        The result in the hole.

    References
    ----------
    Pérez, Gangnet and Blake 2003, "Poisson image editing".
    """
    difference = tone.astype(np.float32) - texture
    planes = [membrane(np.ascontiguousarray(difference[..., c]), hole) for c in range(3)]
    return np.asarray(texture + np.dstack(planes), np.float32)
