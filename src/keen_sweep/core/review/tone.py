"""A step in tone: along the border of a fill it is lighter, darker or of another hue than what it meets."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.review.scores import lab
from keen_sweep.core.review.snag import Laid, Snag, SnagKind, outlines_elsewhere, snag_at
from keen_sweep.core.sentences import sentence

# Bands on both sides of the border: distances from it, pixels.
NEAR_BAND_PX = (0.8, 4.0)
FAR_BAND_PX = (4.0, 8.0)
# Standard deviation of the averaging along the border, pixels.
AVERAGE_SIGMA_PX = 5.0
# Spacing of the samples along the border, pixels.
SAMPLE_STEP_PX = 3
MEDIAN_LENGTH_PX = 60
# Smallest visible step in L*.
MIN_LIGHTNESS_STEP = 1.3
# Smallest visible step in a* and b* together.
MIN_HUE_STEP = 2.0
# A step must exceed its standard error by this factor.
MIN_STANDARD_ERRORS = 3.0
# Ratio of the step at the border to that beside it.
MIN_STEP_RATIO = 0.8
# Distance at which "beside it" is measured, pixels.
COMPARISON_OFFSET_PX = 5.0
# Ratio to the steps along borders drawn elsewhere in the picture.
MIN_NATURAL_RATIO = 0.6
# Larger steps count as this much, L*a*b*.
MAX_STEP = 6.0
# Length of the border that must show a step, pixels.
MIN_BORDER_PX = 24
# Share of the whole border that must show a step.
MIN_BORDER_SHARE = 0.12


def step_in_tone(laid: Laid) -> list[Snag]:
    """Find places where a fill differs in tone from its surroundings, more than at borders drawn elsewhere.

    Parameters
    ----------
    laid : Laid
        The fill.

    Returns
    -------
    list of Snag
        The snags.
    """
    planes = lab(laid.after)
    step = _found(planes, laid.hole)
    if step is None:
        return []
    natural = [
        each.weight
        for hole in outlines_elsewhere(laid, int(FAR_BAND_PX[1]))
        if (each := _found(planes, hole)) is not None
    ]
    if step.weight < MIN_NATURAL_RATIO * max(natural, default=0.0):
        return []
    place = np.zeros(laid.hole.shape, np.uint8)
    for x, y in step.points:
        cv2.circle(place, (int(x), int(y)), 5, 1, -1)
    lightness, hue = float(step.mean[:, 0].mean()), float(np.hypot(step.mean[:, 1], step.mean[:, 2]).mean())
    how = sentence("of another hue") if hue > abs(lightness) else "lighter" if lightness > 0 else "darker"
    text = sentence(
        "Along {length} pixels of its border it is {how} than what it meets.",
        length=len(step.points) * SAMPLE_STEP_PX,
        how=how,
    )
    worst = float(np.linalg.norm(step.mean, axis=1).mean())
    return [snag_at(SnagKind.STEP_IN_TONE, place > 0, worst / 8, text)]


@dataclass(frozen=True)
class _Step:
    """Points (n, 2) of a border, every so manieth, and the step there (n, 3) in L*a*b*, averaged along it."""

    points: NDArray[np.int32]
    mean: Floats

    @property
    def weight(self) -> float:
        """How much step there is in all."""
        return float(np.linalg.norm(self.mean, axis=1).clip(0, MAX_STEP).sum())


def _found(planes: Floats, hole: Bools) -> _Step | None:
    """The steps along all contours of a hole; None if they make up too little of them."""
    contours, _ = cv2.findContours(hole.astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    signed = signed_depth(hole)
    steps = _steps(planes, signed)
    # A step of the picture's own that runs near the border is still there a little beside it.
    beyond, within = _steps(planes, signed + COMPARISON_OFFSET_PX), _steps(planes, signed - COMPARISON_OFFSET_PX)
    # Where a hole is narrow, its far side lies within.
    within[cv2.dilate(signed, np.ones((21, 21), np.uint8)) < 2 * COMPARISON_OFFSET_PX] = 0
    height, width = hole.shape
    around, where, means = 0, [], []
    for contour in contours:
        points = contour[:, 0, :]
        # The picture's own edge is no border.
        free = (points > 1).all(axis=1) & (points < (width - 2, height - 2)).all(axis=1)
        if free.sum() < MIN_BORDER_PX:
            continue
        at = np.flatnonzero(free)[::SAMPLE_STEP_PX]
        rows, columns = points[at, 1], points[at, 0]
        wide = max(MEDIAN_LENGTH_PX // SAMPLE_STEP_PX, 5)
        mean, error = _running(steps[rows, columns], wide)
        others = np.max(
            [np.linalg.norm(_running(each[rows, columns], wide)[0], axis=1) for each in (beyond, within)], axis=0
        )
        lightness, hue = np.abs(mean[:, 0]), np.hypot(mean[:, 1], mean[:, 2])
        shows = (lightness > MIN_LIGHTNESS_STEP) & (lightness > MIN_STANDARD_ERRORS * error[:, 0])
        shows |= (hue > MIN_HUE_STEP) & (hue > MIN_STANDARD_ERRORS * np.hypot(error[:, 1], error[:, 2]))
        shows &= np.linalg.norm(mean, axis=1) > MIN_STEP_RATIO * others
        around += len(points)
        if shows.sum() * SAMPLE_STEP_PX >= MIN_BORDER_PX:
            where.append(points[at[shows]])
            means.append(mean[shows])
    if not where:
        return None
    found = _Step(np.concatenate(where).astype(np.int32), np.concatenate(means))
    return found if len(found.points) * SAMPLE_STEP_PX >= MIN_BORDER_SHARE * around else None


def border_steps(planes: Floats, hole: Bools) -> Floats:
    """Step from outside to inside near the border of a hole.

    Parameters
    ----------
    planes : (h, w, 3) float32
        Three planes.
    hole : (h, w) bool
        The hole.

    Returns
    -------
    (h, w, 3) float32
        The step in the planes' units.
    """
    return _steps(planes, signed_depth(hole))


def signed_depth(hole: Bools) -> Floats:
    """Distance of each pixel from the border of a hole.

    Parameters
    ----------
    hole : (h, w) bool
        The hole.

    Returns
    -------
    (h, w) float32
        Pixels; negative outside.
    """
    depth = cv2.distanceTransform(hole.astype(np.uint8), cv2.DIST_L2, 5)
    return np.asarray(depth - cv2.distanceTransform((~hole).astype(np.uint8), cv2.DIST_L2, 5), np.float32)


def _steps(planes: Floats, depth: Floats) -> Floats:
    """(h, w, 3): near a border, the step from outside to inside beyond what the slopes on both sides explain. depth
    (h, w): how far inside of it a pixel lies, below 0 outside."""

    def band(away: Floats, between: tuple[float, float]) -> tuple[Floats, Bools]:
        where = ((away > between[0]) & (away <= between[1])).astype(np.float32)
        weight = cv2.GaussianBlur(where, (0, 0), AVERAGE_SIGMA_PX)
        mean = (
            cv2.GaussianBlur(planes * where[..., None], (0, 0), AVERAGE_SIGMA_PX) / np.maximum(weight, 1e-4)[..., None]
        )
        return np.asarray(mean, np.float32), np.asarray(weight > 0.01)

    in_near, out_near = band(depth, NEAR_BAND_PX)[0], band(-depth, NEAR_BAND_PX)[0]
    (in_far, known), out_far = band(depth, FAR_BAND_PX), band(-depth, FAR_BAND_PX)[0]
    slope_out = out_near - out_far
    slope_in = np.where(known[..., None], in_far - in_near, slope_out)
    return np.asarray(in_near - out_near - (slope_in + slope_out) / 2 * 1.1, np.float32)


def _running(values: Floats, wide: int) -> tuple[Floats, Floats]:
    """Running means along a closed border, and their standard errors: neighbours within AVERAGE_SIGMA_PX pixels are
    one."""
    wide = min(wide, len(values))
    around = np.concatenate([values[-(wide // 2) :], values, values[: wide // 2]]) if wide < len(values) else values
    kernel = np.ones(wide) / wide
    mean, square = np.empty_like(values), np.empty_like(values)
    for c in range(values.shape[1]):
        for out, plane in ((mean, around[:, c]), (square, around[:, c] ** 2)):
            run = np.convolve(plane, kernel, "same")
            out[:, c] = run[wide // 2 : wide // 2 + len(values)] if wide < len(values) else plane.mean()
    scatter = np.sqrt(np.maximum(square - mean**2, 0))
    independent = max(wide * SAMPLE_STEP_PX / (3 * AVERAGE_SIGMA_PX), 1.5)
    return mean, scatter / np.sqrt(independent)
