"""How likely each pixel belongs to the thing that a mark means: by a network of our own, trained on made pictures of
things with exact outlines and on photographs of people (training/cling.py).

It is told what the detector's trunk sees, which knows everyday things; where that is not installed a network that sees
colours alone answers.
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.mask.colours import Colours, lab_of
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.methods.network import answer_of
from keen_sweep.core.scout.networks.trunk import features_of

NETWORK_FILE = Path(__file__).with_name("cling.onnx")
NETWORK_WITHOUT_TRUNK_FILE = Path(__file__).with_name("cling_alone.onnx")
# Margin around a mark, share of the square root of its area.
MARGIN_AREA_SHARE = 0.5
# Margin around a mark, share of its longer side; the larger of the two is used.
MARGIN_LENGTH_SHARE = 0.3
# Smallest margin around a mark, pixels.
MIN_MARGIN_PX = 12
# Side of the square the network sees.
NETWORK_SIDE_PX = 192
INPUT_PLANES = 7
# What is farther away is background, lengths of the mark.
BACKGROUND_DISTANCE = 0.6
# Bound of what colours contribute, a log likelihood ratio.
MAX_LOG_RATIO = 3.0
MIN_BACKGROUND_PIXELS = 80


def pixel_likelihood(pixels: EightBit, near: Bools, how: How, seen: Box | None = None) -> Floats:
    """Likelihood that each pixel around a mark belongs to the marked thing, from our network.

    Parameters
    ----------
    pixels : (h, w, 3) uint8
        sRGB of the surroundings.
    near : (h, w) bool
        What the scribble covers or the outline encloses; at least one pixel.
    how : How
        The gesture.
    seen : Box or None, optional
        Box of the detected thing in the surroundings, if any.

    Returns
    -------
    (NETWORK_SIDE_PX, NETWORK_SIDE_PX) float32
        Likelihood, 0 to 1, spread over the surroundings.
    """
    planes = input_planes(pixels, near, how, seen)
    try:
        known = features_of(pixels)
    except NoWeights:
        return np.asarray(answer_of(NETWORK_WITHOUT_TRUNK_FILE, planes[None, :-1])[0, 0])
    return np.asarray(answer_of(NETWORK_FILE, planes[None], *(each[None] for each in known))[0, 0])


def input_planes(pixels: EightBit, near: Bools, how: How, seen: Box | None) -> Floats:
    """Input planes of the network for a mark and its surroundings.

    Parameters
    ----------
    pixels : (h, w, 3) uint8
        sRGB of the surroundings.
    near : (h, w) bool
        What the scribble covers or the outline encloses.
    how : How
        The gesture.
    seen : Box or None
        Box of the detected thing in the surroundings, if any.

    Returns
    -------
    (7, NETWORK_SIDE_PX, NETWORK_SIDE_PX) float32
        Red, green, blue, the mark, the log likelihood ratio of colours near and far from the mark, the
        gesture, and the detected box.
    """
    side = (NETWORK_SIDE_PX, NETWORK_SIDE_PX)
    square = np.asarray(cv2.resize(pixels, side, interpolation=cv2.INTER_AREA), np.uint8)
    mark = np.asarray(cv2.resize(near.astype(np.float32), side, interpolation=cv2.INTER_AREA), np.float32)
    planes = [square[..., k].astype(np.float32) / 255 - 0.5 for k in range(3)]
    plane = np.full(side, 0.5 if how == "outline" else -0.5, np.float32)
    boxed = np.zeros(side, np.float32)
    if seen is not None:
        within = seen.intersect(whole(near))
        across, down = NETWORK_SIDE_PX / near.shape[1], NETWORK_SIDE_PX / near.shape[0]
        rows = slice(round(within.y * down), round(within.bottom * down))
        boxed[rows, round(within.x * across) : round(within.right * across)] = 1
    return np.stack([*planes, mark, _told_by_colour(square, mark, how), plane, boxed])


def surroundings_box(near: Bools) -> Box:
    """Box of the surroundings of a mark that the network sees.

    Parameters
    ----------
    near : (H, W) bool
        The mark.

    Returns
    -------
    Box
        The box.
    """
    tight = box_of(near)
    room = max(
        MARGIN_AREA_SHARE * np.sqrt(tight.area), MARGIN_LENGTH_SHARE * max(tight.width, tight.height), MIN_MARGIN_PX
    )
    return tight.grow(int(room), whole(near))


def _told_by_colour(square: EightBit, mark: Floats, how: How) -> Floats:
    """How much more often each pixel's colour occurs in the mark than away from it, -1 to 1."""
    hit = mark > min(0.5, float(mark.max()) * 0.999)
    away = cv2.distanceTransform((~hit).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    outside = ~hit if how == "outline" else away > BACKGROUND_DISTANCE * np.sqrt(hit.sum())
    if outside.sum() < MIN_BACKGROUND_PIXELS:
        outside = ~hit
    colours = Colours(lab_of(square))
    log_ratio = np.log(colours.share(hit) / colours.share(outside))[colours.bins]
    return np.asarray(np.clip(log_ratio, -MAX_LOG_RATIO, MAX_LOG_RATIO) / MAX_LOG_RATIO, np.float32)
