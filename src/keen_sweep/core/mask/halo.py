"""What is left of a thing in the ring outside its mask: hair, blur, a halo of mixed colours, the soft dark rim where it
stands. There a mask has to reach farther; where the ground begins it stops.

For each stretch of the mask's border the ring is looked at from the border outwards: how much its colours differ from
those of the ground farther out, against how much the ground differs from itself. As far as they plainly do, and towards
the thing's colours or towards the dark, the ring is still of the thing.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit

# Distance that is searched, as a share of the square root of the mask's area.
REACH_SHARE = 0.16
# Bounds of that distance, pixels at working size.
MIN_REACH_PX = 8
MAX_REACH_PX = 28
# Number of pixels at working size, at most.
WORKING_PIXELS = 520 * 520
# Length of the sections of the border that are measured separately, pixels.
SECTION_LENGTH_PX = 10
# A difference counts from this multiple of the ground's own variation on.
MIN_GROUND_RATIO = 1.7
# A difference counts from this distance in L*a*b* on.
MIN_DIFFERENCE = 2.5
# Share of the reach over which a halo must have faded: what goes on is another thing.
MAX_REACH_SHARE = 0.6
# Share of its strength to which a halo must fall over the reach.
MAX_REMAINING_SHARE = 0.5


@dataclass(frozen=True)
class Haloed:
    """A mask that was grown over the halo of its thing.

    Attributes
    ----------
    mask : Mask
        The grown mask.
    most : int
        Largest width of the halo, pixels; it may be the shadow at the thing's feet.
    typical : int
        Median width along the border, pixels: how soft the thing's edge is.
    """

    mask: Mask
    most: int
    typical: int


def with_halo(picture: Pixels, mask: Mask, guard: Bools | None = None, plainly: float = 1.0) -> Haloed:
    """Grow a mask where what is just outside it still belongs to the thing.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    mask : Mask
        The mask, in the picture.
    guard : (H, W) bool or None, optional
        Pixels that must not be entered.
    plainly : float, optional
        Factor on the usual threshold for differences from the ground.

    Returns
    -------
    Haloed
        The grown mask and the width of its halo.
    """
    area = int((mask.pixels >= MASK_THRESHOLD).sum())
    if not area:
        return Haloed(mask, 0, 0)
    reach = REACH_SHARE * np.sqrt(area)
    box = mask.box.grow(int(2.5 * max(reach, MIN_REACH_PX)) + 2, whole(picture))
    scale = min(1.0, np.sqrt(WORKING_PIXELS / box.area), MAX_REACH_PX / reach)
    hard, lab = _looked_at(picture, mask, box, scale)
    if not hard.any() or hard.all():
        return Haloed(mask, 0, 0)
    more, most, typical = _margins(lab, hard, max(round(reach * scale), MIN_REACH_PX), plainly)
    out = np.zeros((box.height, box.width), np.uint8)
    out[mask.box.relative_to(box).slices] = mask.pixels
    grown = cv2.resize(more.astype(np.float32), (box.width, box.height), interpolation=cv2.INTER_LINEAR) > 0.5
    if guard is not None:
        grown &= ~guard[box.slices]
    whole_mask = Mask(box, np.maximum(out, np.where(grown, 255, 0).astype(np.uint8)))
    return Haloed(whole_mask, round(most / scale), round(typical / scale))


def _looked_at(picture: Pixels, mask: Mask, box: Box, scale: float) -> tuple[Bools, Floats]:
    pixels = to_eight_bit(np.ascontiguousarray(picture[box.slices]))
    full = np.zeros((box.height, box.width), np.uint8)
    full[mask.box.relative_to(box).slices] = mask.pixels
    if scale < 1:
        size = (max(round(box.width * scale), 8), max(round(box.height * scale), 8))
        pixels = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.uint8)
        full = np.asarray(cv2.resize(full, size, interpolation=cv2.INTER_AREA), np.uint8)
    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    return full >= MASK_THRESHOLD, np.asarray(lab, np.float32)


def _margins(lab: Floats, hard: Bools, reach: int, plainly: float) -> tuple[Bools, float, float]:
    """The mask grown by what each stretch of its border needs, the most that one needs, and the median."""
    away, nearest = cv2.distanceTransformWithLabels(
        (~hard).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_5, labelType=cv2.DIST_LABEL_PIXEL
    )
    outer = (away > reach) & (away <= 2.5 * reach)
    if not outer.any():
        return hard, 0.0, 0.0
    ground = _spread(lab, outer, reach)
    wander = np.sqrt(_spread(((lab - ground) ** 2).sum(2, keepdims=True), outer, reach)[..., 0])
    thing = _spread(lab, hard & (cv2.distanceTransform(hard.astype(np.uint8), cv2.DIST_L2, 5) <= reach), reach)
    differ, towards = lab - ground, thing - ground
    along = (differ * towards).sum(2) / np.maximum(np.sqrt((towards**2).sum(2)), 1e-3)
    darker = -differ[..., 0]
    still = np.maximum(along, darker) / (plainly * np.maximum(MIN_GROUND_RATIO * wander, MIN_DIFFERENCE))
    stretch, count = _stretches(hard, np.asarray(nearest, np.int32))
    ring = (away > 0) & (away <= reach)
    at = np.minimum(np.ceil(away[ring]).astype(np.int64), reach) - 1
    key = stretch[ring] * reach + at
    number = np.bincount(key, minlength=count * reach)
    mean = (np.bincount(key, still[ring], minlength=count * reach) / np.maximum(number, 1)).reshape(count, reach)
    # As far as it goes on from the border without a gap.
    goes_on = np.logical_and.accumulate((mean > 1) | (number.reshape(count, reach) == 0), axis=1)
    margin = goes_on.sum(1).astype(np.float32)
    third = max(reach // 3, 1)
    fallen = mean[:, -third:].mean(axis=1) < MAX_REMAINING_SHARE * np.maximum(mean[:, :third].mean(axis=1), 1e-6)
    margin[(margin > MAX_REACH_SHARE * reach) & ~fallen] = 0
    return np.asarray(hard | (ring & (away <= margin[stretch]))), float(margin.max()), float(np.median(margin))


def _stretches(hard: Bools, nearest: NDArray[np.int32]) -> tuple[NDArray[np.int64], int]:
    """To which stretch of the mask's border each pixel is nearest, and how many there are."""
    number = np.zeros(int(nearest.max()) + 1, np.int64)
    count = 1
    contours, _ = cv2.findContours(hard.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    for contour in contours:
        columns, rows = contour[:, 0].T
        number[nearest[rows, columns]] = count + np.arange(len(rows)) // SECTION_LENGTH_PX
        count += (len(rows) - 1) // SECTION_LENGTH_PX + 1
    return number[nearest], count


def _spread(values: Floats, where: Bools, reach: int) -> Floats:
    """Means of what is somewhere, drawn on over what is round it."""
    weight = where.astype(np.float32)[..., None]
    both = np.concatenate([values * weight, weight], 2)
    soft = np.asarray(cv2.GaussianBlur(both, (0, 0), reach, borderType=cv2.BORDER_REFLECT), np.float32)
    return np.asarray(soft[..., :-1] / (soft[..., -1:] + 1e-6), np.float32)
