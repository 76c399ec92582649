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
    """margin: how far the mask is grown past the thing, in picture pixels; below 0 it is shrunk. feather: the
    standard deviation of a Gaussian over the edge, pixels. holes: holes are filled. crumbs: parts of fewer
    pixels are dropped."""

    model_config = ConfigDict(frozen=True)

    margin: float = Field(default=0.0, ge=-MAX_MARGIN_PX, le=MAX_MARGIN_PX)
    feather: float = Field(default=0.0, ge=0, le=MAX_FEATHER_PX)
    holes: bool = False
    crumbs: int = Field(default=0, ge=0, le=1_000_000)

    @property
    def reach(self) -> int:
        """How far beyond the shapes the mask may come, pixels."""
        return math.ceil(max(self.margin, 0.0) + 4 * self.feather) + 1


def fitted(mask: EightBit, taken: EightBit, fit: Fit) -> EightBit:
    """A mask (h, w) uint8 fitted; taken (h, w) uint8 is what was taken away by hand and stays away."""
    if fit.holes:
        mask = without_holes(mask)
    if fit.crumbs:
        mask = without_crumbs(mask, fit.crumbs)
    if fit.margin:
        mask = np.minimum(grown(mask, fit.margin), 255 - taken)
    if fit.feather:
        mask = feathered(mask, fit.feather)
    return mask


def grown(mask: EightBit, by: float) -> EightBit:
    """A mask (h, w) uint8 grown by so many pixels, or shrunk below 0: the pixels within that Euclidean distance
    of one that is at least half covered, or farther than it from all that are not. Beyond the array nothing is
    known, so that a mask at the picture's edge does not shrink from there."""
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


def feathered(mask: EightBit, sigma: float) -> EightBit:
    """A mask (h, w) uint8 blurred by a Gaussian of so many pixels, cut off at four of them."""
    size = 2 * math.ceil(4 * sigma) + 1
    return np.asarray(cv2.GaussianBlur(mask, (size, size), sigma, borderType=cv2.BORDER_REPLICATE), np.uint8)


def without_holes(mask: EightBit) -> EightBit:
    """A mask (h, w) uint8 with every hole filled: what is less than half covered and cannot be left, going by
    sides, without crossing the mask."""
    empty = np.pad((mask < MASK_THRESHOLD).astype(np.uint8), 1, constant_values=1)
    labels = cv2.connectedComponents(empty, connectivity=4)[1]
    return np.where(labels[1:-1, 1:-1] > 1, 255, mask).astype(np.uint8) if labels.max() > 1 else mask


def without_crumbs(mask: EightBit, least: int) -> EightBit:
    """A mask (h, w) uint8 less its parts, touching by sides or corners, of fewer pixels."""
    labels, stats = cv2.connectedComponentsWithStats((mask > 0).astype(np.uint8), connectivity=8)[1:3]
    keep = stats[:, cv2.CC_STAT_AREA] >= least
    return np.where(keep[labels], mask, 0).astype(np.uint8)
