"""A mask that leaves nothing: the thing that a mark means, what is left of it in the ring round it, and a margin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import box_of
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.detected_target import DetectedTarget
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
    """A mask with everything that must go with the thing.

    Attributes
    ----------
    mask : Mask
        The mask.
    rim : int
        Largest growth where part of the thing was left outside, pixels.
    fit : Fit
        An even margin, and a soft edge where the thing has one.
    """

    mask: Mask
    rim: int
    fit: Fit


def removable_mask(
    picture: Pixels, near: Bools, how: How, guard: Bools | None = None, meant: DetectedTarget | None = None
) -> Removable:
    """Mask of what a mark means, including hair, halo and dark rim.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    near : (H, W) bool
        What the scribble covers or the outline encloses; at least one pixel.
    how : How
        The gesture.
    guard : (H, W) bool or None, optional
        Pixels that must not be in the mask.
    meant : DetectedTarget or None, optional
        The detected thing, if the detector has been asked before.

    Returns
    -------
    Removable
        The mask and its fit.
    """
    found = with_halo(picture, cling(picture, near, how, guard, meant), guard)
    return Removable(found.mask, found.most, fit_of(found.mask, found.typical))


def fit_of(found: Mask, halo: int = 0) -> Fit:
    """Fit for the mask of a thing.

    The margin is even. Where the edge is soft it is wider by two standard deviations, so that the thing is
    still covered.

    Parameters
    ----------
    found : Mask
        The mask.
    halo : int, optional
        Typical width of the halo, pixels.

    Returns
    -------
    Fit
        The fit.
    """
    box = box_of(found.pixels > 0)
    margin = int(np.clip(round(MARGIN_SHARE * max(box.width, box.height)), MIN_MARGIN_PX, MAX_MARGIN_PX))
    feather = 0.0 if halo < MIN_SOFT_HALO_PX else min(halo / HALO_DEVIATIONS, MAX_FEATHER_PX)
    return Fit(margin=margin + round(2 * feather), feather=feather)
