"""An odd place: a part of a fill that has no likeness round it, turned or not: half a thing, a kink in a rim, a
smear."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.fill.weave.halves import enlarged
from keen_sweep.core.fill.weave.mismatch import Judge, Seen
from keen_sweep.core.review.scores import lab
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, outlines_elsewhere, snag_at
from keen_sweep.core.sentences import sentence

# Distance to which untouched ground is compared, pixels at half size.
GROUND_RADIUS_PX = 12
# Ratio to the oddest natural place.
MIN_ODDNESS_RATIO = 1.7
# Smallest oddness that is reported, squared L*a*b* per pixel.
MIN_ODDNESS = 90.0
# The place extends to this share of the peak.
MIN_PEAK_SHARE = 0.5


def judge_half_size(laid: Laid) -> Seen:
    """Judge a fill at half size, as the engine judges its own fills.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    Seen
        The judgement.
    """
    half = laid.halved() if min(laid.hole.shape) >= 64 else laid
    if not half.hole.any():
        half = laid
    colours = lab(half.after)
    return Judge(colours, half.hole, ~half.hole).look(colours)


def odd_place(laid: Laid) -> list[Snag]:
    """Find the oddest place of a fill, if it is much odder than the ground around it.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    list of Snag
        The snags.
    """
    half = laid.halved()
    if not half.hole.any() or min(half.hole.shape) < 48:
        return []
    colours = lab(half.after)
    worst = Judge(colours, half.hole, ~half.hole).look(colours).worst
    if worst is None or worst.worst < MIN_ODDNESS:
        return []
    natural = 0.0
    for ground in outlines_elsewhere(half, GROUND_RADIUS_PX):
        ring = ground & ~cv2.dilate(half.hole.astype(np.uint8), np.ones((7, 7), np.uint8)).astype(bool)
        if not ring.any() or ring.all():
            continue
        seen = Judge(colours, ring, ~(ring | half.hole)).look(colours).worst
        natural = max(natural, seen.worst if seen is not None else 0.0)
    if worst.worst < MIN_ODDNESS_RATIO * natural:
        return []
    place = enlarged(worst.at >= MIN_PEAK_SHARE * worst.worst, 2 ** (worst.level + 1), laid.hole.shape) & laid.hole
    if not place.any():
        return []
    strength = 1 - natural * MIN_ODDNESS_RATIO / worst.worst
    return [
        snag_at(SnagKind.ODD_PLACE, place, 0.4 + 0.6 * strength, sentence("This place looks unlike its surroundings."))
    ]
