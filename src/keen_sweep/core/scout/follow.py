"""A curve that is known roughly followed along what is likely: on to the frame's edge, and pixel by pixel."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from keen_sweep.core.arrays import Doubles, Floats
from keen_sweep.core.scout.curves import Curve

# Length of the pieces by which a curve is extended, pixels.
STEP_LENGTH_PX = 24
# Mean likelihood such a piece must have.
MIN_STEP_LIKELIHOOD = 0.12
# A curve is extended to the picture's border over gaps of this length, pixels.
MAX_BORDER_GAP_PX = 40.0
# How far beside the curve its wire may run, pixels.
MAX_OFFSET_PX = 6
# Cost of a step of half a pixel sideways.
OFFSET_COST = 0.25
WIDTH_LIKELIHOOD = 0.5


def extend_curve(curve: Curve, likelihood: Floats) -> Curve:
    """Extend a curve at both ends while there is evidence of it, and to the picture's edge if that is near.

    Parameters
    ----------
    curve : Curve
        The curve.
    likelihood : (H, W) float32
        Likelihood of lines, 0 to 1.

    Returns
    -------
    Curve
        The extended curve.
    """
    height, width = likelihood.shape
    near = np.asarray(cv2.dilate(likelihood, np.ones((5, 5), np.uint8)))
    ends = []
    for end, way in ((curve.u0, -1.0), (curve.u1, 1.0)):
        u = end
        while True:
            bit = curve.at(np.asarray(u + way * np.arange(1, STEP_LENGTH_PX + 1), np.float64))
            inside = (bit[:, 0] >= 0) & (bit[:, 1] >= 0) & (bit[:, 0] <= width - 1) & (bit[:, 1] <= height - 1)
            if not inside.any():
                break
            places = np.rint(bit[inside]).astype(np.int64)
            if near[places[:, 1], places[:, 0]].mean() < MIN_STEP_LIKELIHOOD:
                break
            u += way * float(inside.sum())
            if not inside.all():
                break
        ends.append(u + way * _to_edge(curve, u, way, width, height))
    return replace(curve, u0=ends[0], u1=ends[1])


def _to_edge(curve: Curve, u: float, way: float, width: int, height: int) -> float:
    """How far it is to the frame's edge, if that is near; else 0."""
    steps = np.arange(0.0, MAX_BORDER_GAP_PX)
    places = curve.at(u + way * steps)
    outside = (places[:, 0] < 0) | (places[:, 1] < 0) | (places[:, 0] > width - 1) | (places[:, 1] > height - 1)
    return float(steps[int(outside.argmax())]) if outside.any() else 0.0


def trace_wire(curve: Curve, likelihood: Floats) -> tuple[Doubles, float]:
    """Path of a wire near a curve: the cheapest one in a corridor along the curve (dynamic programming).

    Parameters
    ----------
    curve : Curve
        The curve.
    likelihood : (H, W) float32
        Likelihood of lines, 0 to 1.

    Returns
    -------
    tuple of (n, 2) float64 and float
        x and y, and the width in pixels.

    References
    ----------
    Bellman 1958, "On a routing problem".
    """
    u = np.arange(curve.u0, curve.u1 + 1)
    middle = curve.at(u)
    slope = curve.model[1] + 2 * curve.model[2] * u
    along = (
        np.stack([curve.axis[0] - slope * curve.axis[1], curve.axis[1] + slope * curve.axis[0]], axis=1)
        / np.hypot(1, slope)[:, None]
    )
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1)
    offsets = np.arange(-2 * MAX_OFFSET_PX, 2 * MAX_OFFSET_PX + 1, dtype=np.float64) / 2
    places = middle[:, None] + offsets[None, :, None] * normal[:, None]
    seen = scipy.ndimage.map_coordinates(likelihood, [places[..., 1], places[..., 0]], order=1, mode="nearest")
    cost = 1 - seen + 0.02 * np.abs(offsets)
    best = cost.copy()
    came = np.zeros(cost.shape, np.int64)
    for k in range(1, len(u)):
        before = best[k - 1]
        ways = np.stack(
            [np.append(np.inf, before[:-1]) + OFFSET_COST, before, np.append(before[1:], np.inf) + OFFSET_COST]
        )
        came[k] = ways.argmin(axis=0) - 1
        best[k] += ways.min(axis=0)
    at = np.empty(len(u), np.int64)
    at[-1] = int(best[-1].argmin())
    for k in range(len(u) - 1, 0, -1):
        at[k - 1] = at[k] + came[k, at[k]]
    shift = scipy.ndimage.gaussian_filter1d(offsets[at], 4.0, mode="nearest")
    path = middle + shift[:, None] * normal
    return np.asarray(path), _width(np.asarray(seen, np.float64), at)


def _width(seen: Doubles, at: NDArray[np.int64]) -> float:
    """How wide what is likely is across the path, where it is seen best, pixels; offsets are half pixels."""
    widths = []
    for profile, middle in zip(seen, at, strict=True):
        if profile[middle] < WIDTH_LIKELIHOOD:
            continue
        left = middle
        while left > 0 and profile[left - 1] >= WIDTH_LIKELIHOOD:
            left -= 1
        right = middle
        while right < len(profile) - 1 and profile[right + 1] >= WIDTH_LIKELIHOOD:
            right += 1
        widths.append((right - left) / 2 + 0.5)
    return float(np.percentile(widths, 50)) if widths else 1.0
