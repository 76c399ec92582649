"""Incoherent places of a weave: copied in larger pieces, and only they."""

import cv2
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.arrays import Bools, Floats, Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.fill.weave.compositing import lay_offsets
from keen_sweep.core.fill.weave.incoherent import in_larger_pieces, unlike_share
from keen_sweep.core.review.scores import swd

SIDE = 160
HOLE = Box(x=50, y=50, width=60, height=60)
WINDOW = HOLE.grow(1, Box(x=0, y=0, width=SIDE, height=SIDE))


def knitting() -> Pixels:
    """A regular pattern of stitches."""
    rows, columns = np.mgrid[:SIDE, :SIDE]
    stitch = 40 * np.sin(columns * 0.9) * np.sin(rows * 0.7 + columns * 0.1)
    return np.asarray(np.clip(stitch[..., None] + [150, 120, 90], 0, 255), np.uint8)


def lab(picture: Pixels) -> Floats:
    return np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), np.float32)


def hole_and_allowed() -> tuple[Bools, Bools]:
    whole_hole = np.zeros((SIDE, SIDE), np.bool_)
    whole_hole[HOLE.slices] = True
    allowed = cv2.dilate(whole_hole.astype(np.uint8), np.ones((9, 9), np.uint8)) == 0
    allowed[:4] = allowed[-4:] = allowed[:, :4] = allowed[:, -4:] = False
    return whole_hole, allowed


def scattered(seed: int, spread: int = 4) -> NDArray[np.int32]:
    """Offsets that agree nowhere: each pixel copies near one of two places, moved at random."""
    random = np.random.default_rng(seed)
    offsets = np.zeros((WINDOW.height, WINDOW.width, 2), np.int32)
    away = random.choice([-70, 70], offsets.shape[:2])
    offsets[..., 0] = away
    offsets += random.integers(-spread, spread + 1, offsets.shape).astype(np.int32)
    whole_hole, allowed = hole_and_allowed()
    rows, columns = np.indices(offsets.shape[:2])
    v = np.clip(rows + WINDOW.y + offsets[..., 1], 4, SIDE - 5)
    u = np.clip(columns + WINDOW.x + offsets[..., 0], 4, SIDE - 5)
    u = np.where(allowed[v, u], u, 20)
    offsets[..., 0], offsets[..., 1] = u - columns - WINDOW.x, v - rows - WINDOW.y
    offsets[~whole_hole[WINDOW.slices]] = 0
    return offsets


def filled(picture: Pixels, offsets: NDArray[np.int32]) -> Pixels:
    whole_hole, _ = hole_and_allowed()
    pixels = lay_offsets(picture, ~whole_hole, whole_hole[WINDOW.slices], offsets, WINDOW, whole(picture), 30.0)
    out = picture.copy()
    inside = whole_hole[WINDOW.slices]
    out[WINDOW.slices][inside] = np.clip(np.rint(pixels[inside]), 0, 255)
    return out


def test_a_blur_of_stitches_becomes_stitches() -> None:
    picture = knitting()
    whole_hole, allowed = hole_and_allowed()
    offsets = scattered(1)
    hole = whole_hole[WINDOW.slices]
    pieces = in_larger_pieces(lab(picture), hole, offsets, allowed, (WINDOW.y, WINDOW.x), np.zeros_like(hole))
    assert unlike_share(hole, offsets)[hole].mean() > 0.8
    assert unlike_share(hole, pieces)[hole].mean() < 0.3
    before, after = (swd(filled(picture, each), picture, whole_hole) for each in (offsets, pieces))
    assert after < 0.5 * before


def test_what_agrees_stays_as_it_is() -> None:
    whole_hole, allowed = hole_and_allowed()
    hole = whole_hole[WINDOW.slices]
    offsets = np.zeros((*hole.shape, 2), np.int32)
    # Two halves that meet in one seam: nothing of that is incoherent.
    offsets[hole] = (-70, 0)
    offsets[:, WINDOW.width // 2 :][hole[:, WINDOW.width // 2 :]] = (70, 0)
    before = offsets.copy()
    same = in_larger_pieces(lab(knitting()), hole, offsets, allowed, (WINDOW.y, WINDOW.x), np.zeros_like(hole))
    assert same is offsets
    assert np.array_equal(offsets, before)


@settings(max_examples=12)
@given(st.integers(0, 10**6), st.integers(0, 8), st.integers(0, 55), st.integers(0, 55))
def test_sources_stay_allowed_and_fixed_pixels_stay(seed: int, spread: int, row: int, column: int) -> None:
    whole_hole, allowed = hole_and_allowed()
    hole = whole_hole[WINDOW.slices]
    offsets = scattered(seed, spread)
    fixed = np.zeros_like(hole)
    fixed[row : row + 8, column : column + 8] = True
    given_offsets = offsets.copy()
    pieces = in_larger_pieces(lab(knitting()), hole, offsets, allowed, (WINDOW.y, WINDOW.x), fixed)
    assert np.array_equal(offsets, given_offsets)
    assert np.array_equal(pieces[fixed | ~hole], offsets[fixed | ~hole])
    rows, columns = np.nonzero(hole & (pieces != offsets).any(axis=2))
    moves = pieces[rows, columns]
    assert allowed[rows + WINDOW.y + moves[:, 1], columns + WINDOW.x + moves[:, 0]].all()
