"""A mask that leaves nothing: the thing that a mark means, what is left of it in the ring round it, and a margin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.edge import LEAST, MOST
from keen_sweep.core.mask.halo import with_halo
from keen_sweep.core.mask.kind import How
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.meant import Meant
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
# The margin of a mask of a thing, as a share of its longer side: outlines are never right to the pixel.
MARGIN = 0.015


@dataclass(frozen=True)
class Removable:
    """A mask, and by how many pixels it was grown at most where something of the thing was left outside it."""

    mask: Mask
    rim: int


def removable(
    picture: Pixels, near: Bools, how: How, guard: Bools | None = None, meant: Meant | None = None
) -> Removable:
    """What a mark means, with all that must go with it, hair and halo and the dark rim where it stands; as cling."""
    return Removable(*with_halo(picture, cling(picture, near, how, guard, meant), guard))


def margin_of(found: Mask) -> int:
    """The even margin that is left for the eye to judge, in pixels, once what each stretch needs is in the mask."""
    box = box_of(found.pixels > 0)
    return int(np.clip(round(MARGIN * max(box.width, box.height)), LEAST, MOST))
