"""Which thing a mark may mean, by what the detector sees round it: a person or a thing under the mark brings its box
along, so that head and shoes come with the shirt.

The detector is asked more closely than the scouts ask it, and of what kind it takes a thing to be does not matter: a
cushion that it calls a cat is boxed as well as a cat.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import NoWeights
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.scout.networks.detector import INPUT_SIDE_PX, Seen, detect

# Detections with a lower score are ignored.
MIN_SCORE = 0.2
# Sides of the squares searched around a mark, in longer sides of the mark.
CROP_RATIOS = (1.5, 2.6)
# Sides of the squares searched around a click, as shares of the picture's longer side.
CLICK_CROP_SHARES = (0.15, 0.4, 2.0)
# A box that ends this close to the border of its square may be cut off, detector pixels.
CUT_MARGIN_PX = 4.0
# Share of a mark that must lie in the box.
MIN_INSIDE_SHARE = 0.8
# Growth of the box before that is tested, in its longer sides.
BOX_GROWTH_SHARE = 0.04
# Smallest ratio of the mark's length to the box's along the mark.
MIN_LENGTH_RATIO = 0.5
# Exponent with which small things are preferred under a click.
SIZE_PREFERENCE = 0.3


@dataclass(frozen=True)
class DetectedTarget:
    """A detected thing that a mark may mean.

    Attributes
    ----------
    box : Box
        Its box in the picture.
    kind : str
        Name of its class.
    score : float
        Confidence of the detector, 0 to 1.
    """

    box: Box
    kind: str
    score: float


def detected_target(picture: Pixels, near: Bools, how: How) -> DetectedTarget | None:
    """Find the detected thing that fits a mark best.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    near : (H, W) bool
        What the scribble covers or the outline encloses.
    how : How
        The gesture.

    Returns
    -------
    DetectedTarget or None
        The thing; None where nothing fits or the detector is not installed.
    """
    mark = box_of(near)
    held = near[mark.slices]
    best: tuple[float, DetectedTarget] | None = None
    try:
        for each in _candidates(picture, mark, how == "click"):
            fit = _fit(each, held, mark, whole(near), how)
            if fit > 0 and (best is None or fit > best[0]):
                best = fit, each
    except NoWeights:
        return None
    return None if best is None else best[1]


def _candidates(picture: Pixels, mark: Box, clicked: bool) -> Iterator[DetectedTarget]:
    room = whole(picture)
    long = max(room.width, room.height) if clicked else max(mark.width, mark.height)
    looked_at = set()
    for times in CLICK_CROP_SHARES if clicked else CROP_RATIOS:
        side = max(round(times * long), 48)
        corner = (mark.x + (mark.width - side) // 2, mark.y + (mark.height - side) // 2)
        square = Box(x=corner[0], y=corner[1], width=side, height=side).intersect(room)
        if square in looked_at:
            continue
        looked_at.add(square)
        pixels = _small(picture, square)
        scale = square.width / pixels.shape[1]
        for seen in detect(pixels, MIN_SCORE):
            if not _cut(seen, pixels, square, room):
                left, top, right, bottom = (round(v * scale) for v in seen.box)
                box = Box(x=square.x + left, y=square.y + top, width=right - left, height=bottom - top).intersect(room)
                if not box.empty:
                    yield DetectedTarget(box, seen.kind, seen.score)


def _small(picture: Pixels, square: Box) -> EightBit:
    """A square of the picture no larger than the detector looks at it."""
    pixels: Pixels = np.ascontiguousarray(picture[square.slices])
    small = INPUT_SIDE_PX / max(square.width, square.height)
    if small < 1:
        pixels = np.asarray(cv2.resize(pixels, None, fx=small, fy=small, interpolation=cv2.INTER_AREA))
    return to_eight_bit(np.ascontiguousarray(pixels))


def _cut(seen: Seen, pixels: EightBit, square: Box, room: Box) -> bool:
    near = CUT_MARGIN_PX * max(pixels.shape[:2]) / INPUT_SIDE_PX
    left, top, right, bottom = seen.box
    return (
        (left < near and square.x > room.x)
        or (top < near and square.y > room.y)
        or (right > pixels.shape[1] - near and square.right < room.right)
        or (bottom > pixels.shape[0] - near and square.bottom < room.bottom)
    )


def _fit(each: DetectedTarget, held: Bools, mark: Box, room: Box, how: How) -> float:
    """How well a thing fits a mark, whose pixels in its box are held; 0 where it does not."""
    grown = each.box.grow(round(BOX_GROWTH_SHARE * max(each.box.width, each.box.height)), room).intersect(mark)
    if grown.empty:
        return 0.0
    inside = float(held[grown.relative_to(mark).slices].sum() / held.sum())
    if inside < MIN_INSIDE_SHARE:
        return 0.0
    if how == "click":
        # What is smaller stands before what is larger.
        return float(each.score * (each.box.area / room.area) ** -SIZE_PREFERENCE)
    across, down = (
        _overlap(mark.x, mark.right, each.box.x, each.box.right),
        _overlap(mark.y, mark.bottom, each.box.y, each.box.bottom),
    )
    along, aside = (down, across) if mark.height >= mark.width else (across, down)
    if along < MIN_LENGTH_RATIO or (how == "outline" and along * aside < MIN_LENGTH_RATIO):
        return 0.0
    # A stroke along the middle of a thing says little of its width.
    return inside * along * (0.5 + 0.5 * aside) * (0.5 + each.score)


def _overlap(low: float, high: float, other_low: float, other_high: float) -> float:
    """Intersection over union of two stretches."""
    return max(min(high, other_high) - max(low, other_low), 0.0) / (max(high, other_high) - min(low, other_low))
