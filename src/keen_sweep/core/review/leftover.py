"""Leftover: what of the thing stands outside the mask, next to it."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Floats
from keen_sweep.core.review.scores import lab
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, snag_at
from keen_sweep.core.sentences import sentence

# Distance from the mask that is searched, pixels.
SEARCH_RADIUS_PX = 24
# A remainder begins this close to the mask, pixels.
CONTACT_DISTANCE_PX = 2
# Distance between thing and fill from which on remainders can be recognised, L*a*b*.
MIN_COLOUR_DISTANCE = 12.0
BINS_PER_CHANNEL = 12
MIN_LIKELIHOOD = 0.9
MIN_PIXELS = 16


def leftover(laid: Laid) -> list[Snag]:
    """Find remainders beside the mask, in colours of the thing that the surroundings lack.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    list of Snag
        The snags.
    """
    was, now = lab(laid.before), lab(laid.after)
    thing = laid.hole & (np.linalg.norm(was - now, axis=2) > MIN_COLOUR_DISTANCE)
    if thing.sum() < MIN_PIXELS:
        return []
    distance = cv2.distanceTransform((~laid.hole).astype(np.uint8), cv2.DIST_L2, 5)
    near = (distance > 0) & (distance <= SEARCH_RADIUS_PX)
    # The fill shows what belongs here, and so does all that lies farther off.
    likely = _likelihood(now, was[thing], np.concatenate([now[laid.hole], now[distance > SEARCH_RADIUS_PX]]))
    bits = ((likely > MIN_LIKELIHOOD) & near).astype(np.uint8)
    bits = np.asarray(cv2.morphologyEx(bits, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)), np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(bits, connectivity=8)
    touching = np.unique(labels[(distance > 0) & (distance <= CONTACT_DISTANCE_PX)])
    out = []
    size = float(thing.sum())
    for label in range(1, count):
        area = int(stats[label, cv2.CC_STAT_AREA])
        if label not in touching or area < max(MIN_PIXELS, 0.002 * size):
            continue
        place = labels == label
        edge = place & (distance > SEARCH_RADIUS_PX - 2)
        # What goes on and on is ground of the same colour, not a bit that was cut off.
        if edge.sum() > 0.25 * np.sqrt(area):
            continue
        strength = min(1.0, 0.3 + area / max(0.1 * size, 200.0))
        why = sentence("{area} pixels beside the mask look like what was removed.", area=area)
        out.append(snag_at(SnagKind.LEFTOVER, place, strength, why))
    return out


def _likelihood(planes: Floats, thing: Floats, ground: Floats) -> Floats:
    """(h, w): how likely a colour is the thing's, 0 to 1, by smoothed histograms of both."""
    low, high = planes.reshape(-1, 3).min(0), planes.reshape(-1, 3).max(0)
    low, high = np.minimum(low, thing.min(0)), np.maximum(high, thing.max(0))
    step = np.maximum((high - low) / (BINS_PER_CHANNEL - 1), 4.0)

    def histogram(colours: Floats) -> Floats:
        at = np.rint((colours - low) / step).astype(np.intp)
        table = np.zeros((BINS_PER_CHANNEL + 1,) * 3, np.float32)
        np.add.at(table, tuple(np.clip(at, 0, BINS_PER_CHANNEL).T), 1)
        for axis in range(3):
            rolled = np.moveaxis(table, axis, 0)
            padded = np.concatenate([rolled[:1], rolled, rolled[-1:]])
            table = np.moveaxis((padded[:-2] + 2 * padded[1:-1] + padded[2:]) / 4, 0, axis)
        return np.asarray(table / max(len(colours), 1), np.float32)

    of_thing, of_ground = histogram(thing), histogram(ground)
    share = of_thing / (of_thing + of_ground + 1e-4)
    at = np.clip(np.rint((planes - low) / step).astype(np.intp), 0, BINS_PER_CHANNEL)
    return np.asarray(share[at[..., 0], at[..., 1], at[..., 2]], np.float32)
