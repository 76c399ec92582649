"""Cling: a careless scribble over a thing, or a loose outline round it, becomes the mask of the thing.

Several methods are combined. The detector says which thing is there (detected_target); our own network says how likely
each pixel belongs to it (pixel_likelihood); for people, there are silhouettes; a graph cut uses colours alone (cut).
Network and cut are weighted, a silhouette counts by itself. For a removal, leaving out part of a thing is far worse
than including a bit too much: the core of what was painted is always included, and small holes are closed.
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.mask.cut import cut_out
from keen_sweep.core.mask.detected_target import DetectedTarget, detected_target
from keen_sweep.core.mask.fit import fill_holes
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.pixel_likelihood import pixel_likelihood, surroundings_box
from keen_sweep.core.mask.working_area import WORKING_PIXELS, Surroundings, surroundings_of
from keen_sweep.core.scout.networks.silhouette import silhouette

# Weight of the network's answer; the graph cut has the rest.
NETWORK_WEIGHT = 0.85
# Likelihood from which on a pixel belongs to the thing.
MIN_LIKELIHOOD = 0.55
# Likelihood of pixels inside a silhouette of the people networks.
SILHOUETTE_WEIGHT = 0.8
# Half the width of the band in which the rim is refined, pixels at full working size; scaled down in smaller
# surroundings.
RIM_BAND_PX = 3.0
# A part must contain this share of the mark.
MIN_MARK_SHARE = 0.03
# The core of a stroke is deeper than this share of its greatest depth.
CORE_DEPTH_SHARE = 0.5
# Holes larger than this share of the thing stay open.
MIN_OPEN_HOLE_SHARE = 0.2
# How far a thing may reach beyond the hull of its mark and detected box, in longer sides of these.
REACH_BY_GESTURE: dict[How, float] = {"scribble": 0.3, "outline": 0.08, "click": 0.3}
# Margin around the detected box, in its longer sides.
DETECTED_MARGIN_SHARE = 0.15
# How far a further stroke reaches beyond itself, in half widths of the stroke.
STROKE_REACH = 1.0


def cling(
    picture: Pixels, near: Bools, how: How = "scribble", guard: Bools | None = None, meant: DetectedTarget | None = None
) -> Mask:
    """Turn a scribble over a thing, or an outline around it, into a mask of the thing.

    The core of a scribble is always part of the mask, except where it is guarded. If nothing can be
    recognised, the mark itself is returned.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    near : (H, W) bool
        What the scribble covers or the outline encloses; at least one pixel.
    how : How, optional
        The gesture.
    guard : (H, W) bool or None, optional
        Pixels that must not be in the mask.
    meant : DetectedTarget or None, optional
        The detected thing, if the detector has been asked before.

    Returns
    -------
    Mask
        The mask of the thing.
    """
    meant = meant or detected_target(picture, near, how)
    ground = surroundings_of(picture, near, guard, _looked_at(near, meant))
    chance = _chance(ground, near, how, meant)
    thing = np.asarray(chance > MIN_LIKELIHOOD) & _within_reach(ground, how, meant)
    thing = _touched((thing | _banded(ground, thing)) & ~ground.barred, ground.near)
    if how != "outline":
        thing |= _core(ground.near) & ~ground.barred
    if not thing.any():
        thing = ground.near
    thing = _without_holes(thing)
    return _at_full_size(thing, ground, None if how == "outline" else near, guard)


def cling_further(picture: Pixels, near: Bools, guard: Bools | None = None) -> Mask:
    """Interpret a further stroke over a mask: a part that was left out, or one that is too much.

    The result stays close to the stroke, so that a stroke over a shoe does not add a street, and one that
    removes some ground does not remove the whole thing.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    near : (H, W) bool
        What the stroke covers; at least one pixel.
    guard : (H, W) bool or None, optional
        Pixels that must not be in the mask.

    Returns
    -------
    Mask
        The part that the stroke means.
    """
    ground = surroundings_of(picture, near, guard, surroundings_box(near))
    likelihood = pixel_likelihood(ground.full, near[ground.box.slices], "scribble")
    chance = cv2.resize(likelihood, ground.size, interpolation=cv2.INTER_LINEAR)
    depth, away = _depth(ground.near), _away(ground.near)
    reach = away <= STROKE_REACH * max(float(depth.max()), 1.0)
    thing = _touched(np.asarray(chance > MIN_LIKELIHOOD) & reach, ground.near) | _core(ground.near)
    return _at_full_size(_without_holes(thing & ~ground.barred), ground, near, guard)


def _looked_at(near: Bools, meant: DetectedTarget | None) -> Box:
    """The surroundings of a mark and of what it may mean."""
    box = surroundings_box(near)
    if meant is None:
        return box
    more = meant.box.grow(round(DETECTED_MARGIN_SHARE * max(meant.box.width, meant.box.height)), whole(near))
    x, y = min(box.x, more.x), min(box.y, more.y)
    return Box(x=x, y=y, width=max(box.right, more.right) - x, height=max(box.bottom, more.bottom) - y)


def _chance(ground: Surroundings, near: Bools, how: How, meant: DetectedTarget | None) -> Floats:
    """How likely each pixel of the surroundings is meant, at the working size."""
    seen = None if meant is None else meant.box.relative_to(ground.box)
    likelihood = cv2.resize(
        pixel_likelihood(ground.full, near[ground.box.slices], how, seen), ground.size, interpolation=cv2.INTER_LINEAR
    )
    chance = np.asarray(NETWORK_WEIGHT * likelihood + (1 - NETWORK_WEIGHT) * cut_out(ground, how), np.float32)
    if meant is None or seen is None or meant.kind != "person":
        return chance
    try:
        window, known = silhouette(ground.full, (seen.x, seen.y, seen.right, seen.bottom))
    except NoWeights:
        return chance
    full = np.zeros(ground.full.shape[:2], np.float32)
    full[window.slices] = known
    silhouette_plane = np.asarray(cv2.resize(full, ground.size, interpolation=cv2.INTER_LINEAR), np.float32)
    return np.asarray(np.maximum(chance, np.float32(SILHOUETTE_WEIGHT) * silhouette_plane), np.float32)


def _within_reach(ground: Surroundings, how: How, meant: DetectedTarget | None) -> Bools:
    """Where the thing may be: not far from the hull of the mark and of what the detector sees."""
    rows, columns = np.nonzero(ground.near)
    points = np.stack([columns, rows], 1).astype(np.int32)
    hull = np.zeros(ground.near.shape, np.uint8)
    cv2.fillConvexPoly(hull, cv2.convexHull(points), 1)
    if meant is not None:
        box, scale = meant.box.relative_to(ground.box), ground.size[0] / ground.box.width
        corner = (round(box.x * scale), round(box.y * scale))
        cv2.rectangle(hull, corner, (round(box.right * scale), round(box.bottom * scale)), 1, -1)
    tight = box_of(hull > 0)
    return np.asarray(_away(hull > 0) <= REACH_BY_GESTURE[how] * max(tight.width, tight.height) + 2)


def _core(near: Bools) -> Bools:
    depth = _depth(near)
    return np.asarray(depth > CORE_DEPTH_SHARE * max(float(depth.max()), 1e-6))


def _depth(near: Bools) -> Floats:
    padded = np.pad(near.astype(np.uint8), 1)
    return np.asarray(cv2.distanceTransform(padded, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)[1:-1, 1:-1], np.float32)


def _away(near: Bools) -> Floats:
    return np.asarray(cv2.distanceTransform((~near).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE), np.float32)


def _without_holes(thing: Bools) -> Bools:
    """Holes close, unless they are large: a ring stays a ring."""
    closed = fill_holes(np.where(thing, 255, 0).astype(np.uint8)) > 0
    labels, stats = cv2.connectedComponentsWithStats((closed & ~thing).astype(np.uint8), connectivity=4)[1:3]
    large = stats[:, cv2.CC_STAT_AREA] > MIN_OPEN_HOLE_SHARE * thing.sum()
    large[0] = True
    return np.asarray(thing | (closed & ~large[labels]))


def _at_full_size(thing: Bools, ground: Surroundings, stroke: Bools | None, guard: Bools | None) -> Mask:
    """What was found at the working size, at the picture's; the core of a stroke in it to the pixel."""
    shape = (ground.box.height, ground.box.width)
    if thing.shape != shape:
        soft = cv2.resize(thing.astype(np.float32), shape[::-1], interpolation=cv2.INTER_LINEAR)
        thing = soft > 0.5
    if stroke is not None:
        thing = thing | _core(stroke[ground.box.slices])
    if guard is not None:
        thing = thing & ~guard[ground.box.slices]
    return Mask(ground.box, np.where(thing, 255, 0).astype(np.uint8))


def _banded(ground: Surroundings, thing: Bools) -> Bools:
    """The border found again among the pixels of a narrow band."""
    if not thing.any() or thing.all():
        return thing
    within = cv2.distanceTransform(thing.astype(np.uint8), cv2.DIST_L2, 3)
    beyond = cv2.distanceTransform((~thing).astype(np.uint8), cv2.DIST_L2, 3)
    band = max(RIM_BAND_PX * np.sqrt(thing.size / WORKING_PIXELS), 1.0)
    labels = np.where(thing, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    labels[within > band] = cv2.GC_FGD
    labels[(beyond > band) | ground.barred] = cv2.GC_BGD
    cv2.setRNGSeed(0)
    inner, outer = np.zeros((1, 65)), np.zeros((1, 65))
    try:
        cv2.grabCut(ground.pixels, labels, (0, 0, 1, 1), outer, inner, 2, cv2.GC_INIT_WITH_MASK)
    except cv2.error:  # one of the two sides has too few pixels to learn from
        return thing
    return np.asarray((labels == cv2.GC_FGD) | (labels == cv2.GC_PR_FGD))


def _touched(thing: Bools, near: Bools) -> Bools:
    """Without parts that the mark hardly touches."""
    count, labels = cv2.connectedComponents(thing.astype(np.uint8), connectivity=8)
    touched = np.bincount(labels[near], minlength=count) >= MIN_MARK_SHARE * near.sum()
    touched[0] = False
    return np.asarray(touched[labels])
