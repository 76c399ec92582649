"""From words to ground: where in the picture a fill may draw from, and what of the words was understood."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.words.command import reply_to_order
from keen_sweep.core.fill.words.materials import named_in
from keen_sweep.core.fill.words.recognise import Recognised, recognise_materials
from keen_sweep.core.sentences import sentence

# Likelihood of the wanted material from which on a place is a source.
MIN_SOURCE_LIKELIHOOD = 0.6
# There is no source where even the likeliest place of the picture stays below this.
MIN_MAX_LIKELIHOOD = 0.15
# Likelihood of a material to avoid from which on a place is excluded.
MIN_AVOID_LIKELIHOOD = 0.45
# Smallest source area, pixels.
MIN_SOURCE_PIXELS = 2_500
# Smallest source area, share of the hole.
MIN_SOURCE_SHARE = 0.4
# Islands smaller than this share of the largest are usually errors.
MIN_ISLAND_SHARE = 0.12
# The rim of an area is the picture's longer side divided by this.
RIM_DIVISOR = 110


@dataclass(frozen=True)
class Understood:
    """What hints mean for a picture.

    Attributes
    ----------
    draw_from : (H, W) bool or None
        Where to copy from.
    barred : (H, W) bool or None
        Where not to copy from.
    foreign : (H, W) bool or None
        Pixels of another kind than the fill.
    found : tuple of str
        Materials that the picture shows.
    missing : tuple of str
        Materials that it does not show, or too little of.
    unknown : tuple of str
        Words that name no material.
    """

    draw_from: Bools | None
    barred: Bools | None
    foreign: Bools | None = None
    found: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """What to tell whoever wrote the words; empty when all was understood."""
        out = []
        if self.missing:
            out.append(sentence("No {things} was found in this picture.", things=" or ".join(self.missing)))
        if self.unknown:
            quoted = ", ".join(f"\u201c{word}\u201d" for word in self.unknown)
            out.append(
                sentence(
                    "{quoted}: weave does not know this ground. Name a material, or fill with a model.", quoted=quoted
                )
            )
        return " ".join(out)


def interpret_hints(picture: Pixels, hole: Bools, hint: str, avoid: str) -> Understood:
    """Interpret hints for a hole.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    hole : (H, W) bool
        The hole.
    hint : str
        What should be seen there.
    avoid : str
        What must not be seen there.

    Returns
    -------
    Understood
        What they mean.
    """
    wanted, strange = named_in(hint)
    unwanted, odd = named_in(avoid)
    if not wanted and not unwanted:
        return Understood(None, None, unknown=(*strange, *odd))
    ground = recognise_materials(picture, hole)
    found, missing = [], []
    draw_from: Bools | None = None
    foreign: Bools | None = None
    for material in wanted:
        area = _there(ground, material, hole)
        if area is None:
            missing.append(material)
            continue
        found.append(material)
        draw_from = area if draw_from is None else draw_from | area
    barred: Bools | None = None
    kept = [material for material in unwanted if material not in wanted]
    if kept:
        near = _whole(ground.where(kept, MIN_AVOID_LIKELIHOOD) & ~hole, whole(picture))
        for material in kept:
            (found if ground.most([material]) >= MIN_AVOID_LIKELIHOOD else missing).append(material)
        barred = near if near.any() else None
    if draw_from is not None:
        foreign = ~(draw_from | hole)
        draw_from = _near(_inner(draw_from, hole), hole)
        if barred is not None:
            draw_from &= ~barred
            barred = None
    return Understood(draw_from, barred, foreign, tuple(found), tuple(missing), (*strange, *odd))


def check_words(picture: Pixels, hole: Bools, hint: str, avoid: str) -> Understood:
    """Interpret the hints of a fill that is about to run.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    hole : (H, W) bool
        The hole.
    hint : str
        What should be seen there.
    avoid : str
        What must not be seen there.

    Returns
    -------
    Understood
        What they mean.

    Raises
    ------
    BadRequest
        The hint is an order, or the picture shows nothing of it.
    """
    for words in (hint, avoid):
        answer = reply_to_order(words)
        if answer:
            raise BadRequest(answer)
    found = interpret_hints(picture, hole, hint, avoid)
    if hint.strip() and found.draw_from is None and (named_in(hint)[0] or found.unknown):
        raise BadRequest(found.words or sentence("The picture does not show that."))
    return found


def _there(ground: Recognised, material: str, hole: Bools) -> Bools | None:
    """Where a material is; a picture that shows it only faintly shows it where it is likeliest. None if nowhere."""
    most = ground.most([material])
    if most < MIN_MAX_LIKELIHOOD:
        return None
    area = _islands(ground.where([material], min(MIN_SOURCE_LIKELIHOOD, 0.7 * most)) & ~hole)
    least = max(min(MIN_SOURCE_PIXELS, hole.size / 50), MIN_SOURCE_SHARE * min(hole.sum(), 20_000))
    return area if area.sum() >= least else None


def _inner(area: Bools, hole: Bools) -> Bools:
    """An area less its rim, if that leaves enough: places straddle the border of two materials."""
    size = 2 * max(round(max(hole.shape) / RIM_DIVISOR), 2) + 1
    square = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    # Beside the hole nothing is known that would tell the material from another.
    shrunk = cv2.erode((area | hole).astype(np.uint8), square, borderValue=1) > 0
    inner = _islands(shrunk & area)
    return inner if inner.sum() >= max(0.4 * area.sum(), hole.sum()) else area


def _islands(area: Bools) -> Bools:
    """An area without its small islands."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(area.astype(np.uint8), connectivity=8)
    if count <= 2:
        return area
    sizes = stats[1:, cv2.CC_STAT_AREA]
    kept = np.concatenate([[False], sizes >= MIN_ISLAND_SHARE * sizes.max()])
    return np.asarray(kept[labels])


def _whole(area: Bools, picture: Box) -> Bools:
    """An area grown by a patch: what stands at its rim is seldom sharp about where it ends."""
    size = 2 * max(round(max(picture.width, picture.height) / 160), 2) + 1
    square = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    return np.asarray(cv2.dilate(area.astype(np.uint8), square) > 0)


def _near(area: Bools, hole: Bools) -> Bools:
    """Of an area what is near the hole, if that is enough: ground close by has its scale and its light."""
    tight = box_of(hole)
    picture = Box(x=0, y=0, width=hole.shape[1], height=hole.shape[0])
    reach = max(tight.width, tight.height, 96)
    for times in (1, 2, 4):
        box = tight.grow(times * reach, picture)
        if area[box.slices].sum() >= max(3 * hole.sum(), MIN_SOURCE_PIXELS):
            out = np.zeros_like(area)
            out[box.slices] = area[box.slices]
            return out
    return area
