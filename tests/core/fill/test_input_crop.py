"""A fill in a cut of its picture is the fill in the picture, to the bit."""

from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.box import Box, whole
from keen_sweep.core.fill.backdrop import BackdropEngine
from keen_sweep.core.fill.borrow.first import BorrowFirst
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.fill.engine import Engine, FillInput, Sources, Words
from keen_sweep.core.fill.input_crop import crop_input
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.series.align import align
from keen_sweep.core.series.view import view_of
from tests.support.sure import sure

pytestmark = pytest.mark.scenes

GRAVEL = np.repeat(np.tile(data.gravel(), (2, 2))[..., None], 3, axis=2)


def _fill_input(picture: NDArray[Any], *strokes: tuple[tuple[int, int], tuple[int, int], int]) -> FillInput:
    mask = np.zeros(picture.shape[:2], np.uint8)
    for start, end, wide in strokes:
        cv2.line(mask, start, end, 255, wide)
    return FillInput(below=picture, mask=mask, seed=5, takes=2, quality=Quality.FAST)


def _same(engine: Engine, fill_input: FillInput, least: int) -> list[Patch]:
    """The takes, once it is shown that they are the same either way, and that the cut leaves out so many pixels."""
    inner_engine, inner, window = crop_input(engine, fill_input)
    assert inner.below.shape[:2] == (window.height, window.width)
    assert inner.below.shape[0] * inner.below.shape[1] <= fill_input.below.shape[0] * fill_input.below.shape[1] - least
    here = list(engine.fill(fill_input))
    there = [take.moved(window.x, window.y) for take in inner_engine.fill(inner)]
    assert len(here) == len(there) > 0
    for one, other in zip(here, there, strict=True):
        assert one.box == other.box
        assert np.array_equal(one.pixels, other.pixels)
        assert np.array_equal(one.alpha, other.alpha)
        assert (one.offsets is None) == (other.offsets is None)
        assert one.offsets is None or np.array_equal(one.offsets, sure(other.offsets))
        assert one.parts == other.parts
        assert one.energy == other.energy
    return here


@settings(max_examples=6)
@given(
    x=st.integers(8, 1_010), y=st.integers(8, 1_010), wide=st.integers(3, 24), method=st.sampled_from(["auto", "weave"])
)
def test_wherever_the_hole_is(x: int, y: int, wide: int, method: str) -> None:
    end = (min(x + 22, 1_015), max(y - 17, 4))
    _same(ByPart(Method(method)), _fill_input(GRAVEL, ((x, y), end, wide)), 300_000)


def test_with_what_must_not_be_drawn_from_and_what_must_stay() -> None:
    fill_input = _fill_input(GRAVEL, ((500, 480), (520, 500), 14), ((640, 470), (650, 470), 9))
    planes = [np.zeros(GRAVEL.shape[:2], bool) for _ in range(3)]
    for plane, box in zip(planes, ((505, 470, 30, 12), (430, 300, 60, 300), (560, 440, 40, 60)), strict=True):
        plane[Box(x=box[0], y=box[1], width=box[2], height=box[3]).slices] = True
    full = replace(fill_input, guard=planes[0], sources=Sources(barred=planes[1], things=planes[2]))
    _same(ByPart(Method.WEAVE), full, 300_000)


def test_with_ground_to_draw_from_far_away() -> None:
    ground = np.zeros(GRAVEL.shape[:2], bool)
    ground[60:160, 700:820] = True
    fill_input = replace(_fill_input(GRAVEL, ((300, 480), (320, 500), 14)), sources=Sources(draw_from=ground))
    _, inner, window = crop_input(ByPart(Method.WEAVE), fill_input)
    assert inner.sources.draw_from is not None
    assert inner.sources.draw_from.sum() == ground.sum()
    _same(ByPart(Method.WEAVE), fill_input, 100_000)
    assert window.y == 0


def test_borrowed_pixels_are_the_same_too() -> None:
    random = np.random.default_rng(2)
    ground = cv2.resize(data.coffee(), (1_200, 800), interpolation=cv2.INTER_CUBIC)
    sisters = []
    for turned in (0.4, -0.3):
        matrix = cv2.getRotationMatrix2D((600, 400), turned, 1.0)
        matrix[:, 2] += np.array((18 * turned, -4.6))
        laid = cv2.warpAffine(ground, matrix, (1_200, 800), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)
        other = np.clip(laid + random.normal(0, 2, laid.shape), 0, 255).astype(np.uint8)
        barred = np.zeros((800, 1_200), bool)
        barred[300:340, 560:590] = True
        sisters.append(Sister(f"turned {turned}", other, align(view_of(ground), view_of(other)), barred))
    shot = ground.copy()
    cv2.line(shot, (600, 340), (630, 400), (250, 40, 40), 26)
    fill_input = _fill_input(shot, ((600, 340), (630, 400), 30))
    takes = _same(BorrowFirst(sisters, ByPart(Method.AUTO)), fill_input, 300_000)
    assert takes[0].method == "borrow"


@pytest.mark.parametrize("words", [Words(hint="gravel"), Words(avoid="grass")])
def test_words_have_all_of_the_picture(words: Words) -> None:
    fill_input = replace(_fill_input(GRAVEL, ((500, 480), (520, 500), 14)), words=words)
    assert crop_input(ByPart(Method.AUTO), fill_input)[2] == whole(GRAVEL)


def test_so_has_who_looks_at_all_of_it() -> None:
    fill_input = _fill_input(GRAVEL, ((500, 480), (520, 500), 14))
    assert crop_input(BackdropEngine(), fill_input)[2] == whole(GRAVEL)
