"""Strips along lines that the photographer drew: what a line crosses outside the hole is copied along it into the hole,
pixel for pixel, so that the edge that goes on is as sharp as it is outside (structure first, by hand: Sun et al. 2005).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Doubles, Labels
from keen_sweep.core.fill.weave.lead_stretches import STEP_PX, Stretch, is_set, normals_of

# Angle from which a bend within a few pixels is a corner, radians.
MIN_CORNER_TURN_RAD = 0.5
# Distance over which a bend is measured, pixels.
CORNER_REACH_PX = 6.0


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


def strips_of(stretches: Sequence[Stretch], hole: Bools, known: Bools, half_width: float) -> Strips | None:
    """Find what each pixel beside the lines copies.

    Parameters
    ----------
    stretches : sequence of Stretch
        The lines.
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
    pixels = np.argwhere(hole)
    for stretch in stretches:
        tree = cKDTree(stretch.inside)
        away, nearest = map(np.asarray, tree.query(pixels[:, ::-1], distance_upper_bound=half_width))
        within = np.isfinite(away)
        places, at = pixels[within], nearest[within]
        copied, labels = _copied(stretch, places[:, ::-1].astype(np.float64), at)
        found = np.rint(copied).astype(np.int32)[:, ::-1]
        good = is_set(found[:, ::-1].astype(np.float64), usable)
        rows, columns = places[good].T
        mask[rows, columns] = True
        sources[rows, columns] = found[good]
        pieces[rows, columns] = labels[good] + int(pieces.max())
    return Strips(mask, sources, pieces) if mask.any() else None


def _copied(stretch: Stretch, places: Doubles, at: NDArray[np.intp]) -> tuple[Doubles, NDArray[np.int32]]:
    """Places outside the hole that places beside the line copy, and the label of the piece that each belongs to, from
    1; at: the line's point that is nearest to each place."""
    inside = stretch.inside
    right = normals_of(inside)
    aside = ((places - inside[at]) * right[at]).sum(axis=1)
    cut = _cut(stretch)
    out, labels = np.full(places.shape, -1.0), np.zeros(len(places), np.int32)
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


def _cut(stretch: Stretch) -> int:
    """Index of the line's point from which on it copies what lies behind its end."""
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
    return len(inside) // 2
