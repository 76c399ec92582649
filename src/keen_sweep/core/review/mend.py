"""Mends of a fill that need no new one: its grain regrown, its tone matched."""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.methods.grain import grain_for, smooth_known
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.review.tone import border_steps

# Standard deviation below which detail counts as grain, pixels.
GRAIN_SIGMA_PX = 1.6


def regrain(picture: Pixels, hole: Bools, place: Bools, seed: int = 0) -> Pixels:
    """Give part of a fill the grain of its surroundings. Grain is added until the variances match.

    Parameters
    ----------
    picture : (h, w, 3) uint8 or uint16
        The picture.
    hole : (h, w) bool
        What was filled; grain is taken from outside it.
    place : (h, w) bool
        The part that gets grain.
    seed : int, optional
        Seed of the random generator.

    Returns
    -------
    (h, w, 3) of the same dtype
        The changed picture.
    """
    values = picture.astype(np.float32)
    known = ~hole
    residual = values - smooth_known(values, known, GRAIN_SIGMA_PX)
    residual[~known] = 0
    grain = grain_for(residual, known, place, np.random.default_rng(seed))
    own = values - cv2.GaussianBlur(values, (0, 0), GRAIN_SIGMA_PX)
    wanted, have = float((grain[place] ** 2).mean()), float((own[place] ** 2).mean())
    share = np.sqrt(max(0.0, 1 - have / max(wanted, 1e-6)))
    return _rounded(values + share * grain * place[..., None], picture)


def even_tone(picture: Pixels, hole: Bools) -> Pixels:
    """Remove the step in tone at the border of a fill.

    The step is continued into the hole by the harmonic function that equals it at the border, and subtracted.

    Parameters
    ----------
    picture : (h, w, 3) uint8 or uint16
        The picture.
    hole : (h, w) bool
        What was filled.

    Returns
    -------
    (h, w, 3) of the same dtype
        The changed picture.

    References
    ----------
    Pérez, Gangnet and Blake 2003, "Poisson image editing".
    """
    values = picture.astype(np.float32)
    steps = border_steps(values, hole)
    correction = np.dstack([membrane(np.ascontiguousarray(-steps[..., c]), hole) for c in range(3)])
    return _rounded(values + correction * hole[..., None], picture)


def _rounded(values: Floats, like: Pixels) -> Pixels:
    return np.asarray(np.rint(values.clip(0, np.iinfo(like.dtype).max)), like.dtype)
