"""How soft the edge of a thing is, and how far a mask must reach past it so that none of it is left."""

from __future__ import annotations

import math

import cv2
import numpy as np

from keen_sweep.core.arrays import Floats, Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit

# Distance on both sides of the border that is read, pixels.
SEARCH_DISTANCE_PX = 16
MIN_MARGIN_PX = 2
MAX_MARGIN_PX = 24
# Share of a line inside a mask that must be steep where the thing begins.
MIN_STEEP_SHARE = 0.06
# Quantile of the ground's slope with which a slope is compared.
GROUND_QUANTILE = 0.98
# A slope is steep when it exceeds that quantile by this ratio.
MIN_GROUND_RATIO = 1.5
# A steep slope is at least this, 8-bit levels per pixel.
MIN_SLOPE = 4.0


def edge_profile(picture: Pixels, mask: Mask) -> tuple[float, float, float]:
    """Position, width and strength of the edge along a mask's border.

    The mean slope of lightness along lines of equal distance from the border is described by its centre and
    its standard deviation.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    mask : Mask
        The mask, in the picture.

    Returns
    -------
    tuple of float
        Position beyond the border, pixels; standard deviation, pixels; strength relative to the ground
        beyond. All 0 if the mask has no border in the picture.
    """
    box = mask.box.grow(SEARCH_DISTANCE_PX, whole(picture))
    hard = np.zeros((box.height, box.width), np.uint8)
    hard[mask.box.relative_to(box).slices] = mask.pixels >= MASK_THRESHOLD
    if not hard.any() or hard.all():
        return 0.0, 0.0, 0.0
    slope = _slope(np.ascontiguousarray(picture[box.slices]))
    beyond = cv2.distanceTransform(1 - hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    within = cv2.distanceTransform(hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    signed = np.where(hard > 0, 0.5 - within, beyond - 0.5)
    steps = np.rint(signed).astype(np.int64)
    wanted = np.abs(steps) <= SEARCH_DISTANCE_PX // 2
    count = np.bincount(steps[wanted] + SEARCH_DISTANCE_PX // 2, minlength=SEARCH_DISTANCE_PX + 1)
    total = np.bincount(steps[wanted] + SEARCH_DISTANCE_PX // 2, slope[wanted], minlength=SEARCH_DISTANCE_PX + 1)
    mean = total / np.maximum(count, 1)
    at = np.arange(SEARCH_DISTANCE_PX + 1) - SEARCH_DISTANCE_PX // 2
    ground = float(np.median(mean[at >= SEARCH_DISTANCE_PX // 4]))
    bell = np.maximum(mean - max(ground, float(mean.max()) * 0.04), 0)
    if bell.sum() <= 0:
        return 0.0, 0.0, 0.0
    place = float((bell * at).sum() / bell.sum())
    spread = float(np.sqrt((bell * (at - place) ** 2).sum() / bell.sum()))
    return place, spread, float(mean.max()) / max(ground, 0.5)


def edge_within(picture: Pixels, mask: Mask) -> int:
    """How far inside a mask the thing begins.

    The slope of lightness is read along lines of equal distance from the mask's border. The thing begins
    where a share MIN_STEEP_SHARE of such a line is steeper than the ground beyond the border.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    mask : Mask
        The mask, in the picture.

    Returns
    -------
    int
        Distance in pixels; 0 where no edge is found or the mask has no border in the picture.
    """
    box = mask.box.grow(SEARCH_DISTANCE_PX, whole(picture))
    hard = np.zeros((box.height, box.width), np.uint8)
    hard[mask.box.relative_to(box).slices] = mask.pixels >= MASK_THRESHOLD
    beyond = cv2.distanceTransform(1 - hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    ground = (hard == 0) & (beyond >= MIN_MARGIN_PX)
    if not hard.any() or not ground.any():
        return 0
    slope = _slope(np.ascontiguousarray(picture[box.slices]))
    steep = slope > max(MIN_GROUND_RATIO * float(np.quantile(slope[ground], GROUND_QUANTILE)), MIN_SLOPE)
    within = np.rint(cv2.distanceTransform(hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)).astype(np.int64)
    inside = hard > 0
    count = np.bincount(within[inside])
    share = np.bincount(within[inside], steep[inside]) / np.maximum(count, 1)
    begins = np.flatnonzero((share >= MIN_STEEP_SHARE) & (count > 0))
    return int(begins[0]) if begins.size else 0


def _slope(picture: Pixels) -> Floats:
    """The slope of lightness, (h, w) float32, in 8-bit levels a pixel."""
    grey = to_eight_bit(picture).astype(np.float32).mean(axis=2)
    return np.asarray(np.hypot(cv2.Scharr(grey, cv2.CV_32F, 1, 0), cv2.Scharr(grey, cv2.CV_32F, 0, 1)) / 32, np.float32)


def margin_for(picture: Pixels, mask: Mask) -> int:
    """Margin that a tight mask needs: twice the standard deviation of its edge, and one pixel more.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    mask : Mask
        The mask, in the picture.

    Returns
    -------
    int
        Margin, pixels.
    """
    place, spread, _ = edge_profile(picture, mask)
    return int(np.clip(math.ceil(place + 2 * spread) + 1, MIN_MARGIN_PX, MAX_MARGIN_PX))
