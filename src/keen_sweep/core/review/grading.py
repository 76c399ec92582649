"""Grading: what a client does to a delivered picture, and faults of a fill that show only then."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

import cv2
import numpy as np

from keen_sweep.core.arrays import EightBit, Floats
from keen_sweep.core.box import Box
from keen_sweep.core.review.snag import Grading, Laid, Snag
from keen_sweep.core.review.softness import MIN_DETAIL_SHARE, softness
from keen_sweep.core.review.tone import step_in_tone

# Two stops are four times the light.
BRIGHTENED_GAIN = 4.0
# Standard deviation beyond which differences in light are left as they are, pixels; and what is added of finer ones.
LOCAL_CONTRAST_SIGMA_PX = 25.0
LOCAL_CONTRAST_AMOUNT = 2.0
# Weights of red, green and blue as behind a red filter, and the contrast round mid-grey that goes with it.
RED_FILTER = (1.3, 0.1, -0.4)
BLACK_AND_WHITE_CONTRAST = 1.6
# Sharpening for print: common practice, no source.
SHARPENED_SIGMA_PX = 1.2
SHARPENED_AMOUNT = 2.0
# Who sharpens or enlarges looks closely: share of the plainest surroundings' fine detail that a fill must have then.
MIN_SHARPENED_SHARE = 0.8
ENLARGED_SCALE = 2
# A fill with more pixels is not enlarged.
MAX_ENLARGED_PIXELS = 1_000_000


def graded(laid: Laid, grading: Grading) -> Laid:
    """Grade a picture, the fill and what it met alike.

    Parameters
    ----------
    laid : Laid
        The fill.
    grading : Grading
        What is done to the picture.

    Returns
    -------
    Laid
        The same, graded; twice as large if it was enlarged.
    """
    if grading is Grading.ENLARGED:
        return _enlarged(laid)
    change = CHANGE_BY_GRADING[grading]
    return replace(laid, before=change(laid.before), after=change(laid.after))


def brightened(picture: EightBit, gain: float = BRIGHTENED_GAIN) -> EightBit:
    """Multiply the light of a picture.

    Parameters
    ----------
    picture : (h, w, 3) uint8
        The picture in sRGB (IEC 61966-2-1).
    gain : float, optional
        What its light is multiplied by.

    Returns
    -------
    (h, w, 3) uint8
        The brighter picture; what is too bright is white.
    """
    code = np.arange(256) / 255
    light = np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4) * gain
    again = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055)
    return np.asarray(_rounded(255 * again)[picture], np.uint8)


def shown_by_grading(laid: Laid, known: list[Snag], go_on: Callable[[], None]) -> list[Snag]:
    """Find the snags that show only in a graded picture.

    Parameters
    ----------
    laid : Laid
        The fill and its surroundings.
    known : list of Snag
        Snags that show without grading, in pixels of `laid`.
    go_on : callable
        Raises when the review should stop.

    Returns
    -------
    list of Snag
        The snags with their `grading` set, at most one of a kind at a place.
    """
    found: list[Snag] = []
    for grading in Grading:
        if grading is Grading.ENLARGED and laid.hole.size > MAX_ENLARGED_PIXELS:
            continue
        for snag in graded_review(laid, grading, go_on):
            if not any(each.kind == snag.kind and not each.box.intersect(snag.box).empty for each in known + found):
                found.append(snag)
    return found


def graded_review(laid: Laid, grading: Grading, go_on: Callable[[], None]) -> list[Snag]:
    """Find the snags of a graded picture that grading can raise: steps in tone, and softness.

    Parameters
    ----------
    laid : Laid
        The fill, not graded.
    grading : Grading
        What is done to the picture.
    go_on : callable
        Raises when the review should stop.

    Returns
    -------
    list of Snag
        The snags, in pixels of `laid`.
    """
    changed = graded(laid, grading)
    share = MIN_SHARPENED_SHARE if grading in (Grading.SHARPENED, Grading.ENLARGED) else MIN_DETAIL_SHARE
    found: list[Snag] = []
    for check in (step_in_tone, partial(softness, min_share=share)):
        go_on()
        found += check(changed)
    return [replace(_reduced(each) if grading is Grading.ENLARGED else each, grading=grading) for each in found]


def _contrasted(picture: EightBit) -> EightBit:
    planes = cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    lightness = planes[..., 0]
    finer = lightness - cv2.GaussianBlur(lightness, (0, 0), LOCAL_CONTRAST_SIGMA_PX)
    planes[..., 0] = np.clip(lightness + LOCAL_CONTRAST_AMOUNT * finer, 0, 100)
    return _rounded(255 * np.asarray(cv2.cvtColor(planes, cv2.COLOR_LAB2RGB), np.float32))


def _black_and_white(picture: EightBit) -> EightBit:
    filtered = picture.astype(np.float32) @ np.array(RED_FILTER, np.float32)
    return np.repeat(_rounded(128 + BLACK_AND_WHITE_CONTRAST * (filtered - 128))[..., None], 3, axis=2)


def _sharpened(picture: EightBit) -> EightBit:
    values = picture.astype(np.float32)
    return _rounded(values + SHARPENED_AMOUNT * (values - cv2.GaussianBlur(values, (0, 0), SHARPENED_SIGMA_PX)))


def _enlarged(laid: Laid) -> Laid:
    size = (laid.hole.shape[1] * ENLARGED_SCALE, laid.hole.shape[0] * ENLARGED_SCALE)
    before, after = (
        np.asarray(cv2.resize(each, size, interpolation=cv2.INTER_LANCZOS4), np.uint8)
        for each in (laid.before, laid.after)
    )
    hole = cv2.resize(laid.hole.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    return replace(laid, before=before, after=after, hole=hole)


def _reduced(snag: Snag) -> Snag:
    """A snag of the enlarged picture in pixels of the one it came from."""
    left, top = snag.box.x // ENLARGED_SCALE, snag.box.y // ENLARGED_SCALE
    width = max(-(-(snag.box.x + snag.box.width) // ENLARGED_SCALE) - left, 1)
    height = max(-(-(snag.box.y + snag.box.height) // ENLARGED_SCALE) - top, 1)
    place = cv2.resize(snag.place.astype(np.uint8), (width, height), interpolation=cv2.INTER_AREA) > 0
    place |= not place.any()
    return replace(snag, box=Box(x=left, y=top, width=width, height=height), place=np.asarray(place, np.bool_))


def _rounded(values: Floats) -> EightBit:
    return np.asarray(np.rint(np.clip(values, 0, 255)), np.uint8)


CHANGE_BY_GRADING: dict[Grading, Callable[[EightBit], EightBit]] = {
    Grading.BRIGHTENED: brightened,
    Grading.LOCAL_CONTRAST: _contrasted,
    Grading.BLACK_AND_WHITE: _black_and_white,
    Grading.SHARPENED: _sharpened,
}
