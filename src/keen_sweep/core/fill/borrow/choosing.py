"""Choosing: which view of which sister shows what a hole hides, place by place.

What goes on from the rim counts: how badly a view fits what is round the hole is drawn on over it and smoothed, as in
cost-volume filtering (Hosni et al. 2013), and the least is taken, so that views meet where they look alike. Who passes
there is left out, and so is the thing itself where it is still there.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.fill.borrow.passing import passers_by
from keen_sweep.core.fill.borrow.views import Warped
from keen_sweep.core.methods.least_seams import least_seams
from keen_sweep.core.methods.seam import membrane
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.series.flow import local_similarity, texture_strength

# Longer side at which views are compared, pixels.
COMPARED_SIDE_PX = 420
# Standard deviation of the blur of the costs, pixels.
COST_SIGMA_PX = 3.0
# Upper bound of a cost, a difference in L*a*b*.
MAX_COST = 40.0
# Nothing is borrowed where even the best view costs more than this, L*a*b*.
MAX_BORROW_COST = 14.0
# Width of the rim on which a view's overall misfit is measured, pixels.
RIM_WIDTH_PX = 12
# Share of the overall misfit that is added everywhere, so that a leaf at the rim does not choose for the wall behind
# it.
OVERALL_SHARE = 0.75
# A motion that bends fits any rim and bends what is straight: it must fit better by this much, L*a*b*.
BENDING_COST = 4.0
# Cost of a seam per unit of difference between the two views.
SEAM_COST = 2.0
# Cost of a seam per place.
CHANGE_COST = 2.0
# How far outside the hole a seam may lie, pixels.
SEAM_REACH_PX = 3
# Cost of what must not be taken.
FORBIDDEN_COST = 1e4
# Number of views compared place by place: time grows with its square.
MAX_VIEWS = 8
UNFIT_LABEL = -1
EXCLUDED_LABEL = -2
# The thing is still there when this share of its core looks the same.
SAME_SHARE = 0.6
# The core of a part is deeper than this share of its greatest depth.
CORE_DEPTH_SHARE = 0.5


@dataclass(frozen=True)
class ComparedViews:
    """Views of the surroundings of a hole, compared at a reduced size.

    Attributes
    ----------
    views : tuple of Warped
        The views.
    costs : (n, h', w') float32
        Misfit of each view at each place.
    overall : (n,) float32
        Misfit of each view as a whole.
    shown : (n, h', w', 3) float32
        L*a*b* of each view.
    gap : (h', w') bool
        The hole.
    shape : tuple of 2 int
        Height and width at full size.
    """

    views: tuple[Warped, ...]
    costs: Floats
    overall: Floats
    shown: Floats
    gap: Bools
    shape: tuple[int, int]

    def chosen(self, sisters: Collection[int]) -> NDArray[np.int32]:
        """For each place of the box the number of the view to borrow from, of these sisters, (h, w); UNFIT_LABEL where
        none goes on from the rim, EXCLUDED_LABEL where all show somebody, or the thing, or nothing that may be
        borrowed."""
        some = np.array([k for k, view in enumerate(self.views) if view.sister in sisters], np.int32)
        volume = self.costs[some]
        least = volume.min(axis=0)
        wanted = np.where(volume > MAX_COST, FORBIDDEN_COST, volume + self.overall[some, None, None]).astype(np.float32)
        # Where none may be taken it does not matter which is not.
        wanted[:, least > MAX_COST] = 0
        near = _grown(self.gap, SEAM_REACH_PX)
        few = _mostly_least(wanted, near)
        taken = few[least_seams(wanted[few], self.shown[some[few]], near, SEAM_COST, CHANGE_COST)]
        # Nor is anybody taken because those few that were held against each other all show somebody.
        fits = near & (np.take_along_axis(volume, taken[None].astype(np.int64), 0)[0] <= MAX_COST)
        best = some[np.where(fits, taken, volume.argmin(axis=0))]
        best[self.gap & (least > MAX_BORROW_COST)] = UNFIT_LABEL
        best[self.gap & (least > MAX_COST)] = EXCLUDED_LABEL
        return np.asarray(cv2.resize(best, self.shape[::-1], interpolation=cv2.INTER_NEAREST), np.int32)


def compare_views(pixels: Pixels, hole: Bools, views: Sequence[Warped]) -> ComparedViews:
    """Compare views of the surroundings of a hole.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        The surroundings.
    hole : (h, w) bool
        The hole.
    views : sequence of Warped
        The views.

    Returns
    -------
    ComparedViews
        The comparison.
    """
    scale = min(1.0, COMPARED_SIDE_PX / max(hole.shape))
    size = (max(round(hole.shape[1] * scale), 16), max(round(hole.shape[0] * scale), 16))
    own, gap = _lab(pixels, size), _share(hole, size) > 0
    theirs = [_lab(view.pixels, size) for view in views]
    valid = [_share(view.there, size) > 0.99 for view in views]
    costs = [_from_rim(own, lab, gap, seen) for lab, seen in zip(theirs, valid, strict=True)]
    for cost, seen in zip(costs, valid, strict=True):
        cost[~seen] = 2 * MAX_COST
    overall = np.array(
        [
            OVERALL_SHARE * _all_round(own, lab, gap, seen) + (BENDING_COST if view.bends else 0.0)
            for view, lab, seen in zip(views, theirs, valid, strict=True)
        ],
        np.float32,
    )
    _leave_out(own, gap, views, theirs, costs)
    blurred = np.stack([_blurred(cost) for cost in costs])
    return ComparedViews(tuple(views), blurred, overall, np.stack(theirs), gap, hole.shape)


def _leave_out(own: Floats, gap: Bools, views: Sequence[Warped], theirs: Sequence[Floats], costs: list[Floats]) -> None:
    """Make dear what is no background, sister by sister, as their best views show it."""
    sisters = sorted({view.sister for view in views})
    mine = {sister: [k for k, view in enumerate(views) if view.sister == sister] for sister in sisters}
    best: list[tuple[Floats, Bools]] = []
    for sister in sisters:
        volume = np.stack([costs[k] for k in mine[sister]])
        at = volume.argmin(axis=0)
        shown = np.take_along_axis(np.stack([theirs[k] for k in mine[sister]]), at[None, ..., None], 0)[0]
        best.append((shown, volume.min(axis=0) <= MAX_COST))
    for sister, somebody, (shown, _) in zip(sisters, passers_by(own, gap, best), best, strict=True):
        out = somebody | still_there(own, gap, shown)
        for k in mine[sister]:
            costs[k][out] = 2 * MAX_COST


def still_there(own: Floats, gap: Bools, lab: Floats) -> Bools:
    """Parts of a hole in which another picture still shows the removed thing.

    Parameters
    ----------
    own : (h, w, 3) float32
        L*a*b* of the picture.
    gap : (h, w) bool
        The hole.
    lab : (h, w, 3) float32
        L*a*b* of the other picture.

    Returns
    -------
    (h, w) bool
        The parts.
    """
    grey, theirs = (np.asarray(np.clip(each[..., 0] * 2.55, 0, 255), np.uint8) for each in (own, lab))
    tells = texture_strength(grey)
    like = local_similarity(grey, theirs, 2.0) * (np.linalg.norm(own - lab, axis=2) < MAX_COST / 2)
    count, labels = cv2.connectedComponents(gap.astype(np.uint8))
    depth = np.asarray(cv2.distanceTransform(gap.astype(np.uint8), cv2.DIST_L2, 5))
    still = np.zeros(gap.shape, np.bool_)
    for part in range(1, count):
        inside = labels == part
        middle = inside & (depth > CORE_DEPTH_SHARE * depth[inside].max())
        weight = float(tells[middle].sum())
        if weight > 0 and float((like * tells)[middle].sum()) > SAME_SHARE * weight:
            still |= inside
    return still


def _lab(pixels: Pixels, size: tuple[int, int]) -> Floats:
    small = cv2.resize(to_eight_bit(pixels), size, interpolation=cv2.INTER_AREA).astype(np.float32) / np.float32(255)
    return np.asarray(cv2.cvtColor(small, cv2.COLOR_RGB2LAB), np.float32)


def _share(plane: Bools, size: tuple[int, int]) -> Floats:
    return np.asarray(cv2.resize(plane.astype(np.float32), size, interpolation=cv2.INTER_AREA), np.float32)


def _blurred(plane: Floats) -> Floats:
    return np.asarray(cv2.GaussianBlur(plane, (0, 0), COST_SIGMA_PX), np.float32)


def _mostly_least(volume: Floats, where: Bools) -> NDArray[np.int32]:
    """The numbers of those that cost least at most places, a few."""
    counts = np.bincount(volume.argmin(axis=0)[where], minlength=len(volume))
    order = np.argsort(-counts, kind="stable")[:MAX_VIEWS]
    return np.sort(order[counts[order] > 0]).astype(np.int32)


def _grown(plane: Bools, far: int) -> Bools:
    return np.asarray(cv2.dilate(plane.astype(np.uint8), np.ones((2 * far + 1,) * 2, np.uint8))) > 0


def _apart(own: Floats, lab: Floats) -> Floats:
    return np.asarray(np.minimum(np.linalg.norm(own - lab, axis=2), MAX_COST), np.float32)


def _all_round(own: Floats, lab: Floats, gap: Bools, seen: Bools) -> float:
    """How badly a view fits what is round the hole, on the whole."""
    rim = _grown(gap, RIM_WIDTH_PX) & ~gap & seen
    return float(_apart(own, lab)[rim].mean()) if rim.any() else MAX_COST


def _from_rim(own: Floats, lab: Floats, gap: Bools, seen: Bools) -> Floats:
    """How badly a view goes on from what is round the hole: how much it differs there, drawn on over the hole."""
    misfit = _apart(own, lab)
    known = (~gap & seen).astype(np.float32)
    mean = cv2.GaussianBlur(misfit * known, (0, 0), COST_SIGMA_PX) / np.maximum(
        cv2.GaussianBlur(known, (0, 0), COST_SIGMA_PX), 1e-3
    )
    return membrane(np.asarray(np.where(known > 0, mean, MAX_COST), np.float32), gap)
