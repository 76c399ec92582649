"""Everything about one part that does not depend on the seed: its surroundings, at every scale."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.close.continuation import continuation
from keen_sweep.core.fill.weave.features import Features, features_of, halve_known
from keen_sweep.core.fill.weave.shifts import Shifts, shifts_of
from keen_sweep.core.fill.weave.tone import MOST_PIXELS, Tone, tone_of
from keen_sweep.core.photo.picture import Pixels

REACH = 3  # patches are 7 x 7
# Holes up to this radius, in pixels, are woven along their smooth continuation.
GUIDED = 16.0
COARSEST_RADIUS = 5.0
SMALLEST_SIDE = 36
# Repeats are looked for at the finest level whose longer side is no longer than this.
SHIFT_SIDE = 400


@dataclass(frozen=True)
class Level:
    """One scale: features, what is to be found, which patch centres may be drawn from, which are matched.

    targets (n, 2) int32 are the rows and columns of all pixels whose patch reaches into the hole, in scan
    order; sources (m, 2) likewise of allowed patch centres. guide (k, 3) float32, where a hole is narrow enough
    to have one, is the smooth continuation of L*, a*, b* at the hole's pixels in scan order.
    """

    features: Features
    hole: NDArray[np.bool_]
    known: NDArray[np.bool_]
    allowed: NDArray[np.bool_]
    targets: NDArray[np.int32]
    sources: NDArray[np.int32]
    finest: bool
    guide: NDArray[np.float32] | None


@dataclass(frozen=True)
class Scene:
    """A part in its surroundings: box in the picture, pixels there, hole to fill, levels from fine to coarse. loose:
    what of the hole need not meet what is beside it."""

    box: Box
    pixels: Pixels
    hole: NDArray[np.bool_]
    known: NDArray[np.bool_]
    radius: float
    guided: bool
    levels: tuple[Level, ...]
    shift_level: int
    shifts: Shifts | None
    tone: Tone
    loose: NDArray[np.bool_] | None = None


def surroundings(part: Box, picture: Box) -> Box:
    """The box that a part is filled from: as much round it as it is long, within reason."""
    margin = int(np.clip(max(part.width, part.height), 96, 900))
    return part.grow(margin, picture)


def make_scene(
    pixels: Pixels,
    box: Box,
    hole: NDArray[np.bool_],
    unknown: NDArray[np.bool_],
    barred: NDArray[np.bool_],
    radius: float,
    foreign: NDArray[np.bool_] | None = None,
) -> Scene:
    """Prepare the surroundings of a part.

    pixels (h, w, 3), hole, unknown and barred (h, w) bool all show the same box of the picture. unknown pixels
    (other holes) are no picture; barred ones may be looked at but not drawn from. radius: of the largest disc in
    the hole. foreign (h, w) bool: what is of another kind than the fill will be, which it need not meet.
    Raises BadMask when no whole patch is left to draw from.
    """
    features = features_of(pixels, ~(hole | unknown))
    guided = radius <= GUIDED
    levels = [_level(features, hole, unknown, barred, guided, finest=True)]
    if not len(levels[0].sources):
        raise BadMask("Too little of the picture is left round the mask to fill it from: mark less.")
    coarse = (hole, unknown, barred)
    while radius / 2 ** (len(levels) - 1) > COARSEST_RADIUS and min(coarse[0].shape) // 2 >= SMALLEST_SIDE:
        coarse_features, coarse_hole = halve_known(features, coarse[0])
        coarse = (coarse_hole, _halved(coarse[1]), _halved(coarse[2]))
        level = _level(coarse_features, *coarse, guided, finest=False)
        if len(level.sources) < 16:
            break
        features = coarse_features
        levels.append(level)
    at = next((k for k, level in enumerate(levels) if max(level.hole.shape) <= SHIFT_SIDE), len(levels) - 1)
    at = max(at, min(1, len(levels) - 1))
    level = levels[at]
    shifts = None if guided else shifts_of(level.features, level.hole, level.known, level.allowed)
    return Scene(
        box=box,
        pixels=pixels,
        hole=hole,
        known=~(hole | unknown),
        radius=radius,
        guided=guided,
        levels=tuple(levels),
        shift_level=at,
        shifts=shifts,
        tone=_tone(levels),
        loose=None if foreign is None or not (foreign & ~hole).any() else hole & _beside(foreign & ~hole),
    )


def _beside(area: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """An area and the pixels beside it."""
    cross = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))
    return np.asarray(cv2.dilate(area.astype(np.uint8), cross) > 0)


def _tone(levels: list[Level]) -> Tone:
    at = next((k for k, level in enumerate(levels) if k and level.hole.sum() <= MOST_PIXELS), len(levels) - 1)
    level = levels[at]
    return tone_of(level.features, level.hole, level.known, at)


def _level(
    features: Features,
    hole: NDArray[np.bool_],
    unknown: NDArray[np.bool_],
    barred: NDArray[np.bool_],
    guided: bool,
    finest: bool,
) -> Level:
    square = np.ones((2 * REACH + 1, 2 * REACH + 1), np.uint8)
    blank = (hole | unknown).astype(np.uint8)
    touched = cv2.dilate(blank, square, borderType=cv2.BORDER_CONSTANT, borderValue=0).astype(bool)
    # Of a barred place no pixel is copied, though a patch may look at it.
    allowed = ~(touched | barred)
    # A patch that is drawn from lies wholly inside.
    allowed[:REACH] = allowed[-REACH:] = False
    allowed[:, :REACH] = allowed[:, -REACH:] = False
    reach = cv2.dilate(hole.astype(np.uint8), square, borderType=cv2.BORDER_CONSTANT, borderValue=0)
    return Level(
        features=features,
        hole=hole,
        known=~(hole | unknown),
        allowed=allowed,
        targets=np.argwhere(reach).astype(np.int32),
        sources=_places(allowed),
        finest=finest,
        guide=_guide(features, hole, unknown) if guided else None,
    )


def _halved(mask: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """True where any of 2 x 2 is."""
    height, width = mask.shape
    framed = np.pad(mask, ((0, height % 2), (0, width % 2)))
    return np.asarray(framed[::2, ::2] | framed[1::2, ::2] | framed[::2, 1::2] | framed[1::2, 1::2])


def _places(allowed: NDArray[np.bool_], most: int = 200_000) -> NDArray[np.int32]:
    """Rows and columns (n, 2) of the allowed pixels, in scan order; of very many an even selection."""
    flat = np.flatnonzero(allowed)
    flat = flat[:: max(len(flat) // most, 1)]
    return np.stack(np.divmod(flat, allowed.shape[1]), 1).astype(np.int32)


def _guide(features: Features, hole: NDArray[np.bool_], others: NDArray[np.bool_]) -> NDArray[np.float32]:
    unknown = hole | others
    near = box_of(hole).grow(4, Box(x=0, y=0, width=hole.shape[1], height=hole.shape[0])).slices
    smooth = continuation(features[near][..., :3].astype(np.float32), unknown[near])
    return smooth[hole[near]]


def hole_window(hole: NDArray[np.bool_], spare: int = 1) -> Box:
    """The box round a hole with some pixels to spare where the array has them."""
    height, width = hole.shape
    return box_of(hole).grow(spare, Box(x=0, y=0, width=width, height=height))
