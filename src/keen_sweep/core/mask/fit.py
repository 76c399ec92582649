"""How a mask is fitted to what was drawn: holes filled, crumbs dropped, margin, feather."""

from __future__ import annotations

import math

import cv2
import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.arrays import EightBit

MAX_MARGIN_PX = 500.0
MAX_FEATHER_PX = 200.0
MASK_THRESHOLD = 128


class Fit(BaseModel):
    """How the mask of a mark is adjusted after it was drawn.

    Attributes
    ----------
    margin : float
        Growth of the mask, picture pixels; negative values shrink it.
    feather : float
        Standard deviation of the Gaussian that softens the edge, pixels.
    holes : bool
        Whether holes are filled.
    crumbs : int
        Parts with fewer pixels than this are dropped.
    """

    model_config = ConfigDict(frozen=True)

    margin: float = Field(default=0.0, ge=-MAX_MARGIN_PX, le=MAX_MARGIN_PX)
    feather: float = Field(default=0.0, ge=0, le=MAX_FEATHER_PX)
    holes: bool = False
    crumbs: int = Field(default=0, ge=0, le=1_000_000)

    @property
    def reach(self) -> int:
        """How far beyond the shapes the mask may come, pixels."""
        return math.ceil(max(self.margin, 0.0) + 4 * self.feather) + 1


def fit_mask(mask: EightBit, taken: EightBit, fit: Fit) -> EightBit:
    """Apply a fit to a mask.

    Parameters
    ----------
    mask : (h, w) uint8
        The mask.
    taken : (h, w) uint8
        What was erased by hand; it stays erased.
    fit : Fit
        The fit.

    Returns
    -------
    (h, w) uint8
        The adjusted mask.
    """
    if fit.holes:
        mask = fill_holes(mask)
    if fit.crumbs:
        mask = drop_small_parts(mask, fit.crumbs)
    if fit.margin:
        mask = np.minimum(grow_mask(mask, fit.margin), 255 - taken)
    if fit.feather:
        mask = feather_mask(mask, fit.feather)
    return mask


def grow_mask(mask: EightBit, by: float) -> EightBit:
    """Grow or shrink a mask by a Euclidean distance.

    Nothing is known beyond the array, so a mask at the picture's edge does not shrink from there.

    Parameters
    ----------
    mask : (h, w) uint8
        The mask; pixels of 128 and more count as covered.
    by : float
        Distance, pixels; negative values shrink.

    Returns
    -------
    (h, w) uint8
        The mask, 0 or 255 where it changed.
    """
    hard = mask >= MASK_THRESHOLD
    if by > 0:
        if not hard.any():
            return mask.copy()
        distance = cv2.distanceTransform((~hard).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        return np.maximum(mask, np.where(distance <= by, 255, 0).astype(np.uint8))
    if hard.all():
        return mask.copy()
    distance = cv2.distanceTransform(hard.astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    return np.where(distance > -by, mask, 0).astype(np.uint8)


def feather_mask(mask: EightBit, sigma: float) -> EightBit:
    """Soften the edge of a mask with a Gaussian.

    Parameters
    ----------
    mask : (h, w) uint8
        The mask.
    sigma : float
        Standard deviation, pixels; the kernel is cut off at four of them.

    Returns
    -------
    (h, w) uint8
        The softened mask.
    """
    size = 2 * math.ceil(4 * sigma) + 1
    return np.asarray(cv2.GaussianBlur(mask, (size, size), sigma, borderType=cv2.BORDER_REPLICATE), np.uint8)


def fill_holes(mask: EightBit) -> EightBit:
    """Fill the holes of a mask: what is less than half covered and enclosed by the mask (4-connected).

    Parameters
    ----------
    mask : (h, w) uint8
        The mask.

    Returns
    -------
    (h, w) uint8
        The mask without holes.
    """
    empty = np.pad((mask < MASK_THRESHOLD).astype(np.uint8), 1, constant_values=1)
    labels = cv2.connectedComponents(empty, connectivity=4)[1]
    return np.where(labels[1:-1, 1:-1] > 1, 255, mask).astype(np.uint8) if labels.max() > 1 else mask


def drop_small_parts(mask: EightBit, least: int) -> EightBit:
    """Drop small parts of a mask (8-connected).

    Parameters
    ----------
    mask : (h, w) uint8
        The mask.
    least : int
        Parts with fewer pixels are dropped.

    Returns
    -------
    (h, w) uint8
        The mask without small parts.
    """
    labels, stats = cv2.connectedComponentsWithStats((mask > 0).astype(np.uint8), connectivity=8)[1:3]
    keep = stats[:, cv2.CC_STAT_AREA] >= least
    return np.where(keep[labels], mask, 0).astype(np.uint8)
