"""The backdrop scout: what lies beyond the edge of studio paper or cloth, and what lies on it beside the subject."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.backdrop import MIN_SUBJECT_SHARE, backdrop_of
from keen_sweep.core.mask.fit import grow_mask
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.scout.found import FindKind, Found
from keen_sweep.core.sentences import sentence

# Margin of the masks, share of the longer side.
MASK_MARGIN_SHARE = 0.006
# Distance the masks keep from the subject, share of the longer side.
SUBJECT_MARGIN_SHARE = 0.004
# Name of what lies beyond the paper; everything else lies on it.
BEYOND_NAME = sentence("Beyond the backdrop")


def find_backdrop(picture: Pixels, guard: Bools | None = None) -> list[Found]:
    """Find what lies beyond the backdrop of a studio picture, and what lies on it.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    guard : (H, W) bool or None, optional
        Nothing is found here.

    Returns
    -------
    list of Found
        The finds; empty where there is no recognisable backdrop.
    """
    found = backdrop_of(picture)
    if found is None:
        return []
    long_side = max(found.outline.shape)
    # Round the subject the paper stays, but what surrounds a part that reaches past the paper's edge does not.
    off = grow_mask(_as_mask(found.subject), max(SUBJECT_MARGIN_SHARE * long_side, 1.5)) > 0
    off &= found.outline | (grow_mask(_as_mask(found.subject), 1.0) > 0)
    share = float((~found.outline).mean())
    out = []
    if share > MIN_SUBJECT_SHARE:
        why = sentence("{share:.0%} of the picture lies beyond the edge of the paper", share=share)
        mask = _full(~found.outline, off, picture, guard)
        out.append(Found(FindKind.BACKDROP, BEYOND_NAME, mask, 0.9, why))
    for thing in found.things:
        mask = _full(thing, off, picture, guard)
        if mask.pixels.any():
            size = max(mask.box.width, mask.box.height)
            why = sentence("{size} px across, on the paper and apart from the subject", size=size)
            out.append(Found(FindKind.BACKDROP, sentence("On the backdrop {number}", number=len(out)), mask, 0.8, why))
    return [find for find in out if find.mask.pixels.any()]


def _as_mask(plane: Bools) -> EightBit:
    return np.where(plane, 255, 0).astype(np.uint8)


def _full(thing: Bools, off: Bools, picture: Pixels, guard: Bools | None) -> Mask:
    """A mask at the picture's size with a margin, clear of the subject."""
    height, width = picture.shape[:2]
    wide = grow_mask(_as_mask(thing), max(MASK_MARGIN_SHARE * max(thing.shape), 1.5))
    wide[off] = 0
    soft = cv2.resize(wide, (width, height), interpolation=cv2.INTER_LINEAR)
    plane = _as_mask(np.asarray(soft) >= 128)
    if guard is not None:
        plane[guard] = 0
    x, y, wide_box, tall_box = cv2.boundingRect(plane)
    box = Box(x=x, y=y, width=wide_box, height=tall_box)
    return Mask(box, np.ascontiguousarray(plane[box.slices]))
