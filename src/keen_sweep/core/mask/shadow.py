"""The cast shadow of a marked thing: what is darker, on the ground, where the sun would throw its outline.

The outline of a thing that stands upright is thrown onto flat ground by an affine map that keeps the feet where they
are: height h above them goes to h times one vector, the same for all things in a frame. That vector is searched for;
then the shadow is what is dark within reach of the thrown outline. (From first principles, no source.)
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.fit import HALF
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels

Bools = NDArray[np.bool_]
Floats = NDArray[np.float32]
# Height of a thing while its shadow is looked for, pixels.
WORKING = 96
# How much of its light a shadow takes at least (natural logarithm), and how much of the thrown outline is dark.
LEAST_DROP, LEAST_DARK = 0.22, 0.5
# How far the hue of a shadow may be from that of lit ground, in logarithms: skylight is blue.
ALIKE = 0.35
ACROSS = np.linspace(-2.4, 2.4, 25)
ALONG = np.array([-0.8, -0.6, -0.45, -0.3, -0.2, -0.15, -0.1, -0.06, 0.06, 0.1, 0.15, 0.2, 0.3, 0.45, 0.6, 0.8])


@dataclass(frozen=True)
class Sun:
    """Where a shadow falls: across and down the picture for every pixel of height."""

    across: float
    down: float


SUNS = tuple(Sun(float(across), float(down)) for across in ACROSS for down in ALONG)


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
    ground = _ground(picture, thing)
    if ground is None:
        return None
    suns = [each for each in SUNS if sun is None or abs(each.across - sun.across) + 2 * abs(each.down - sun.down) < 0.5]
    fits = [(fit, each) for each in suns if (fit := _fit(ground, each)) is not None]
    if not fits:
        return None
    best, at = max(fits, key=lambda pair: pair[0].score)
    if best.score <= 0 or best.drop < LEAST_DROP or best.dark < LEAST_DARK:
        return None
    mask = _dark_part(ground, at, best)
    if mask.sum() < 0.04 * ground.body.sum():
        return None
    box = ground.box
    soft = cv2.resize(mask.astype(np.float32), (box.width, box.height), interpolation=cv2.INTER_LINEAR)
    hard = (soft > 0.5) & ~ground.here
    confidence = float(np.clip(best.dark * min(best.drop / 0.5, 1.0), 0, 1))
    return Shadow(Mask(box, np.where(hard, 255, 0).astype(np.uint8)), at, confidence)


@dataclass(frozen=True)
class _Surroundings:
    """The surroundings of a thing at a working size: light (h, w), hue (h, w, 2), the thing itself (h, w); and the
    box of the picture that they show, with the thing there at full size."""

    box: Box
    here: Bools
    light: Floats
    hue: Floats
    body: Bools


@dataclass(frozen=True)
class _Fit:
    """How well a sun fits: drop of light, share of the thrown outline that is dark, light and hue beside it."""

    score: float
    size: float
    drop: float
    dark: float
    level: float
    tint: Floats


def _ground(picture: Pixels, thing: Mask) -> _Surroundings | None:
    tight = box_of(thing.pixels >= HALF)
    if tight.empty:
        return None
    box = tight.moved(thing.box.x, thing.box.y)
    reach = round(2.6 * box.height)
    around = Box(x=box.x - reach, y=box.y, width=box.width + 2 * reach, height=2 * box.height).intersect(whole(picture))
    scale = min(1.0, WORKING / box.height)
    size = (max(round(around.width * scale), 8), max(round(around.height * scale), 8))
    pixels = cv2.resize(to_eight_bit(np.ascontiguousarray(picture[around.slices])), size, interpolation=cv2.INTER_AREA)
    light, hue = _light(pixels)
    here = np.zeros((around.height, around.width), bool)
    common = box.intersect(around)
    here[common.relative_to(around).slices] = thing.pixels[common.relative_to(thing.box).slices] >= HALF
    body = cv2.resize(here * np.uint8(255), size, interpolation=cv2.INTER_AREA) > 127
    return _Surroundings(around, here, light, hue, body) if body.sum() >= 30 else None


def _light(pixels: NDArray[Any]) -> tuple[Floats, Floats]:
    """Logarithm of linear light (h, w), and of red and blue over green (h, w, 2), a little smoothed: texture is not
    shadow. A shadow lies on the ground that is lit beside it, and has its hue."""
    linear = cv2.GaussianBlur((np.asarray(pixels, np.float32) / 255) ** 2.2, (0, 0), 1.5) + np.float32(0.004)
    light = np.log(linear @ np.array([0.2126, 0.7152, 0.0722], np.float32))
    hue = np.log(linear[..., [0, 2]] / linear[..., 1:2])
    return np.asarray(light, np.float32), np.asarray(hue, np.float32)


def _thrown(body: Bools, sun: Sun) -> Bools:
    """The outline of a thing as a sun throws it onto the ground."""
    foot = float(np.flatnonzero(body.any(axis=1))[-1])
    move = np.array([[1, -sun.across, foot * sun.across], [0, -sun.down, foot * (1 + sun.down)]], np.float32)
    flat = cv2.warpAffine(body.astype(np.uint8) * 255, move, body.shape[::-1], flags=cv2.INTER_LINEAR)
    return np.asarray(flat > 96)


def _grown(mask: Bools, side: int) -> Bools:
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    return np.asarray(cv2.dilate(mask.astype(np.uint8), disc)) > 0


def _fit(ground: _Surroundings, sun: Sun) -> _Fit | None:
    clear = ~_grown(ground.body, 5)
    thrown = _thrown(ground.body, sun)
    inside = thrown & clear
    if inside.sum() < max(0.25 * ground.body.sum() * min(abs(sun.down), 1.0), 25):
        return None
    ring = _grown(thrown, 13) & ~thrown & clear
    if ring.sum() < 25:
        return None
    level = float(np.percentile(ground.light[ring], 60))
    tint = np.median(ground.hue[ring & (ground.light > level - 0.2)], axis=0)
    like = np.hypot(*(ground.hue[inside] - tint).T) < ALIKE
    values = ground.light[inside]
    drop = level - float(np.median(values))
    limit = level - 0.5 * max(drop, LEAST_DROP)
    dark = float(((values < limit) & like).mean())
    beside = float((ground.light[ring] < limit).mean())
    size = float(np.sqrt(inside.sum()))
    # Neither what is brighter than its surroundings nor what goes on beside it is a shadow.
    score = min(max(drop, 0.0), 0.8) * (dark - 1.2 * beside) * size
    return _Fit(score, size, drop, dark - 0.5 * beside, level, np.asarray(tint, np.float32))


def _dark_part(ground: _Surroundings, sun: Sun, fit: _Fit) -> Bools:
    """What is dark within reach of the thrown outline and hangs together with it."""
    thrown = _thrown(ground.body, sun)
    like = np.hypot(*np.moveaxis(ground.hue - fit.tint, 2, 0)) < ALIKE
    dark = (ground.light < fit.level - 0.5 * fit.drop) & like & _grown(thrown, 11) & ~ground.body
    slim = cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    count, labels = cv2.connectedComponents(slim, connectivity=8)
    share = np.bincount(labels[thrown & (slim > 0)], minlength=count)
    keep = share >= 0.05 * max(int(share[1:].sum()), 1)
    keep[0] = False
    closed = cv2.morphologyEx(keep[labels].astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    return np.asarray(closed > 0) & ~ground.body
