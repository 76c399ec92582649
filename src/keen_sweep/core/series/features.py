"""Features of two views that show the same, and the homography that most of them agree on.

SIFT (Lowe 2004) with his ratio test; MAGSAC++ (Barath et al. 2020), both as OpenCV has them.
"""

from __future__ import annotations

import hashlib
import threading
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from cachetools import LRUCache, cached
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Matrix
from keen_sweep.core.series.alignment import map_by_homography
from keen_sweep.core.series.view import View

MAX_FEATURES = 5_000
MAX_DISTANCE_RATIO = 0.8
# Views whose features are kept.
CACHED_VIEWS = 4
# Distance of a match from where the homography puts it, pixels of the view.
HOMOGRAPHY_TOLERANCE_PX = 3.0
# Number of matches that must agree.
MIN_MATCHES = 24
# Share of the matches that must agree.
MIN_AGREEING_SHARE = 0.12
# Distance from the epipolar line when the camera moved, pixels of the view.
EPIPOLAR_TOLERANCE_PX = 1.5
# The same result every time.
RANDOM_SEED = 7


@dataclass(frozen=True)
class Matched:
    """Features that match between two views.

    Attributes
    ----------
    homography : (3, 3) float64
        The homography that most of them agree on.
    here : (n, 2) float64
        Positions in the first view that are consistent with one moving camera.
    there : (n, 2) float64
        Their positions in the second view.
    """

    homography: Matrix
    here: Matrix
    there: Matrix


def match_views(one: View, other: View, aside: Bools | None = None) -> Matched | None:
    """Match the features of two views.

    Parameters
    ----------
    one : View
        The first view.
    other : View
        The second view.
    aside : (h, w) bool or None, optional
        Pixels of the first view that are ignored.

    Returns
    -------
    Matched or None
        The matches; None when the views do not show the same place.
    """
    (points, descriptors), (others, theirs) = features_of(one, aside), features_of(other)
    if descriptors is None or theirs is None or min(len(points), len(others)) < MIN_MATCHES:
        return None
    mine, their = nearest(descriptors, theirs)
    if len(mine) < MIN_MATCHES:
        return None
    points_matched, others_matched = points[mine], others[their]
    found, agreeing = homography_of(points_matched, others_matched, HOMOGRAPHY_TOLERANCE_PX)
    if found is None or not plausible(found, one) or agreeing.sum() < max(MIN_MATCHES, MIN_AGREEING_SHARE * len(mine)):
        return None
    cv2.setRNGSeed(RANDOM_SEED)
    seen = cv2.findFundamentalMat(points_matched, others_matched, cv2.USAC_MAGSAC, EPIPOLAR_TOLERANCE_PX, 0.999, 2_000)[
        1
    ]
    fits = np.ones(len(points_matched), np.bool_) if seen is None else np.asarray(seen).ravel() > 0
    return Matched(found, points_matched[fits], others_matched[fits])


def nearest(descriptors: Floats, theirs: Floats) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Match descriptors with the ratio test; all distances are computed by one matrix product.

    Parameters
    ----------
    descriptors : (n, 128) float32
        Descriptors.
    theirs : (m, 128) float32
        Other descriptors; m is at least 2.

    Returns
    -------
    tuple of (k,) int
        Indices of the matched descriptors, and of their matches.

    References
    ----------
    Lowe 2004, "Distinctive image features from scale-invariant keypoints".
    """
    squares = np.einsum("ij,ij->i", theirs, theirs)[None] - 2 * (descriptors @ theirs.T)
    every, own = np.arange(len(descriptors)), np.einsum("ij,ij->i", descriptors, descriptors)
    first = np.argmin(squares, axis=1)
    nearest_of_all = squares[every, first] + own
    squares[every, first] = np.inf
    near = np.maximum(nearest_of_all, 0) < MAX_DISTANCE_RATIO**2 * (squares.min(axis=1) + own)
    return np.flatnonzero(near), first[near]


def _known_by(view: View, aside: Bools | None = None) -> bytes:
    digest = hashlib.sha1(view.pixels.tobytes(), usedforsecurity=False)
    if aside is not None:
        digest.update(np.packbits(aside).tobytes())
    return digest.digest()


@cached(LRUCache(CACHED_VIEWS), _known_by, lock=threading.Lock())
def features_of(view: View, aside: Bools | None = None) -> tuple[Matrix, Floats | None]:
    """Features of a view.

    Parameters
    ----------
    view : View
        The view.
    aside : (h, w) bool or None, optional
        Pixels that are ignored.

    Returns
    -------
    tuple of (n, 2) float64 and (n, 128) float32
        Positions, and descriptors or None if there are none.
    """
    inside = None if aside is None else np.where(aside, 0, 255).astype(np.uint8)
    # Missing from OpenCV's types.
    sift: Any = cv2.SIFT_create(nfeatures=MAX_FEATURES, contrastThreshold=0.015)  # type: ignore[attr-defined]
    points, descriptors = sift.detectAndCompute(view.grey, inside)
    return np.array([point.pt for point in points], np.float64).reshape(-1, 2), descriptors


def homography_of(points: Matrix, counterparts: Matrix, off: float) -> tuple[Matrix | None, Bools]:
    """The homography that most pairs of points agree on.

    Parameters
    ----------
    points : (n, 2) float64
        Points.
    counterparts : (n, 2) float64
        Their counterparts.
    off : float
        Tolerance, pixels.

    Returns
    -------
    tuple of (3, 3) float64 and (n,) bool
        The homography, None where there is none, and which pairs agree.
    """
    cv2.setRNGSeed(RANDOM_SEED)
    found, agreeing = cv2.findHomography(points, counterparts, cv2.USAC_MAGSAC, off, maxIters=5_000, confidence=0.9999)
    if found is None:
        return None, np.zeros(len(points), np.bool_)
    return np.asarray(found, np.float64), np.asarray(agreeing).ravel() > 0


def plausible(homography: Matrix, one: View) -> bool:
    """Whether a homography neither mirrors, folds nor shrinks a view to nothing.

    Parameters
    ----------
    homography : (3, 3) float64
        The homography.
    one : View
        The view.

    Returns
    -------
    bool
        Whether it is plausible.
    """
    height, width = one.pixels.shape[:2]
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float64)
    depth = corners @ homography[2, :2] + homography[2, 2]
    if (depth * np.sign(depth[0]) < 1e-3 * abs(depth).max()).any():
        return False
    edges = np.roll(ends := map_by_homography(homography, corners), -1, axis=0) - ends
    after = np.roll(edges, -1, axis=0)
    turns = edges[:, 0] * after[:, 1] - edges[:, 1] * after[:, 0]
    return bool((turns > 0).all()) and float(turns.min()) > 0.01 * width * height
