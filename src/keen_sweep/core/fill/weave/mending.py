"""The worst place of a fill, filled again with the rest of it as surroundings, and kept if it looks better."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.assessment import filled_pixels, judge_woven
from keen_sweep.core.fill.weave.halves import enlarged
from keen_sweep.core.fill.weave.kinds import SOFT_KIND
from keen_sweep.core.fill.weave.mismatch import Seen
from keen_sweep.core.fill.weave.scene import Scene, hole_window, make_scene, surroundings
from keen_sweep.core.fill.weave.synthesis import Woven, begin, lay, lay_along, source_places
from keen_sweep.core.progress import Tick

# The worst place is where the mismatch exceeds this share of its peak.
MIN_PEAK_SHARE = 0.5
# Margin around it, pixels at the scale at which it was found.
MEND_MARGIN_PX = 3
# Ratio of the peak to the median mismatch from which on mending pays.
MIN_PEAK_RATIO = 2.5
# Largest share of the hole that is mended.
MAX_HOLE_SHARE = 0.35
MAX_MENDS = 2
# Smaller gains were as often losses when compared with the original.
MIN_BADNESS_GAIN = 0.3
# Larger holes are not mended: that costs as much as another take.
MAX_HOLE_PIXELS = 200_000
MAX_BOX_PIXELS = 600_000


def mend_worst(scene: Scene, woven: Woven, seed: int, quality: Quality, tick: Tick) -> tuple[Woven, Seen]:
    """Mend the worst place of a weave as long as that improves it, twice at most.

    Parameters
    ----------
    scene : Scene
        The scene.
    woven : Woven
        The weave.
    seed : int
        Seed of the mend.
    quality : Quality
        How carefully to fill.
    tick : Tick
        Called with the share that is done.

    Returns
    -------
    tuple of (Woven, Seen)
        The weave and its judgement.
    """
    seen, first = judge_woven(scene, woven), woven
    # A mended place is filled from anywhere, which is wrong where cells have grounds of their own.
    small = scene.hole.sum() <= MAX_HOLE_PIXELS and box_of(scene.hole).area <= MAX_BOX_PIXELS
    small &= not scene.levels[0].cells
    for turn in range(MAX_MENDS if small else 0):
        place = worst_place(scene, seen)
        if place is None:
            break
        again = _again(scene, woven, place, seed + turn, quality, tick)
        if again is None:
            break
        looked = judge_woven(scene, again)
        if looked.badness > seen.badness - MIN_BADNESS_GAIN or not _calmer(looked, seen):
            break
        woven, seen = again, looked
    # Mended places were laid into what was there: a take is laid whole, as it can be laid again.
    return (woven if woven is first else lay_along(scene, woven.offsets, quality)), seen


def _calmer(looked: Seen, seen: Seen) -> bool:
    """Whether the worst place is less bad than before, at both scales together."""
    now, before = (sum(float(np.log(each.worst + 1)) for each in one.scales) for one in (looked, seen))
    return now < before


def worst_place(scene: Scene, seen: Seen) -> Bools | None:
    """The worst place of a fill.

    Parameters
    ----------
    scene : Scene
        The scene.
    seen : Seen
        Judgement of the fill.

    Returns
    -------
    (h, w) bool or None
        The place; None where none stands out.
    """
    worst = seen.worst
    if worst is None:
        return None
    inside = worst.at[worst.at > 0]
    if not inside.size or worst.worst < MIN_PEAK_RATIO * float(np.median(inside)) + 1.0:
        return None
    _, labels = cv2.connectedComponents((worst.at >= MIN_PEAK_SHARE * worst.worst).astype(np.uint8))
    peak = np.unravel_index(int(worst.at.argmax()), worst.at.shape)
    area = (labels == labels[peak]).astype(np.uint8)
    area = cv2.dilate(area, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * MEND_MARGIN_PX + 1,) * 2))
    times = 2 ** (worst.level + scene.half)
    out = enlarged(area, times, scene.hole.shape)
    out &= scene.hole
    return out if 0 < out.sum() <= MAX_HOLE_SHARE * scene.hole.sum() else None


def _again(scene: Scene, woven: Woven, place: Bools, seed: int, quality: Quality, tick: Tick) -> Woven | None:
    """The weave with a place (h, w) of it filled anew: of true picture alone, to meet what is round it."""
    box = surroundings(box_of(place), whole(scene.hole))
    top = np.iinfo(scene.pixels.dtype).max
    canvas = np.rint(filled_pixels(scene, woven)[box.slices] * top).astype(scene.pixels.dtype)
    area = place[box.slices]
    made = scene.hole[box.slices] & ~area
    unknown = ~(scene.known | scene.hole)[box.slices]
    # What must not be drawn from in the scene must not be here.
    barred = ~cv2.dilate(scene.levels[0].allowed.astype(np.uint8), np.ones((7, 7), np.uint8)).astype(bool)[box.slices]
    depth = cv2.distanceTransform(np.pad(area.astype(np.uint8), 1), cv2.DIST_L2, 5)
    try:
        part = make_scene(canvas, box, area, unknown, (made | barred) & ~area, float(depth.max()))
    except BadMask:
        return None
    best = min((begin(part, SOFT_KIND, seed + n, quality, tick) for n in range(2)), key=lambda one: one.energy)
    laid = lay(part, source_places(part, best, quality, tick), quality, tick)
    window = hole_window(scene.hole)
    pixels, offsets = woven.pixels.copy(), woven.offsets.copy()
    at = laid.window.relative_to(window).slices
    pixels[at][laid.hole] = laid.pixels[laid.hole]
    offsets[at][laid.hole] = laid.offsets[laid.hole]
    return replace(woven, pixels=pixels, offsets=offsets)
