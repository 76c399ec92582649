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
from keen_sweep.core.mask.fit import without_holes

# Two sisters differ where their L*a*b* do by so much, over so wide a place, standard deviation in pixels.
DIFFER = 9.0
WIDE = 1.5
# What passes is at least so large, pixels; is closed over gaps of so many; and is left out with so much round it.
LEAST = 20
GAPS = 7
ROUND = 3
# Patches: their side, how many of the surroundings are looked through, and of how many numbers each is told by.
SIDE = 7
LOOKED_THROUGH = 12_000
NUMBERS = 16
# So odd a place is somebody where no other sister tells, at its oddest, and as far as it reaches, over gaps of so many
# pixels: trousers are odd at their edges only.
ODDEST = 7.0
ODD = 1.5
FAR = 17
MOST = 40.0
# What goes on beyond the hole over such a share of its outline, and of what of that is beyond, belongs there.
GOES_ON = 0.2
MOSTLY = 0.7


def passing(own: Floats, gap: Bools, seen: Sequence[tuple[Floats, Bools]]) -> list[Bools]:
    """What passes through each sister within a hole, (h, w) bool each.

    own (h, w, 3) L*a*b* float32: the frame itself; gap (h, w): its hole; seen: what each sister shows in its place, and
    where it shows anything.
    """
    oddness = [odd(own, lab, gap) for lab, _ in seen]
    fits = [there & (np.linalg.norm(own - lab, axis=2) < DIFFER) for lab, there in seen]
    if len(seen) == 1:
        return [_somebody(oddness[0], gap, fits[0])]
    out = [np.zeros(gap.shape, np.bool_) for _ in seen]
    apart = {
        (i, j): _differ(seen[i], seen[j]) & gap & seen[i][1] & seen[j][1]
        for i in range(len(seen))
        for j in range(len(seen))
        if i < j
    }

    def differ(i: int, j: int) -> Bools:
        return apart[min(i, j), max(i, j)]

    for k in range(len(seen)):
        others = [j for j in range(len(seen)) if j != k]
        alone = np.logical_and.reduce([differ(k, j) | ~seen[j][1] for j in others]) & gap
        told = np.logical_or.reduce([seen[j][1] for j in others])
        # Others that agree with each other outvote it; where none do, the less odd one is right.
        voted = np.zeros(gap.shape, np.bool_)
        for i in others:
            for j in others:
                if i < j:
                    voted |= ~differ(i, j) & seen[i][1] & seen[j][1]
        out[k] = alone & told & voted
        for part in _parts(alone & told & ~voted):
            rivals = [float(oddness[j][part].mean()) for j in others if seen[j][1][part].mean() > 0.5]
            if rivals and float(oddness[k][part].mean()) > min(rivals):
                out[k] |= part
        out[k] |= _somebody(np.where(told, 0, oddness[k]).astype(np.float32), gap, fits[k])
    return [_with_room(each) & gap for each in out]


def odd(own: Floats, lab: Floats, gap: Bools) -> Floats:
    """How much less like anything round the hole another picture's patches are than what is round it is like itself,
    (h, w), units of L*a*b*."""
    reach = SIDE // 2
    patches = [np.lib.stride_tricks.sliding_window_view(each, (SIDE, SIDE), axis=(0, 1)) for each in (own, lab)]
    clean = cv2.dilate(gap.astype(np.uint8), np.ones((SIDE, SIDE), np.uint8))[reach:-reach, reach:-reach] == 0
    rows, columns = np.nonzero(clean)
    wanted = np.nonzero(gap[reach:-reach, reach:-reach])
    out = np.zeros(gap.shape, np.float32)
    if len(rows) < SIDE * SIDE or not len(wanted[0]):
        return out
    some = np.random.Generator(np.random.PCG64(2)).permutation(len(rows))[:LOOKED_THROUGH]
    table = patches[0][rows[some], columns[some]].reshape(len(some), -1)
    middle = table.mean(axis=0)
    axes = np.linalg.svd((table - middle)[:: max(len(table) // 1_000, 1)], full_matrices=False)[2][:NUMBERS].T
    told = (table - middle) @ axes
    tree = scipy.spatial.cKDTree(told)
    # Of the second nearest: the nearest is itself.
    usual = float(np.median(np.asarray(tree.query(told[:: max(len(told) // 500, 1)], k=2)[0])[:, 1]))
    whole = patches[1][wanted].reshape(len(wanted[0]), -1) - middle
    asked = whole @ axes
    # What those numbers cannot tell, a red coat on grey gravel, is odd as far as it is more than the ground's own.
    beyond = np.maximum((whole**2).sum(axis=1) - (asked**2).sum(axis=1), 0)
    own = np.maximum(((table - middle) ** 2).sum(axis=1) - (told**2).sum(axis=1), 0)
    excess = np.maximum(np.sqrt(beyond) - float(np.quantile(np.sqrt(own), 0.9)), 0)
    found = np.hypot(np.asarray(tree.query(asked, k=1, eps=0.3)[0]), excess)
    out[wanted[0] + reach, wanted[1] + reach] = np.clip((found - 2 * usual) / SIDE, 0, MOST)
    return np.asarray(cv2.GaussianBlur(out, (0, 0), 2 * WIDE), np.float32)


def _differ(one: tuple[Floats, Bools], other: tuple[Floats, Bools]) -> Bools:
    """Where two pictures differ by more than a pixel's shift explains, (h, w)."""
    shifted = [np.roll(other[0], (dy, dx), (0, 1)) for dy in (-1, 0, 1) for dx in (-1, 0, 1)]
    least = np.min([np.linalg.norm(one[0] - each, axis=2) for each in shifted], axis=0)
    return np.asarray(cv2.GaussianBlur(least.astype(np.float32), (0, 0), WIDE)) > DIFFER


def _somebody(oddness: Floats, gap: Bools, fits: Bools) -> Bools:
    """Somebody whom only their oddness tells, (h, w): who stands in the hole, rather than going on beyond it, where the
    frame itself shows the same; fits (h, w): where it does."""
    out = np.zeros(gap.shape, np.bool_)
    for part in _parts((oddness > ODD) & gap, FAR):
        if oddness[part].max() > ODDEST and not _goes_on(part, gap, fits):
            out |= without_holes(np.where(part, 255, 0).astype(np.uint8)) > 0
    return _with_room(out) & gap


def _goes_on(part: Bools, gap: Bools, fits: Bools) -> bool:
    """Whether a part of a hole goes on beyond it, over much of its outline."""
    near = np.ones((2 * ROUND + 1,) * 2, np.uint8)
    outline = (cv2.dilate(part.astype(np.uint8), near) > 0) & ~part
    beyond = outline & ~gap
    share = float((beyond & fits).sum())
    return share > GOES_ON * float(outline.sum()) and share > MOSTLY * float(beyond.sum())


def _parts(plane: Bools, gaps: int = GAPS) -> list[Bools]:
    """Its parts, closed over gaps, those that are large enough."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (gaps, gaps))
    closed = cv2.morphologyEx(plane.astype(np.uint8), cv2.MORPH_CLOSE, disc)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(closed)
    return [labels == k for k in range(1, count) if stats[k, cv2.CC_STAT_AREA] >= LEAST]


def _with_room(plane: Bools) -> Bools:
    return np.asarray(cv2.dilate(plane.astype(np.uint8), np.ones((2 * ROUND + 1,) * 2, np.uint8))) > 0
