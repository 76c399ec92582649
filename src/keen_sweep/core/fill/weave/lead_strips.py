"""Strips along lines that the photographer drew: what a line crosses outside the hole is copied along it into the hole,
pixel for pixel, so that the edge that goes on is as sharp as it is outside (structure first, by hand: Sun et al. 2005).

Only what looks the same all along the line is copied: a texture that is repeated shows.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Floats, Labels
from keen_sweep.core.fill.weave.lead_stretches import STEP_PX, Stretch, is_set, normals_of
from keen_sweep.core.methods.seam import IMAGE_BIT

# Angle from which a bend within a few pixels is a corner, radians.
MIN_CORNER_TURN_RAD = 0.5
# Distance over which a bend is measured, pixels.
CORNER_REACH_PX = 6.0
# Shortest part of a stretch outside the hole that is left when its ends are trimmed, pixels.
MIN_TRIMMED_PX = 6.0
# An end that is less even than the other by this ratio is not copied.
MIN_EVENNESS_RATIO = 0.5
# Within this distance of the line a strip copies in any case, pixels.
EDGE_WIDTH_PX = 2
# Beside the line, what differs by more along it is not copied, L*a*b*.
MAX_UNEVENNESS = 7.0
# The same as a share of what differs across the line, if that is more.
UNEVENNESS_SHARE = 0.5
# What any stretch differs by along its line, L*a*b*.
USUAL_GRAIN = 1.0
# Between these shares of its length a line changes from one end's stretch to the other's.
CUT_SHARES = (0.2, 0.8)
# What a change costs that lies off the middle, L*a*b* per share of the length.
MIDDLE_COST = 30.0


@dataclass(frozen=True)
class Strips:
    """Where strips lie and what they copy.

    Attributes
    ----------
    mask : (H, W) bool
        Pixels of the hole that a strip covers.
    sources : (H, W, 2) int32
        Row and column that each of them copies.
    pieces : (H, W) int32
        A label for each stretch that is copied as a whole, from 1; 0 outside of strips.
    """

    mask: Bools
    sources: NDArray[np.int32]
    pieces: Labels


def strips_of(
    stretches: Sequence[Stretch], colours: Floats, hole: Bools, known: Bools, half_width: float
) -> Strips | None:
    """Find what each pixel beside the lines copies.

    Parameters
    ----------
    stretches : sequence of Stretch
        The lines.
    colours : (H, W, 3) float32
        L*a*b* of the picture.
    hole : (H, W) bool
        The hole.
    known : (H, W) bool
        Known pixels.
    half_width : float
        How far a strip reaches to both sides of its line, pixels.

    Returns
    -------
    Strips or None
        The strips; None without any.
    """
    from scipy.spatial import cKDTree  # not loaded when the server starts

    mask = np.zeros(hole.shape, np.bool_)
    sources = np.zeros((*hole.shape, 2), np.int32)
    pieces = np.zeros(hole.shape, np.int32)
    # No source touches what is unknown: joining asks for the slope there.
    usable = known.copy()
    usable[1:] &= known[:-1]
    usable[:-1] &= known[1:]
    usable[:, 1:] &= known[:, :-1]
    usable[:, :-1] &= known[:, 1:]
    usable[[0, -1]] = usable[:, [0, -1]] = False
    for whole_stretch in stretches:
        stretch = _clear_of_rim(whole_stretch, usable, half_width)
        tree = cKDTree(stretch.inside)
        # Where two lines cross, the one that was drawn first lies on top.
        pixels = np.argwhere(hole & ~mask)
        away, nearest = map(np.asarray, tree.query(pixels[:, ::-1], distance_upper_bound=half_width))
        within = np.isfinite(away)
        places, at = pixels[within], nearest[within]
        cut = _cut(stretch, colours, half_width)
        aside = ((places[:, ::-1] - stretch.inside[at]) * normals_of(stretch.inside)[at]).sum(axis=1)
        left, right = _even_widths(stretch, colours, half_width, cut)
        if len(stretch.before) and len(stretch.after) and max(left, right) < EDGE_WIDTH_PX:
            # Nothing is even: the grounds of both sides meet at the line.
            continue
        kept = (aside >= -left) & (aside <= right)
        places, at, aside = places[kept], at[kept], aside[kept]
        copied, labels = _copied(stretch, aside, at, cut)
        found = np.rint(copied).astype(np.int32)[:, ::-1]
        good = is_set(found[:, ::-1].astype(np.float64), usable)
        rows, columns = places[good].T
        mask[rows, columns] = True
        sources[rows, columns] = found[good]
        # Thousands of repeats begin again at 1: only neighbours must differ.
        pieces[rows, columns] = 1 + (labels[good] - 1 + int(pieces.max())) % (IMAGE_BIT - 1)
    return Strips(mask, sources, pieces) if mask.any() else None


def _clear_of_rim(stretch: Stretch, usable: Bools, half_width: float) -> Stretch:
    """A stretch whose ends outside begin where all of the strip's width can be copied: a rim that the line meets at a
    slant would leave a wedge wherever the strip repeats."""
    aside = np.linspace(-half_width, half_width, 2 * int(np.ceil(half_width)) + 1)

    def trimmed(outside: Doubles) -> Doubles:
        if not len(outside):
            return outside
        across = outside[:, None] + aside[:, None] * normals_of(outside)[:, None]
        seen = is_set(across.reshape(-1, 2), usable).reshape(across.shape[:2])
        whole = np.flatnonzero(seen.all(axis=1))
        if not len(whole):
            return outside
        first = int(whole[0])
        # Up to the first gap.
        last = first + 1 + int(np.argmax(np.append(np.diff(whole), 2) > 1))
        return outside[first:last] if (last - first) * STEP_PX >= MIN_TRIMMED_PX else outside

    return Stretch(stretch.inside, trimmed(stretch.before), trimmed(stretch.after))


def _copied(stretch: Stretch, aside: Doubles, at: NDArray[np.intp], cut: int) -> tuple[Doubles, NDArray[np.int32]]:
    """Places outside the hole that places beside the line copy, and the label of the piece that each belongs to, from
    1; at: the line's point that is nearest to each place, aside: how far it lies to the right of that."""
    inside = stretch.inside
    out, labels = np.full((len(at), 2), -1.0), np.zeros(len(at), np.int32)
    for from_end, own in ((False, at < cut), (True, at >= cut)):
        outside = stretch.after if from_end else stretch.before
        if not own.any() or not len(outside):
            continue
        # Seen from the rim inwards the right side outside is the left side of the way out.
        sides = normals_of(outside) * (1 if from_end else -1)
        depth = (len(inside) - 1 - at[own]) if from_end else at[own]
        # Moved as a whole, again and again: what is copied keeps its direction, and joins without a fold.
        back = len(outside) - 1 - depth % len(outside)
        out[own] = outside[back] + aside[own, None] * sides[back]
        labels[own] = 1 + 2 * (depth // len(outside)) + from_end
    return out, labels


def _cut(stretch: Stretch, colours: Floats, half_width: float) -> int:
    """Index of the line's point from which on it copies what lies behind its end: a corner, or else where both ends
    look most alike."""
    inside = stretch.inside
    if not len(stretch.after):
        return len(inside)
    if not len(stretch.before):
        return 0
    reach = int(CORNER_REACH_PX / STEP_PX)
    if len(inside) > 3 * reach:
        come = inside[reach:-reach] - inside[: -2 * reach]
        go = inside[2 * reach :] - inside[reach:-reach]
        turn = np.abs(np.arctan2(come[:, 0] * go[:, 1] - come[:, 1] * go[:, 0], (come * go).sum(axis=1)))
        if turn.max() > MIN_CORNER_TURN_RAD:
            return reach + int(turn.argmax())
    # A line that ends at a post or a corner of something else goes on from its other end alone.
    at_start, at_end = (_evenness(stretch, colours, half_width, end == 1) for end in range(2))
    if min(at_start, at_end) < MIN_EVENNESS_RATIO * max(at_start, at_end):
        return len(inside) if at_start > at_end else 0
    low, high = (int(share * (len(inside) - 1)) for share in CUT_SHARES)
    candidates = np.arange(low, max(high, low) + 1)
    depths = (candidates, len(inside) - 1 - candidates)
    before, after = (
        _profiles(stretch, colours, half_width, end == 1, len(outside) - 1 - depths[end] % len(outside))
        for end, outside in enumerate((stretch.before, stretch.after))
    )
    differ = np.linalg.norm(before - after, axis=2).mean(axis=1)
    # Of places that are as good as each other, the one nearest to the middle.
    return int(candidates[(differ + MIDDLE_COST * np.abs(candidates / max(len(inside) - 1, 1) - 0.5)).argmin()])


def _even_widths(stretch: Stretch, colours: Floats, half_width: float, cut: int) -> tuple[float, float]:
    """How far the strip reaches to the left and to the right: as far as its ends look the same all along the line. A
    texture that is copied again and again shows; patches do that better."""
    uneven, most = np.zeros(2 * int(np.ceil(half_width)) + 1, np.float64), MAX_UNEVENNESS
    for from_end, outside in enumerate((stretch.before, stretch.after)):
        used = cut < len(stretch.inside) if from_end else cut > 0
        if used and len(outside):
            seen = _profiles(stretch, colours, half_width, from_end == 1, np.arange(len(outside)))
            uneven = np.maximum(uneven, np.linalg.norm(seen.std(axis=0), axis=1))
            most = max(most, UNEVENNESS_SHARE * float(np.linalg.norm(seen.mean(axis=0).std(axis=0))))
    middle = len(uneven) // 2
    widths = []
    for side in (uneven[middle::-1], uneven[middle:]):
        # The far edge of a rim differs for some pixels, a texture everywhere.
        mean = np.cumsum(side) / np.arange(1, len(side) + 1)
        far = np.flatnonzero(mean[EDGE_WIDTH_PX:] > most)
        widths.append(min(float(EDGE_WIDTH_PX - 1 + far[0]), half_width) if len(far) else half_width)
    return widths[0], widths[1]


def _evenness(stretch: Stretch, colours: Floats, half_width: float, from_end: bool) -> float:
    """How much an end outside looks like one edge all along: its differences across over those along it."""
    outside = stretch.after if from_end else stretch.before
    seen = _profiles(stretch, colours, half_width, from_end, np.arange(len(outside)))
    across = float(np.linalg.norm(seen.mean(axis=0).std(axis=0)))
    along = float(np.linalg.norm(seen.std(axis=0), axis=1).mean())
    return across / (along + USUAL_GRAIN)


def _profiles(stretch: Stretch, colours: Floats, half_width: float, from_end: bool, at: NDArray[np.intp]) -> Floats:
    """Colours across the line, from its left to its right, at points of one of its ends outside; (n, 2 k + 1, 3)."""
    outside = stretch.after if from_end else stretch.before
    # Seen from the rim inwards the right side outside is the left side of the way out.
    sides = normals_of(outside) * (1 if from_end else -1)
    reach = int(np.ceil(half_width))
    aside = np.arange(-reach, reach + 1)
    places = np.rint(outside[at][:, None] + aside[:, None] * sides[at][:, None]).astype(int)
    x = np.clip(places[..., 0], 0, colours.shape[1] - 1)
    y = np.clip(places[..., 1], 0, colours.shape[0] - 1)
    return np.asarray(colours[y, x])
