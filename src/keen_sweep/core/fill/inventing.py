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

# The hole's longer side when it is looked at, pixels; and the side of the patches that are compared.
SEEN = 72
SIDE = 9
# How many times worse than usual a likeness is that counts as none; and the share of the rim without any from which on
# a part needs inventing.
ODD = 2.5
SHARE = 0.45
# What is less unlike than this, in squared L*a*b*, is alike.
LEAST = 4.0
MOST_RIM = 240
MOST_OTHERS = 6_000


@dataclass(frozen=True)
class Verdict:
    """The share of a part's rim that has no likeness elsewhere, 0 to 1, whether that is too much, and a sentence."""

    share: float
    needed: bool
    why: str


def needs_inventing(below: Pixels, hole: Bools) -> Verdict:
    """Judge a hole (H, W) bool of a picture (H, W, 3)."""
    tight = box_of(hole)
    margin = int(np.clip(1.5 * max(tight.width, tight.height), 120, 1600))
    box = tight.grow(margin, whole(below))
    scale = min(1.0, SEEN / max(tight.width, tight.height))
    seen, gap = _reduced(below, hole, box, scale)
    plain = cv2.cvtColor(seen.astype(np.float32) / 255, cv2.COLOR_RGB2Lab)
    lab = np.asarray(cv2.GaussianBlur(plain, (0, 0), 0.8), np.float32)
    reach = SIDE // 2
    square = np.ones((SIDE, SIDE), np.uint8)
    near = cv2.dilate(gap.astype(np.uint8), square) > 0
    inner = np.zeros_like(gap)
    inner[reach:-reach, reach:-reach] = True
    whole_patches = ~near & inner
    round_it = cv2.dilate(near.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    rim = _some(np.argwhere(whole_patches & round_it), MOST_RIM)
    others = _some(np.argwhere(whole_patches), MOST_OTHERS)
    if len(rim) < 8 or len(others) < 200:
        return Verdict(1.0, True, "there is hardly anything around it to copy from")
    table = _patches(lab, others)
    sample = _some(others, MOST_RIM)
    usual = float(np.median(_likeness(_patches(lab, sample), sample, table, others)))
    found = _likeness(_patches(lab, rim), rim, table, others)
    share = float(np.mean(found > ODD * max(usual, LEAST)))
    if share > SHARE:
        return Verdict(share, True, f"{share:.0%} of its surroundings occurs nowhere else in the picture")
    return Verdict(share, False, "the surroundings occur elsewhere in the picture too")


def _reduced(below: Pixels, hole: Bools, box: Box, scale: float) -> tuple[EightBit, Bools]:
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
    """The patches round places (n, 2), (n, SIDE * SIDE * 3)."""
    reach = SIDE // 2
    windows = np.lib.stride_tricks.sliding_window_view(lab, (SIDE, SIDE), axis=(0, 1))
    return np.ascontiguousarray(windows[places[:, 0] - reach, places[:, 1] - reach].reshape(len(places), -1))


def _likeness(patches: Floats, at: NDArray[np.intp], table: Floats, others: NDArray[np.intp]) -> Floats:
    """The squared distance a pixel of each patch to the one most like it that does not overlap it."""
    apart = (np.abs(at[:, None, :] - others[None]).max(axis=2)) >= 2 * SIDE
    squares = (patches**2).sum(1)[:, None] + (table**2).sum(1)[None] - 2 * patches @ table.T
    squares[~apart] = np.inf
    return np.asarray(np.maximum(squares.min(axis=1), 0) / (SIDE * SIDE), np.float32)
