"""Passing: what of a sister frame is no background, but somebody else who stood there then.

Of a passer-by there is only one: of several sisters the one that agrees with no other is wrong. Where only two differ,
and where there is only one, a place that is less like what is round the hole is.
"""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
import scipy

from keen_sweep.core.arrays import Bools, Floats
from keen_sweep.core.mask.fit import fill_holes

# Two sisters differ from this distance in L*a*b* on.
MIN_DIFFERENCE = 9.0
# Standard deviation over which the difference is averaged, pixels.
DIFFERENCE_SIGMA_PX = 1.5
# Smallest passer-by, pixels.
MIN_AREA_PX = 20
# Gaps in a passer-by up to this width are closed, pixels.
GAP_PX = 7
# Margin that is left out around a passer-by, pixels.
MARGIN_PX = 3
# Side of the patches that are compared, pixels.
PATCH_SIDE_PX = 7
# Number of patches of the surroundings that are searched.
MAX_PATCHES = 12_000
# Number of principal components that describe a patch.
PATCH_COMPONENTS = 16
# Where no other sister can tell, a part counts as a passer-by from this peak oddness on.
MIN_PEAK_ODDNESS = 7.0
# Its outline extends to places this odd.
MIN_ODDNESS = 1.5
# Gaps between odd places that are closed, pixels: trousers are odd only at their edges.
ODD_GAP_PX = 17
MAX_ODDNESS = 40.0
# Share of its outline over which a part must continue beyond the hole to count as background.
MIN_OUTLINE_SHARE = 0.2
# Share of its outline at the hole's border over which a part must continue to count as background.
MIN_BEYOND_SHARE = 0.7


def passers_by(own: Floats, gap: Bools, seen: Sequence[tuple[Floats, Bools]]) -> list[Bools]:
    """Passers-by within a hole, in each sister frame.

    Parameters
    ----------
    own : (h, w, 3) float32
        L*a*b* of the frame.
    gap : (h, w) bool
        The hole.
    seen : sequence of (h, w, 3) float32 and (h, w) bool
        L*a*b* of each sister, and where it shows anything.

    Returns
    -------
    list of (h, w) bool
        The passers-by in each sister.
    """
    oddness = [oddness_of(own, lab, gap) for lab, _ in seen]
    fits = [valid & (np.linalg.norm(own - lab, axis=2) < MIN_DIFFERENCE) for lab, valid in seen]
    if len(seen) == 1:
        return [_somebody(oddness[0], gap, fits[0])]
    out = [np.zeros(gap.shape, np.bool_) for _ in seen]
    differing = {
        (i, j): _differ(seen[i], seen[j]) & gap & seen[i][1] & seen[j][1]
        for i in range(len(seen))
        for j in range(len(seen))
        if i < j
    }

    def differ(i: int, j: int) -> Bools:
        return differing[min(i, j), max(i, j)]

    for k in range(len(seen)):
        others = [j for j in range(len(seen)) if j != k]
        alone = np.logical_and.reduce([differ(k, j) | ~seen[j][1] for j in others]) & gap
        seen_elsewhere = np.logical_or.reduce([seen[j][1] for j in others])
        # Others that agree with each other outvote it; where none do, the less odd one is right.
        voted = np.zeros(gap.shape, np.bool_)
        for i in others:
            for j in others:
                if i < j:
                    voted |= ~differ(i, j) & seen[i][1] & seen[j][1]
        out[k] = alone & seen_elsewhere & voted
        for part in _parts(alone & seen_elsewhere & ~voted):
            rivals = [float(oddness[j][part].mean()) for j in others if seen[j][1][part].mean() > 0.5]
            if rivals and float(oddness[k][part].mean()) > min(rivals):
                out[k] |= part
        out[k] |= _somebody(np.where(seen_elsewhere, 0, oddness[k]).astype(np.float32), gap, fits[k])
    return [_with_room(each) & gap for each in out]


def oddness_of(own: Floats, lab: Floats, gap: Bools) -> Floats:
    """How much less another picture's patches resemble the surroundings than these resemble each other.

    Parameters
    ----------
    own : (h, w, 3) float32
        L*a*b* of the picture.
    lab : (h, w, 3) float32
        L*a*b* of the other picture.
    gap : (h, w) bool
        The hole.

    Returns
    -------
    (h, w) float32
        Oddness, L*a*b*.
    """
    reach = PATCH_SIDE_PX // 2
    patches = [
        np.lib.stride_tricks.sliding_window_view(each, (PATCH_SIDE_PX, PATCH_SIDE_PX), axis=(0, 1))
        for each in (own, lab)
    ]
    clean = (
        cv2.dilate(gap.astype(np.uint8), np.ones((PATCH_SIDE_PX, PATCH_SIDE_PX), np.uint8))[reach:-reach, reach:-reach]
        == 0
    )
    rows, columns = np.nonzero(clean)
    wanted = np.nonzero(gap[reach:-reach, reach:-reach])
    out = np.zeros(gap.shape, np.float32)
    if len(rows) < PATCH_SIDE_PX * PATCH_SIDE_PX or not len(wanted[0]):
        return out
    some = np.random.Generator(np.random.PCG64(2)).permutation(len(rows))[:MAX_PATCHES]
    table = patches[0][rows[some], columns[some]].reshape(len(some), -1)
    middle = table.mean(axis=0)
    axes = np.linalg.svd((table - middle)[:: max(len(table) // 1_000, 1)], full_matrices=False)[2][:PATCH_COMPONENTS].T
    projections = (table - middle) @ axes
    tree = scipy.spatial.cKDTree(projections)
    # Of the second nearest: the nearest is itself.
    usual = float(np.median(np.asarray(tree.query(projections[:: max(len(projections) // 500, 1)], k=2)[0])[:, 1]))
    whole = patches[1][wanted].reshape(len(wanted[0]), -1) - middle
    asked = whole @ axes
    # What those numbers cannot tell, a red coat on grey gravel, is odd as far as it is more than the ground's own.
    beyond = np.maximum((whole**2).sum(axis=1) - (asked**2).sum(axis=1), 0)
    own = np.maximum(((table - middle) ** 2).sum(axis=1) - (projections**2).sum(axis=1), 0)
    excess = np.maximum(np.sqrt(beyond) - float(np.quantile(np.sqrt(own), 0.9)), 0)
    found = np.hypot(np.asarray(tree.query(asked, k=1, eps=0.3)[0]), excess)
    out[wanted[0] + reach, wanted[1] + reach] = np.clip((found - 2 * usual) / PATCH_SIDE_PX, 0, MAX_ODDNESS)
    return np.asarray(cv2.GaussianBlur(out, (0, 0), 2 * DIFFERENCE_SIGMA_PX), np.float32)


def _differ(one: tuple[Floats, Bools], other: tuple[Floats, Bools]) -> Bools:
    """Where two pictures differ by more than a pixel's shift explains, (h, w)."""
    shifted = [np.roll(other[0], (dy, dx), (0, 1)) for dy in (-1, 0, 1) for dx in (-1, 0, 1)]
    least = np.min([np.linalg.norm(one[0] - each, axis=2) for each in shifted], axis=0)
    return np.asarray(cv2.GaussianBlur(least.astype(np.float32), (0, 0), DIFFERENCE_SIGMA_PX)) > MIN_DIFFERENCE


def _somebody(oddness: Floats, gap: Bools, fits: Bools) -> Bools:
    """Somebody whom only their oddness tells, (h, w): who stands in the hole, rather than going on beyond it, where the
    frame itself shows the same; fits (h, w): where it does."""
    out = np.zeros(gap.shape, np.bool_)
    for part in _parts((oddness > MIN_ODDNESS) & gap, ODD_GAP_PX):
        if oddness[part].max() > MIN_PEAK_ODDNESS and not _goes_on(part, gap, fits):
            out |= fill_holes(np.where(part, 255, 0).astype(np.uint8)) > 0
    return _with_room(out) & gap


def _goes_on(part: Bools, gap: Bools, fits: Bools) -> bool:
    """Whether a part of a hole goes on beyond it, over much of its outline."""
    near = np.ones((2 * MARGIN_PX + 1,) * 2, np.uint8)
    outline = (cv2.dilate(part.astype(np.uint8), near) > 0) & ~part
    beyond = outline & ~gap
    share = float((beyond & fits).sum())
    return share > MIN_OUTLINE_SHARE * float(outline.sum()) and share > MIN_BEYOND_SHARE * float(beyond.sum())


def _parts(plane: Bools, gaps: int = GAP_PX) -> list[Bools]:
    """Its parts, closed over gaps, those that are large enough."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (gaps, gaps))
    closed = cv2.morphologyEx(plane.astype(np.uint8), cv2.MORPH_CLOSE, disc)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(closed)
    return [labels == k for k in range(1, count) if stats[k, cv2.CC_STAT_AREA] >= MIN_AREA_PX]


def _with_room(plane: Bools) -> Bools:
    return np.asarray(cv2.dilate(plane.astype(np.uint8), np.ones((2 * MARGIN_PX + 1,) * 2, np.uint8))) > 0
