"""Grain matched by band and by tone: what copying and blending took from the finest detail of a fill is given back.

Two bands, picture less its Gaussian mean of .8 pixels, and that less the one of 1.6. In each the fill's local strength
is brought up to that of what is near by and of its own tone: noise depends on the tone (Foi et al. 2008), and dark
ground has another grain than the sky over it. It is never turned down, and never up by more than a third.
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Numbers

# Standard deviations that separate the two finest bands, pixels.
BAND_SIGMAS_PX = (0.8, 1.6)
# A band is never amplified more than this.
MAX_GAIN = 1.35
# Strong edges are not grain: strengths are clipped at this multiple of the median of their tone.
STRENGTH_CLIP_RATIO = 3.0
# Spacing of the grid on which strengths are compared, pixels.
GRID_STEP_PX = 4
# Number of tones for which strengths are measured separately, at most.
MAX_TONES = 5
# Smallest distance between two of these tones, 8-bit levels.
MIN_TONE_STEP = 6.0
# Weight of the strength over all tones, so that cells with little of a tone are defined.
OVERALL_WEIGHT = 0.02
# A tone with fewer pixels has no median of its own.
MIN_MEDIAN_PIXELS = 64
# Weights that average the three channels.
MEAN_WEIGHTS = np.full((1, 3), 1 / 3, np.float32)


def match_grain(pixels: Floats, hole: Bools, known: Bools, radius: float) -> None:
    """Amplify the two finest bands of a fill to the strength of the known pixels near by of the same tone.

    Parameters
    ----------
    pixels : (h, w, 3) float32
        The filled picture, 0 to 255, changed in place.
    hole : (h, w) bool
        The fill.
    known : (h, w) bool
        Pixels that count.
    radius : float
        Radius of the largest disc in the hole, pixels: the distance over which strengths are compared.

    References
    ----------
    Foi et al. 2008, "Practical Poissonian-Gaussian noise modeling": noise depends on tone.
    """
    # A band next to the hole's rim mixes both sides.
    rim = cv2.dilate(hole.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    outside = known & ~rim
    if not outside.any() or not hole.any():
        return
    smooth = [cv2.GaussianBlur(pixels, (0, 0), sigma) for sigma in BAND_SIGMAS_PX]
    bands = (pixels - smooth[0], smooth[0] - smooth[1])
    tone = np.asarray(cv2.transform(smooth[1], MEAN_WEIGHTS), np.float32)
    tones = _tones(tone[hole])
    spread = max(8.0, radius)
    for band in bands:
        strength = np.asarray(cv2.transform(np.abs(band), MEAN_WEIGHTS), np.float32)
        wanted, present = (_by_tone(strength, where, tone, tones, spread) for where in (outside, hole))
        gain = np.clip(_at(wanted, tone, tones) / np.maximum(_at(present, tone, tones), 1e-3), 1.0, MAX_GAIN)
        gain -= 1
        gain[~hole] = 0
        pixels += cv2.merge([gain, gain, gain]) * band


def _tones(found: Floats) -> Floats:
    """The tones that strengths are told apart by, ascending: spread over those that are found."""
    low, high = np.percentile(found, (5, 95))
    return np.linspace(low, high, int(np.clip((high - low) / MIN_TONE_STEP, 1, MAX_TONES)), dtype=np.float32)


def _shares(tone: Floats, tones: Floats) -> list[Floats]:
    """How much each of the tones tells of pixels of a tone: hats that sum up to 1."""
    place = np.interp(tone, tones, np.arange(len(tones))).astype(np.float32)
    return [np.maximum(1 - np.abs(place - k), 0) for k in range(len(tones))]


def _by_tone(strength: Floats, where: Bools, tone: Floats, tones: Floats, spread: float) -> list[Floats]:
    """The mean strength of the places near by of each tone, clipped, on the grid."""
    seen = strength[where]
    of = np.interp(tone[where], tones, np.arange(len(tones))).round().astype(np.intp)
    medians = np.array(
        [np.median(seen[of == k]) if (of == k).sum() > MIN_MEDIAN_PIXELS else np.inf for k in range(len(tones))]
    )
    medians[~np.isfinite(medians)] = np.median(seen)
    clipped = np.minimum(strength, STRENGTH_CLIP_RATIO * np.interp(tone, tones, medians).astype(np.float32))
    height, width = where.shape
    size = (-(-width // GRID_STEP_PX), -(-height // GRID_STEP_PX))

    def small(plane: Numbers) -> Floats:
        return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32)

    def soft(plane: Floats) -> Floats:
        return np.asarray(cv2.GaussianBlur(plane, (0, 0), spread / GRID_STEP_PX), np.float32)

    weight, total = small(where.astype(np.float32)), small(clipped * where)
    own = np.asarray(small(tone * where) / np.maximum(weight, 1e-6), np.float32)
    overall = soft(total) / np.maximum(soft(weight), 1e-6)
    shares = _shares(own, tones)
    return [
        (soft(total * share) + OVERALL_WEIGHT * overall) / (soft(weight * share) + OVERALL_WEIGHT) for share in shares
    ]


def _at(means: list[Floats], tone: Floats, tones: Floats) -> Floats:
    """Means by tone, from the grid to where they are asked for, at each pixel for its own tone."""
    height, width = tone.shape
    out = np.zeros_like(tone)
    for mean, share in zip(means, _shares(tone, tones), strict=True):
        out += share * cv2.resize(mean, (width, height), interpolation=cv2.INTER_LINEAR)
    return out
