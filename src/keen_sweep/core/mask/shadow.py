"""The cast shadow of a marked thing: what has lost light, on the ground, where the sun would throw its outline.

The outline of an upright thing is projected onto flat ground by an affine map that keeps the feet in place: height h
goes to h times one vector, which is the same for all things in a frame. The vector is searched for over all things
together; the shadow is what has lost light (light_loss) near the projected outline. (From first principles, no source.)
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Doubles, EightBit, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.light_loss import light_of, lost_light
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.sun_projection import SUN_CANDIDATES, SUN_CLOSENESS, Sun, foot_of, projected_outline
from keen_sweep.core.photo.channels import to_eight_bit

# Height of a thing while its shadow is searched for, pixels.
WORKING_HEIGHT_PX = 96
# The ground is learnt from this share of the thing's height above its feet downwards.
GROUND_HEIGHT_SHARE = 0.45
# Larger losses count as this much: a shadow is not black.
MAX_LIGHT_LOSS = 0.8
# Ground lighter than lit ground counts as no less than this.
MIN_LIGHT_LOSS = -0.3
# Light a shadow takes at least, natural logarithm.
MIN_SHADOW_LOSS = 0.22
# A place belongs to a shadow from this share of the shadow's loss on.
INSIDE_LOSS_SHARE = 0.5
# Intercept of the logistic regression for the probability that a sun throws a shadow, learnt from 330 synthetic
# pictures (docs/marking.md).
SUN_INTERCEPT = -5.06
# Its weights: log contrast times the root of the places seen, median loss of light where it is thrown, shadowed share
# there, shadowed share beside it, unevenness of the loss, steepness of the sun.
SUN_WEIGHTS = (2.6, 0.94, 2.46, -7.2, -4.22, -1.43)
# Smallest probability of a sun that one thing supports.
MIN_SUN_PROBABILITY = 0.35
# Added to that limit for each further thing.
PROBABILITY_PER_THING = 0.03
# Smallest probability of a shadow when the sun is known.
MIN_KNOWN_SUN_PROBABILITY = 0.15
# Share of the visible ground under the thrown outline that a shadow covers.
MIN_COVERED_SHARE = 0.45


@dataclass(frozen=True)
class Shadow:
    """A cast shadow.

    Attributes
    ----------
    mask : Mask
        Its mask.
    sun : Sun
        The sun that casts it.
    confidence : float
        Probability, 0 to 1.
    """

    mask: Mask
    sun: Sun
    confidence: float


@dataclass(frozen=True)
class ShadowEvidence:
    """The surroundings of a thing at working size, and how well each candidate sun explains what is dark in
    them.

    Attributes
    ----------
    box : Box
        The box in the picture.
    here : (H, W) bool
        The thing at full size, in the box.
    lost : (h, w) float32
        Light that each pixel has lost, natural logarithm.
    body : (h, w) bool
        The thing.
    others : (h, w) bool
        Other things.
    signs : list of (6,) float64 or None
        Features of each sun in SUN_CANDIDATES, see SUN_WEIGHTS.
    chances : (n,) float32
        Probability that each sun casts a shadow of the thing.
    """

    box: Box
    here: Bools
    lost: Floats
    body: Bools
    others: Bools
    signs: list[Doubles | None]
    chances: Floats

    def shadow(self, sun: Sun) -> Shadow | None:
        """The shadow that a sun throws, or one near it, or None where there is none to be seen."""
        tried = [k for k, each in enumerate(SUN_CANDIDATES) if each.like(sun)]
        if not tried:
            return None
        best = tried[int(np.argmax(self.chances[tried]))]
        if self.chances[best] < MIN_KNOWN_SUN_PROBABILITY:
            return None
        at = SUN_CANDIDATES[best]
        thrown = projected_outline(at, self.body)
        inside, _ = _inside_and_beside(thrown, ~_grown(self.body | self.others, 5))
        part = self._part(thrown, max(float(np.median(self.lost[inside])), MIN_SHADOW_LOSS))
        if part.sum() < max(0.04 * self.body.sum(), MIN_COVERED_SHARE * inside.sum()):
            return None
        # Round where the working size has steps.
        smooth = cv2.GaussianBlur(part.astype(np.float32), (0, 0), 0.8)
        soft = cv2.resize(smooth, (self.box.width, self.box.height), interpolation=cv2.INTER_CUBIC)
        hard = (soft > 0.5) & ~self.here
        return Shadow(Mask(self.box, np.where(hard, 255, 0).astype(np.uint8)), at, float(self.chances[best]))

    def _part(self, thrown: Bools, drop: float) -> Bools:
        """What has lost light within reach of the thrown outline and hangs together with it."""
        dark = (self.lost > INSIDE_LOSS_SHARE * drop) & _grown(thrown, 11) & ~self.body & ~_grown(self.others, 3)
        slim = cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_OPEN, _disc(3))
        count, labels = cv2.connectedComponents(slim, connectivity=8)
        share = np.bincount(labels[thrown & (slim > 0)], minlength=count)
        keep = share >= 0.05 * max(int(share[1:].sum()), 1)
        keep[0] = False
        closed = cv2.morphologyEx(keep[labels].astype(np.uint8), cv2.MORPH_CLOSE, _disc(5))
        return np.asarray(closed > 0) & ~self.body


def shadow_of(picture: Pixels, thing: Mask, sun: Sun | None = None) -> Shadow | None:
    """Find the cast shadow of a thing.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    thing : Mask
        Mask of the thing.
    sun : Sun or None, optional
        The sun of another shadow in the frame: only directions close to it are tried.

    Returns
    -------
    Shadow or None
        The shadow; None where none is visible.
    """
    throws = shadow_evidence(picture, thing)
    if throws is None:
        return None
    at = sun or common_sun([throws])
    return throws.shadow(at) if at is not None else None


def shadow_evidence(picture: Pixels, thing: Mask, others: Sequence[Mask] = ()) -> ShadowEvidence | None:
    """Measure how well each candidate sun explains what is dark around a thing.

    Parameters
    ----------
    picture : (H, W, 3) uint8 or uint16
        The picture.
    thing : Mask
        Mask of the thing.
    others : sequence of Mask, optional
        Other things there, which are no shadows.

    Returns
    -------
    ShadowEvidence or None
        The measurements; None where too little of the ground is visible.
    """
    tight = box_of(thing.pixels >= MASK_THRESHOLD)
    if tight.empty:
        return None
    box = tight.moved(thing.box.x, thing.box.y)
    if box.bottom >= picture.shape[0]:
        return None  # where it stands is not in the picture
    reach = round(2.6 * box.height)
    around = Box(x=box.x - reach, y=box.y, width=box.width + 2 * reach, height=2 * box.height).intersect(whole(picture))
    scale = min(1.0, WORKING_HEIGHT_PX / box.height)
    size = (max(round(around.width * scale), 8), max(round(around.height * scale), 8))
    pixels = cv2.resize(to_eight_bit(np.ascontiguousarray(picture[around.slices])), size, interpolation=cv2.INTER_AREA)
    covered = thing_cover, _ = _seen_in(around, [thing]), _seen_in(around, others)
    body, beside = (cv2.resize(each * np.uint8(255), size, interpolation=cv2.INTER_AREA) > 127 for each in covered)
    if body.sum() < 30:
        return None
    light, hue = light_of(pixels)
    ground = ~_grown(body | beside, 5)
    ground[: max(round(foot_of(body) - GROUND_HEIGHT_SHARE * WORKING_HEIGHT_PX), 0)] = False
    lost = lost_light(light, hue, ground)
    counted, clear = np.clip(lost, MIN_LIGHT_LOSS, MAX_LIGHT_LOSS), ~_grown(body | beside, 5)
    signs = [_signs(counted, body, clear, sun) for sun in SUN_CANDIDATES]
    chances = np.array([_chance(each) for each in signs], np.float32)
    return ShadowEvidence(around, thing_cover, lost, body, beside, signs, chances)


def common_sun(throws: Sequence[ShadowEvidence]) -> Sun | None:
    """The sun that most things of a frame agree on, weighted by their probabilities.

    Parameters
    ----------
    throws : sequence of ShadowEvidence
        Measurements of several things.

    Returns
    -------
    Sun or None
        The sun; None where there is no agreement.
    """
    if not throws:
        return None
    # Seen from other places one sun throws a little differently.
    votes = np.sum([(SUN_CLOSENESS * each.chances).max(axis=1) for each in throws], axis=0)
    best = int(np.argmax(votes))
    return (
        SUN_CANDIDATES[best] if votes[best] >= MIN_SUN_PROBABILITY + PROBABILITY_PER_THING * (len(throws) - 1) else None
    )


def _seen_in(box: Box, masks: Sequence[Mask]) -> Bools:
    """What masks cover of a box, (h, w)."""
    out = np.zeros((box.height, box.width), np.bool_)
    for mask in masks:
        common = mask.box.intersect(box)
        if not common.empty:
            out[common.relative_to(box).slices] |= mask.pixels[common.relative_to(mask.box).slices] >= MASK_THRESHOLD
    return out


def _signs(lost: Floats, body: Bools, clear: Bools, sun: Sun) -> Doubles | None:
    """What speaks for a sun (see SUN_WEIGHTS): more light is lost where it throws the outline than beside that, evenly,
    and much of it is seen. A stripe that goes on beside it is no shadow. None where too little is seen, or nothing
    speaks for it. lost: as far as it counts."""
    inside, beside = _inside_and_beside(projected_outline(sun, body), clear)
    seen = int(inside.sum())
    if seen < max(0.25 * body.sum() * min(abs(sun.down), 1.0), 25) or beside.sum() < 25:
        return None
    within, around = lost[inside], lost[beside]
    contrast = float(within.mean() - around.mean())
    if contrast <= 0:
        return None
    drop = float(np.median(within))
    limit = INSIDE_LOSS_SHARE * max(drop, MIN_SHADOW_LOSS)
    shares = (within > limit).mean(), (around > limit).mean()
    return np.array([np.log(contrast * np.sqrt(seen)), drop, *shares, within.std(), abs(sun.down)])


def _chance(signs: Doubles | None) -> float:
    """How likely a sun throws a shadow, 0 to 1."""
    return 0.0 if signs is None else float(1 / (1 + np.exp(-(SUN_INTERCEPT + signs @ np.array(SUN_WEIGHTS)))))


def _inside_and_beside(thrown: Bools, clear: Bools) -> tuple[Bools, Bools]:
    """What of a thrown outline lies on clear ground, and the clear ground on both sides of it."""
    inside = thrown & clear
    return inside, _round(inside, 13) & ~_round(thrown, 5) & clear


def _round(mask: Bools, side: int) -> Bools:
    return np.asarray(cv2.dilate(mask.view(np.uint8), np.ones((side, side), np.uint8))).view(np.bool_)


def _grown(mask: Bools, side: int) -> Bools:
    return np.asarray(cv2.dilate(mask.view(np.uint8), _disc(side))) > 0


def _disc(side: int) -> EightBit:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)), np.uint8)
