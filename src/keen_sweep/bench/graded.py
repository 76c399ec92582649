"""Faults planted into exact truth that only grading raises: as strong as the plain review lets pass, and seen by
everybody once the picture is graded."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import cv2
import numpy as np

from keen_sweep.bench.cases import Case
from keen_sweep.bench.planted import Planted, clean, largest_disc
from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.review.grading import ENLARGED_SCALE, brightened, graded
from keen_sweep.core.review.review import SURROUNDINGS_PX
from keen_sweep.core.review.scores import grey, lab
from keen_sweep.core.review.snag import Grading, Laid, SnagKind
from keen_sweep.core.review.softness import softness
from keen_sweep.core.review.tone import signed_depth, step_in_tone

# Steps that are tried, the strongest first, 8-bit levels; and what of it red, green and blue get.
STEP_LEVELS = (8, 6, 4, 3, 2, 1)
STEP_COLOURS = {
    Grading.BRIGHTENED: (1.0, 1.0, 1.0),
    Grading.LOCAL_CONTRAST: (1.0, 1.0, 1.0),
    Grading.BLACK_AND_WHITE: (1.0, -0.2, -1.0),
}
# Standard deviations of the blurs that are tried, pixels.
BLURS_PX = (1.2, 0.9, 0.7, 0.6, 0.55, 0.5, 0.45)
# A step is seen from this difference on (Mahy, van Eycken and Oosterlinck 1994, from memory), on ground that varies
# less than the second figure, L*a*b*.
MIN_SEEN_STEP = 2.3
MAX_GROUND_SCATTER = 2.0
# A blur is seen when less than this share of the detail is left, where there are this many levels of it.
MAX_DETAIL_LEFT = 0.75
MIN_DETAIL = 1.0
# Radius of a soft spot, pixels.
SPOT_RADIUS_PX = 14


def planted_for_grading(case: Case) -> list[tuple[Grading, Planted]]:
    """The faults that this case has room for: at most one for each grading."""
    steps = ((grading, _step(case, grading)) for grading in STEP_COLOURS)
    blurs = ((grading, _blur(case, grading)) for grading in (Grading.SHARPENED, Grading.ENLARGED))
    return [(grading, fault) for grading, fault in (*steps, *blurs) if fault is not None]


def _step(case: Case, grading: Grading) -> Planted | None:
    if grading is Grading.BRIGHTENED:
        # What is brightened by two stops was two stops too dark.
        case = replace(case, photo=brightened(case.photo, 0.25), truth=brightened(case.truth, 0.25))
    depth = signed_depth(case.mask)
    rim, ground = (depth > 0.8) & (depth <= 4), (depth > -12) & (depth <= 4)
    after = lab(graded(clean(case), grading).after)
    scatter = np.sqrt(np.median((after[..., 0] - cv2.blur(after[..., 0], (9, 9)))[ground] ** 2))
    for levels in STEP_LEVELS:
        scene = _filled(case, case.truth + levels * np.array(STEP_COLOURS[grading], np.float32), case.mask)
        if step_in_tone(scene.around(SURROUNDINGS_PX)[0]):
            continue
        seen = np.linalg.norm((lab(graded(scene, grading).after) - after)[rim].mean(axis=0))
        shows = seen >= MIN_SEEN_STEP and scatter <= MAX_GROUND_SCATTER
        return Planted(SnagKind.STEP_IN_TONE, scene, rim) if shows else None
    return None


def _blur(case: Case, grading: Grading) -> Planted | None:
    radius, middle = largest_disc(case.mask)
    if radius < (SPOT_RADIUS_PX + 2 if grading is Grading.ENLARGED else 4):
        return None
    spot = case.mask
    if grading is Grading.ENLARGED:
        disc = np.zeros(case.mask.shape, np.uint8)
        cv2.circle(disc, middle, SPOT_RADIUS_PX, 1, -1)
        spot = disc > 0
    whole = _detail(graded(clean(case), grading).after, spot, grading)
    for sigma in BLURS_PX:
        blurred = np.asarray(cv2.GaussianBlur(case.truth.astype(np.float32), (0, 0), sigma), np.float32)
        scene = _filled(case, blurred, spot)
        if softness(scene.around(SURROUNDINGS_PX)[0]):
            continue
        left = _detail(graded(scene, grading).after, spot, grading) / max(whole, 1e-6)
        return Planted(SnagKind.SOFTNESS, scene, spot) if left <= MAX_DETAIL_LEFT and whole >= MIN_DETAIL else None
    return None


def _detail(picture: EightBit, where: Bools, grading: Grading) -> float:
    """Mean fine detail of a graded picture, levels."""
    scale = ENLARGED_SCALE if grading is Grading.ENLARGED else 1
    luma = grey(picture)
    part = cv2.resize(where.astype(np.uint8), luma.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
    return float(np.abs(luma - cv2.GaussianBlur(luma, (0, 0), 0.8 * scale))[part].mean())


def _filled(case: Case, fill: Floats, where: Bools) -> Laid:
    laid = clean(case)
    changed = np.rint(np.clip(fill, 0, 255)).astype(np.uint8)
    return replace(laid, after=np.where(where[..., None], changed, laid.after))


def small(case: Case, most: int) -> Case:
    """A case with no more pixels than that."""
    for laid in _halvings(clean(case)):
        if laid.hole.size <= most:
            return replace(case, photo=laid.before, truth=laid.after, mask=laid.hole)
    raise AssertionError("halving ends")


def _halvings(laid: Laid) -> Iterator[Laid]:
    while True:
        yield laid
        laid = laid.halved()
