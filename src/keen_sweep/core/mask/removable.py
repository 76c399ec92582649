"""A mask that leaves nothing: the thing that a mark means, what is left of it in the ring round it, and a margin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import box_of
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.detected_target import Meant
from keen_sweep.core.mask.edge import MAX_MARGIN_PX, MIN_MARGIN_PX
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.halo import with_halo
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.mask import Mask

# Margin of the mask of a thing, share of its longer side: outlines are never exact to the pixel.
MARGIN_SHARE = 0.015
# A thing with a typical halo this wide gets a soft edge, pixels.
MIN_SOFT_HALO_PX = 3
# The halo reaches this many standard deviations of the edge's Gaussian.
HALO_DEVIATIONS = 3
MAX_FEATHER_PX = 4.0


@dataclass(frozen=True)
class Removable:
    """A mask, by how many pixels it was grown at most where something of the thing was left outside it, and its fit: an
    even margin that is left for the eye to judge, and a soft edge where the thing has one."""

    mask: Mask
    rim: int
    fit: Fit


def removable(
    picture: Pixels, near: Bools, how: How, guard: Bools | None = None, meant: Meant | None = None
) -> Removable:
    """What a mark means, with all that must go with it, hair and halo and the dark rim where it stands; as cling."""
    found = with_halo(picture, cling(picture, near, how, guard, meant), guard)
    return Removable(found.mask, found.most, fit_of(found.mask, found.typical))


def fit_of(found: Mask, halo: int = 0) -> Fit:
    """The fit of the mask of a thing with such a typical halo, pixels.

    The margin is an even one; where the edge is soft it is wider by two standard deviations, so that the thing is still
    covered.
    """
    box = box_of(found.pixels > 0)
    margin = int(np.clip(round(MARGIN_SHARE * max(box.width, box.height)), MIN_MARGIN_PX, MAX_MARGIN_PX))
    feather = 0.0 if halo < MIN_SOFT_HALO_PX else min(halo / HALO_DEVIATIONS, MAX_FEATHER_PX)
    return Fit(margin=margin + round(2 * feather), feather=feather)
