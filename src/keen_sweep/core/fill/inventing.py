"""Whether a part needs inventing: its rim shows what the picture has nowhere else, so nothing can be drawn from.

A face, lettering, a thing that is mostly hidden cannot be made of other places of the same picture. What stands at
their rim finds no likeness elsewhere, while grass, gravel, walls and skies do.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, EightBit, Floats, Pixels
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.sentences import sentence

# Holes up to this radius are closed or woven whatever lies at their rim, pixels.
NARROW_RADIUS_PX = 8.0
# Longer side of the hole at working size, pixels.
HOLE_SIDE_PX = 72
PATCH_SIDE_PX = 9
# A rim patch has no match when its best distance exceeds the usual one by this ratio.
UNMATCHED_RATIO = 2.5
# From this share of unmatched rim on, something has to be invented.
MIN_UNMATCHED_SHARE = 0.45
# Patches closer than this count as alike, squared L*a*b*.
MIN_USUAL_DISTANCE = 4.0
MAX_RIM_PATCHES = 240
MAX_OTHER_PATCHES = 6_000


@dataclass(frozen=True)
class Verdict:
    """Whether a hole needs something that the picture does not show.

    Attributes
    ----------
    share : float
        Share of the rim without a match elsewhere, 0 to 1.
    needed : bool
        Whether that is too much.
    why : str
        One sentence for the screen.
    """

    share: float
    needed: bool
    why: str


def needs_inventing(below: Pixels, hole: Bools) -> Verdict:
    """Judge whether a hole can be filled from its picture.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture.
    hole : (H, W) bool
        The hole.

    Returns
    -------
    Verdict
        The verdict.
    """
    tight = box_of(hole)
    margin = int(np.clip(1.5 * max(tight.width, tight.height), 120, 1600))
    box = tight.grow(margin, whole(below))
    scale = min(1.0, HOLE_SIDE_PX / max(tight.width, tight.height))
    seen, gap = reduced(below, hole, box, scale)
    plain = cv2.cvtColor(seen.astype(np.float32) / 255, cv2.COLOR_RGB2Lab)
    lab = np.asarray(cv2.GaussianBlur(plain, (0, 0), 0.8), np.float32)
    reach = PATCH_SIDE_PX // 2
    square = np.ones((PATCH_SIDE_PX, PATCH_SIDE_PX), np.uint8)
    near = cv2.dilate(gap.astype(np.uint8), square) > 0
    inner = np.zeros_like(gap)
    inner[reach:-reach, reach:-reach] = True
    whole_patches = ~near & inner
    round_it = cv2.dilate(near.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    rim = _some(np.argwhere(whole_patches & round_it), MAX_RIM_PATCHES)
    others = _some(np.argwhere(whole_patches), MAX_OTHER_PATCHES)
    if len(rim) < 8 or len(others) < 200:
        return Verdict(1.0, True, sentence("there is hardly anything around it to copy from"))
    table = _patches(lab, others)
    sample = _some(others, MAX_RIM_PATCHES)
    usual = float(np.median(_likeness(_patches(lab, sample), sample, table, others)))
    found = _likeness(_patches(lab, rim), rim, table, others)
    share = float(np.mean(found > UNMATCHED_RATIO * max(usual, MIN_USUAL_DISTANCE)))
    if share > MIN_UNMATCHED_SHARE:
        return Verdict(
            share, True, sentence("{share:.0%} of its surroundings occurs nowhere else in the picture", share=share)
        )
    return Verdict(share, False, sentence("the surroundings occur elsewhere in the picture too"))


def reduced(below: Pixels, hole: Bools, box: Box, scale: float) -> tuple[EightBit, Bools]:
    """Reduce a picture and its hole to a working size.

    Parameters
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture.
    hole : (H, W) bool
        The hole.
    box : Box
        The part of the picture that is wanted.
    scale : float
        Its new size, at most 1.

    Returns
    -------
    tuple of (h, w, 3) uint8 and (h, w) bool
        Both; what is covered by the hole in part counts as hole.
    """
    cut, gap = to_eight_bit(below[box.slices]), hole[box.slices]
    if scale == 1.0:
        return cut, gap
    size = (max(round(box.width * scale), 1), max(round(box.height * scale), 1))
    seen = np.asarray(cv2.resize(cut, size, interpolation=cv2.INTER_AREA), np.uint8)
    return seen, np.asarray(cv2.resize(gap.astype(np.float32), size, interpolation=cv2.INTER_AREA) > 0)


def _some(places: NDArray[np.intp], most: int) -> NDArray[np.intp]:
    """An even selection."""
    return places[:: max(-(-len(places) // most), 1)]


def _patches(lab: Floats, places: NDArray[np.intp]) -> Floats:
    """The patches round places (n, 2), (n, PATCH_SIDE_PX * PATCH_SIDE_PX * 3)."""
    reach = PATCH_SIDE_PX // 2
    windows = np.lib.stride_tricks.sliding_window_view(lab, (PATCH_SIDE_PX, PATCH_SIDE_PX), axis=(0, 1))
    return np.ascontiguousarray(windows[places[:, 0] - reach, places[:, 1] - reach].reshape(len(places), -1))


def _likeness(patches: Floats, at: NDArray[np.intp], table: Floats, others: NDArray[np.intp]) -> Floats:
    """The squared distance a pixel of each patch to the one most like it that does not overlap it."""
    distant = (np.abs(at[:, None, :] - others[None]).max(axis=2)) >= 2 * PATCH_SIDE_PX
    squares = (patches**2).sum(1)[:, None] + (table**2).sum(1)[None] - 2 * patches @ table.T
    squares[~distant] = np.inf
    return np.asarray(np.maximum(squares.min(axis=1), 0) / (PATCH_SIDE_PX * PATCH_SIDE_PX), np.float32)
