"""Mix: one take here, another there, or the picture as shot, as a brush says."""

from __future__ import annotations

import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import MadeBy, Quality
from keen_sweep.core.fill.patch import PartReport, Patch, lay
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.sentences import sentence

# Ranks a mix behind all takes of an engine: the photographer chose it, not the program.
MIX_ENERGY = 1e9


def mix_box(under: Patch | None, over: Patch | None) -> Box:
    """Box that two takes cover together.

    Parameters
    ----------
    under : Patch or None
        A take; None is the picture as shot.
    over : Patch or None
        Another take; at least one is not None.

    Returns
    -------
    Box
        The box.
    """
    boxes = [each.box for each in (under, over) if each is not None]
    return boxes[0] if len(boxes) == 1 else boxes[0].union(boxes[1])


def blend_takes(below: Pixels, under: Patch | None, over: Patch | None, cover: EightBit) -> Patch:
    """Mix two takes with a brush.

    Parameters
    ----------
    below : (h, w, 3) uint8 or uint16
        The picture below, in `mix_box(under, over)`.
    under : Patch or None
        Take that is visible where the brush covers nothing; None is the picture as shot.
    over : Patch or None
        Take that is visible where the brush covers everything.
    cover : (h, w) uint8
        Coverage of the brush, 0 to 255.

    Returns
    -------
    Patch
        The mixed take.
    """
    box = mix_box(under, over)
    planes, touched = [], np.zeros(cover.shape, np.bool_)
    for take in (under, over):
        plane = np.array(below)
        if take is not None:
            lay(plane, box, take)
            touched[take.box.relative_to(box).slices] |= take.alpha > 0
        planes.append(plane.astype(np.uint32))
    share = cover.astype(np.uint32)[..., None]
    pixels = ((planes[0] * (255 - share) + planes[1] * share + 127) // 255).astype(below.dtype)
    painted = int((touched & (cover > 0)).sum())
    return Patch(
        box=box,
        pixels=pixels,
        alpha=np.where(touched, 255, 0).astype(np.uint8),
        method=MadeBy.MIX,
        seed=under.seed if under is not None else over.seed if over is not None else 0,
        energy=MIX_ENERGY,
        parts=(
            PartReport(MadeBy.MIX, sentence("painted by hand over {painted:,} pixels", painted=painted), box, painted),
        ),
        provenance=Provenance(quality=Quality.FINE),
    )
