"""Backdrop: studio paper or cloth continued, its tones drawn on smoothly and its grain laid anew.

Tones are the harmonic continuation of the paper's, at a coarse scale. The grain is what is left of the paper without
them, in overlapping blocks from random places, mixed with weights whose squares sum to one, so that its strength stays.
"""

from __future__ import annotations

import time
from collections.abc import Iterator

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import box_of
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.mask.backdrop import backdrop_of
from keen_sweep.core.methods.grain import smooth_known
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.sentences import sentence

# Longer side at which the tones of the paper are continued, pixels.
TONE_SIDE_PX = 150
# Sides of the blocks from which grain is copied, largest first, pixels.
GRAIN_BLOCK_SIDES_PX = (96, 64, 32, 16)
# Detail finer than this standard deviation counts as grain, pixels.
GRAIN_SIGMA_PX = 10.0
# Paper this close to anything else is not copied, pixels.
PAPER_MARGIN_PX = 3
# Paper curls at its edge: tones closer to the hole than this share of the longer side are not used.
CURL_SHARE = 0.012
# Distance over which the fill passes from the tones at its rim to its own, share of the longer side.
FADE_SHARE = 0.05
BACKDROP_REASON = sentence("the tones of the backdrop are continued, with its own grain")


class BackdropEngine:
    """Engine of the method backdrop: continues the tones of paper, with its grain."""

    name = "backdrop"

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield takes, told apart by their grain; see Engine. Raises BadMask where no paper is to be seen."""
        clock = time.perf_counter()
        hole = hole_of(given)
        box = box_of(hole)
        inside = hole[box.slices]
        tones, residual, usable = _paper(given, hole)
        report = PartReport(MadeBy.BACKDROP, BACKDROP_REASON, box, int(inside.sum()))
        most = float(np.iinfo(given.below.dtype).max)
        for number in range(given.takes):
            given.progress(
                number / given.takes, sentence("take {number} of {takes}", number=number + 1, takes=given.takes)
            )
            random = np.random.Generator(np.random.PCG64(given.seed + number))
            grain = _grain(residual, usable, (box.height, box.width), random)
            filled = np.rint(tones[box.slices] + grain).clip(0, most).astype(given.below.dtype)
            yield Patch(
                box=box,
                pixels=np.where(inside[..., None], filled, given.below[box.slices]),
                alpha=np.where(inside, given.mask[box.slices], 0).astype(np.uint8),
                method=MadeBy.BACKDROP,
                seed=given.seed + number,
                seconds=time.perf_counter() - clock,
                parts=(report,),
                provenance=Provenance(quality=given.quality),
            )


def _paper(given: FillInput, hole: Bools) -> tuple[Floats, Floats, Bools]:
    """The paper's tones drawn on over the picture, (H, W, 3); its grain, and where that is usable, (H, W)."""
    known = ~hole & _plain(given.below)
    for other in (given.sources.barred, None if given.sources.draw_from is None else ~given.sources.draw_from):
        if other is not None:
            known &= ~other
    known = _inner(known, PAPER_MARGIN_PX)
    if known.sum() < GRAIN_BLOCK_SIDES_PX[-1] ** 2:
        raise BadMask(sentence("There is no backdrop around this mask: choose another method."))
    pixels = given.below.astype(np.float32)
    away = cv2.distanceTransform((~hole).astype(np.uint8), cv2.DIST_L2, 5)
    flat = known & (away > CURL_SHARE * max(hole.shape))
    tones = _drawn_on(pixels, flat if flat.sum() > 0.2 * known.sum() else known)
    calm = smooth_known(pixels, known, GRAIN_SIGMA_PX)
    tones += _met(calm - tones, known, hole)
    return tones, np.where(known[..., None], pixels - calm, np.float32(0)), known


def _met(difference: Floats, known: Bools, hole: Bools) -> Floats:
    """What has to be added in the hole so that it meets the paper at its rim, fading away from it, (H, W, 3)."""
    fade = FADE_SHARE * max(hole.shape)
    step = max(int(fade / 6), 1)
    size = (max(hole.shape[1] // step, 1), max(hole.shape[0] // step, 1))
    weight = np.asarray(cv2.resize(known.astype(np.float32), size, interpolation=cv2.INTER_AREA))
    sums = np.asarray(cv2.resize(difference * known[..., None], size, interpolation=cv2.INTER_AREA), np.float32)
    mean = cv2.GaussianBlur(sums, (0, 0), 2.0) / np.maximum(cv2.GaussianBlur(weight, (0, 0), 2.0), 1e-4)[..., None]
    total = cv2.resize(np.asarray(mean, np.float32), hole.shape[::-1], interpolation=cv2.INTER_LINEAR)
    away = cv2.distanceTransform((~known).astype(np.uint8), cv2.DIST_L2, 5)
    return np.asarray(total * np.exp(-((np.asarray(away) / fade) ** 2))[..., None], np.float32)


def _inner(plane: Bools, by: int) -> Bools:
    return np.asarray(cv2.erode(plane.astype(np.uint8), np.ones((2 * by + 1, 2 * by + 1), np.uint8))) > 0


def _plain(below: Pixels) -> Bools:
    """Where paper is to be seen, (H, W); everywhere if none can be told."""
    found = backdrop_of(below)
    if found is None:
        return np.ones(below.shape[:2], np.bool_)
    large = cv2.resize(found.plain.astype(np.uint8), below.shape[1::-1], interpolation=cv2.INTER_NEAREST)
    return np.asarray(large) > 0


def _drawn_on(pixels: Floats, known: Bools) -> Floats:
    """The known pixels' means at a coarse scale, continued harmonically over the rest, (H, W, 3)."""
    height, width = known.shape
    scale = min(1.0, TONE_SIDE_PX / max(height, width))
    size = (max(round(width * scale), 2), max(round(height * scale), 2))
    weight = np.asarray(cv2.resize(known.astype(np.float32), size, interpolation=cv2.INTER_AREA))
    sums = np.asarray(cv2.resize(pixels * known[..., None], size, interpolation=cv2.INTER_AREA))
    have = weight > 0.25
    if not have.any():
        have = weight > 0
    means = np.asarray(sums / np.maximum(weight, 1e-6)[..., None], np.float32)
    # Grain must not be drawn out into streaks: the tones that are continued are calm.
    means = smooth_known(np.where(have[..., None], means, 0).astype(np.float32), have, 1.2)
    out = np.empty((size[1], size[0], 3), np.float32)
    for channel in range(3):
        plane = np.asarray(np.where(have, means[..., channel], means[..., channel][have].mean()), np.float32)
        out[..., channel] = np.where(have, plane, membrane(plane, ~have))
    calm = np.asarray(cv2.GaussianBlur(out, (0, 0), 2), np.float32)
    away = np.asarray(cv2.distanceTransform((~have).astype(np.uint8), cv2.DIST_L2, 5), np.float32)
    # Far from the paper a continuation may be as calm as it likes; near it, it has to meet it.
    share = np.clip(away / 8, 0, 1)[..., None].astype(np.float32)
    mixed = out * (1 - share) + calm * share
    return np.asarray(cv2.resize(mixed, (width, height), interpolation=cv2.INTER_CUBIC), np.float32)


def _grain(residual: Floats, usable: Bools, shape: tuple[int, int], random: np.random.Generator) -> Floats:
    """Grain (h, w, 3) of the strength and look of what is usable, (H, W)."""
    count = np.asarray(cv2.integral(usable.astype(np.uint8)), np.int64)
    for side in GRAIN_BLOCK_SIDES_PX:
        if side > min(usable.shape):
            continue
        full = count[side:, side:] - count[:-side, side:] - count[side:, :-side] + count[:-side, :-side]
        rows, columns = np.nonzero(full == side * side)
        if rows.size:
            break
    else:
        return np.zeros((*shape, 3), np.float32)
    step = side // 2
    # Sine windows half overlapped: their squares sum to one, and the variance of unlike blocks is kept.
    window = np.sin(np.pi * (np.arange(side) + 0.5) / side).astype(np.float32)
    weight = (window[:, None] * window[None])[..., None]
    tall, wide = shape[0] + 2 * side, shape[1] + 2 * side
    out = np.zeros((tall, wide, 3), np.float32)
    for y in range(0, tall - side + 1, step):
        for x in range(0, wide - side + 1, step):
            k = int(random.integers(rows.size))
            block = residual[rows[k] : rows[k] + side, columns[k] : columns[k] + side]
            out[y : y + side, x : x + side] += block * weight
    return out[step : step + shape[0], step : step + shape[1]]
