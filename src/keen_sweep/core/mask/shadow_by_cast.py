"""The cast shadow of a marked thing: where a network of ours sees one (core.mask.cast), and one sun throws it.

What the network says is held against the outline as each sun would throw it; the sun that fits best is told to the
network, which looks again.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import box_of, whole
from keen_sweep.core.mask.cast import Cast, cast_by, foot_of
from keen_sweep.core.mask.fit import HALF
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.sun import SUNS, Sun, thrown
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
Floats = NDArray[np.float32]
# From which chance on a place belongs to a shadow; how much of the thing it must be; how much of what a sun throws the
# network must see, and how sure it must be.
LIKELY, LEAST, LEAST_FIT, LEAST_SURE = 0.5, 0.04, 0.3, 0.5


@dataclass(frozen=True)
class Shadow:
    """A shadow found: its mask, the sun that throws it, and how sure that is, 0 to 1."""

    mask: Mask
    sun: Sun
    confidence: float


def shadow_of(picture: Pixels, thing: Mask, sun: Sun | None = None) -> Shadow | None:
    """The cast shadow of a thing in a picture (H, W, 3), or None where there is none to be seen.

    sun: as found from another shadow of the frame; only directions near it are tried then.
    """
    tight = box_of(thing.pixels >= HALF)
    if tight.empty:
        return None
    here = np.zeros(picture.shape[:2], np.bool_)
    inside = thing.box.intersect(whole(picture))
    here[inside.slices] = thing.pixels[inside.relative_to(thing.box).slices] >= HALF
    if not here.any():
        return None
    first = cast_by(picture, here, sun)
    fit, at = max(((_fit(first, each), each) for each in SUNS if sun is None or each.like(sun)), key=lambda pair: pair[0])
    if fit < LEAST_FIT:
        return None
    again = cast_by(picture, here, at)
    part = _part(again, at)
    if part.sum() < LEAST * (first.body > 0.5).sum():
        return None
    sure = float(again.shadow[part].mean())
    confidence = float(np.clip(sure * min(_fit(again, at) / 0.6, 1.0), 0, 1))
    if confidence < LEAST_SURE:
        return None
    box = again.box
    soft = cv2.resize(np.where(part, again.shadow, 0), (box.width, box.height), interpolation=cv2.INTER_LINEAR)
    shown = box.intersect(whole(picture))
    hard = (soft[shown.relative_to(box).slices] > LIKELY) & ~here[shown.slices]
    return Shadow(Mask(shown, np.where(hard, 255, 0).astype(np.uint8)), at, confidence)


def _fit(seen: Cast, sun: Sun) -> float:
    """How well what is seen is what a sun throws: soft intersection over union outside the thing."""
    outside = 1 - seen.body
    chance, flat = seen.shadow * outside, thrown(seen.body, foot_of(seen.body), sun) * outside
    return float(np.minimum(chance, flat).sum() / max(float(np.maximum(chance, flat).sum()), 1.0))


def _part(seen: Cast, sun: Sun) -> Bools:
    """What is likely shadow and hangs together with what the sun throws."""
    likely = ((seen.shadow > LIKELY) & (seen.body < 0.5)).astype(np.uint8)
    count, labels = cv2.connectedComponents(likely, connectivity=8)
    flat = thrown(seen.body, foot_of(seen.body), sun) > 0.5
    keep = np.bincount(labels[flat & (likely > 0)], minlength=count) >= 4
    keep[0] = False
    return np.asarray(keep[labels])
