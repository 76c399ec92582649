"""The planes of a scene, as two views show them: a wall, the ground, what is far.

A camera that moved sees each plane through a homography of its own (Hartley and Zisserman 2004, chapter 13).
"""

from __future__ import annotations

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Floats, Matrix
from keen_sweep.core.series.alignment import map_by_homography
from keen_sweep.core.series.features import HOMOGRAPHY_TOLERANCE_PX, MIN_MATCHES, Matched, homography_of, plausible
from keen_sweep.core.series.flow import flow, lengths, local_similarity, texture_strength, warp_by
from keen_sweep.core.series.view import View

# Number of planes, at most.
MAX_PLANES = 5
# Places join a plane by their surroundings, standard deviation in pixels of the view.
COST_SIGMA_PX = 10.0
# Spacing of the places that refine a plane, pixels of the view.
SAMPLE_STEP_PX = 8
# Texture that a place needs to refine a plane.
MIN_TEXTURE = 0.3
# Distance within which places agree with a plane, pixels of the view.
PLANE_TOLERANCE_PX = 1.0


def planes_of(found: Matched, one: View, other: View) -> list[Matrix]:
    """Homographies of the planes on which matched features lie.

    Parameters
    ----------
    found : Matched
        The matches.
    one : View
        The first view.
    other : View
        The second view.

    Returns
    -------
    list of (3, 3) float64
        From the first view to the second, the plane with most features first.
    """
    planes = [found.homography]
    points, counterparts = found.here, found.there
    left = np.linalg.norm(map_by_homography(found.homography, points) - counterparts, axis=1) > HOMOGRAPHY_TOLERANCE_PX
    for _ in range(MAX_PLANES - 1):
        points, counterparts = points[left], counterparts[left]
        if len(points) < MIN_MATCHES:
            break
        plane, agreeing = homography_of(points, counterparts, HOMOGRAPHY_TOLERANCE_PX)
        if plane is None or agreeing.sum() < MIN_MATCHES:
            break
        if plausible(plane, one):
            planes.append(plane)
        left = ~agreeing
    return [_refined(plane, one, other) for plane in planes]


def warp_view(other: View, plane: Matrix, one: View) -> View:
    """Warp a view by a homography.

    Parameters
    ----------
    other : View
        The view.
    plane : (3, 3) float64
        The homography.
    one : View
        The view whose geometry is used.

    Returns
    -------
    View
        The warped view.
    """
    height, width = one.pixels.shape[:2]
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    laid = cv2.warpPerspective(other.pixels, plane, (width, height), flags=flags, borderMode=cv2.BORDER_REPLICATE)
    return View(np.asarray(laid, np.uint8), one.width, one.height)


def unseen_pixels(plane: Matrix, one: View, other: View) -> Bools:
    """Pixels of one view that another does not show.

    Parameters
    ----------
    plane : (3, 3) float64
        Homography from the first view to the second.
    one : View
        The first view.
    other : View
        The second view.

    Returns
    -------
    (h, w) bool
        The pixels.
    """
    full = np.full(other.pixels.shape[:2], 255, np.uint8)
    flags = cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(full, plane, one.pixels.shape[1::-1], flags=flags) == 0)


def motion_by(planes: list[Matrix], one: View, other: View) -> Floats:
    """Motion that remains after the first plane is aligned, according to the other planes.

    Each place follows the plane in which its wide surroundings match. Dense flow finds neither large motions
    nor the right bar of a row: only the surroundings decide.

    Parameters
    ----------
    planes : list of (3, 3) float64
        The planes.
    one : View
        The first view.
    other : View
        The second view.

    Returns
    -------
    (h, w, 2) float32
        The motion, pixels of the view.
    """
    height, width = one.pixels.shape[:2]
    out = np.zeros((height, width, 2), np.float32)
    if len(planes) == 1:
        return out
    grey = one.grey
    unlike = []
    for plane in planes:
        cost = 1 - local_similarity(grey, warp_view(other, plane, one).grey)
        cost[unseen_pixels(plane, one, other)] = 1
        unlike.append(cv2.GaussianBlur(cost, (0, 0), COST_SIGMA_PX))
    chosen = np.argmin(np.stack(unlike), axis=0)
    back = np.linalg.inv(planes[0])
    for k, plane in enumerate(planes[1:], start=1):
        rows, columns = np.nonzero(chosen == k)
        places = np.stack([columns, rows], 1).astype(np.float64)
        out[rows, columns] = map_by_homography(back @ plane, places) - places
    return out


def _refined(plane: Matrix, one: View, other: View) -> Matrix:
    """The homography of a plane again, from thousands of places of the dense flow instead of some features; twice,
    since more of it comes into reach the better it fits."""
    grey = one.grey
    every = (slice(SAMPLE_STEP_PX // 4, None, SAMPLE_STEP_PX),) * 2
    tells = texture_strength(grey)[every] > MIN_TEXTURE
    for _ in range(2):
        other_warped = warp_view(other, plane, one).grey
        motion = flow(grey, other_warped, finest=2)
        good = (
            (local_similarity(grey, warp_by(other_warped, motion))[every] > 0.5)
            & tells
            & ~unseen_pixels(plane, one, other)[every]
        )
        good &= lengths(motion)[every] < 3 * HOMOGRAPHY_TOLERANCE_PX
        rows, columns = np.nonzero(good)
        if len(rows) < 4 * MIN_MATCHES:
            break
        places = np.asarray(np.stack([columns, rows], 1) * SAMPLE_STEP_PX + SAMPLE_STEP_PX // 4, np.float64)
        ends = np.asarray(places + motion[every][rows, columns], np.float64)
        better, agreeing = homography_of(places, map_by_homography(plane, ends), PLANE_TOLERANCE_PX)
        if better is None or agreeing.sum() < 4 * MIN_MATCHES or not plausible(better, one):
            break
        plane = better
    return plane
