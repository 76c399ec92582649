"""An orphan: what belonged to the thing and makes no sense without it. A shadow that nobody throws, a pole that carries
nothing any more."""

from __future__ import annotations

import hashlib
from collections import OrderedDict

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.shadow import Shadow, shadow_of
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, snag_at
from keen_sweep.core.scout.poles import poles_at
from keen_sweep.core.sentences import sentence

# Share of a shadow that must lie outside the mask.
MIN_OUTSIDE_SHARE = 0.5
MIN_SHADOW_PIXELS = 150
# Smallest confidence of a shadow.
MIN_CONFIDENCE = 0.4
# Thinner things throw no visible shadow, pixels.
MIN_WIDTH_PX = 12.0
# Only upright things are searched for a shadow: a mask as wide as tall mostly contains it.
MIN_HEIGHT_RATIO = 1.15


def orphan(laid: Laid) -> list[Snag]:
    """Find shadows and poles whose owner was removed.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    list of Snag
        The snags.
    """
    return _poles(laid) if laid.wire else _shadow(laid)


def _shadow(laid: Laid) -> list[Snag]:
    if cv2.distanceTransform(laid.hole.astype(np.uint8), cv2.DIST_L2, 5).max() < MIN_WIDTH_PX / 2:
        return []
    box = box_of(laid.hole)
    if box.height < MIN_HEIGHT_RATIO * box.width:
        return []
    found = _shadow_before(laid, box)
    if found is None or found.confidence < MIN_CONFIDENCE:
        return []
    shadow = np.zeros(laid.hole.shape, np.bool_)
    shadow[found.mask.box.slices] = found.mask.pixels > 0
    stays = shadow & ~laid.hole
    if stays.sum() < max(MIN_SHADOW_PIXELS, MIN_OUTSIDE_SHARE * shadow.sum()):
        return []
    share = float(stays.sum() / shadow.sum())
    return [snag_at(SnagKind.ORPHAN, stays, 0.4 + share / 2, sentence("This shadow has lost the thing that cast it."))]


# Shadows by what they were looked for in: the takes of a sweep have the picture before it in common.
_known: OrderedDict[bytes, Shadow | None] = OrderedDict()
MAX_CACHED_SHADOWS = 8


def _shadow_before(laid: Laid, box: Box) -> Shadow | None:
    """The shadow of what stood in the hole, looked for once for all takes of it."""
    digest = hashlib.blake2b(laid.before.tobytes(), digest_size=16)
    digest.update(repr(laid.before.shape).encode())
    digest.update(np.packbits(laid.hole).tobytes())
    key = digest.digest()
    if key not in _known:
        _known[key] = shadow_of(laid.before, Mask(box, np.where(laid.hole[box.slices], 255, 0).astype(np.uint8)))
    _known.move_to_end(key)
    while len(_known) > MAX_CACHED_SHADOWS:
        _known.popitem(last=False)
    return _known[key]


def _poles(laid: Laid) -> list[Snag]:
    text = sentence("This pole has lost what it carried.")
    return [snag_at(SnagKind.ORPHAN, _full(pole, laid.hole), 0.6, text) for pole in poles_at(laid.after, laid.hole)]


def _full(mask: Mask, like: Bools) -> Bools:
    out = np.zeros(like.shape, np.bool_)
    common = mask.box.intersect(Box(x=0, y=0, width=like.shape[1], height=like.shape[0]))
    out[common.slices] = mask.pixels[common.relative_to(mask.box).slices] > 0
    return out
