"""Gaps of a mask that hold the rim of a thing: nothing is drawn from them or made to meet them."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.mask.slivers import SLIVER_WIDTH_PX, slivers_of


@given(some.integers(1, 12), some.integers(5, 20))
def test_a_gap_is_a_sliver_when_it_is_narrow(gap: int, height: int) -> None:
    hole = np.zeros((80, 90), bool)
    hole[20 : 20 + height, 10:80] = True
    hole[20 + height + gap : 20 + 2 * height + gap, 10:80] = True
    found = slivers_of(hole)
    assert not (found & hole).any()
    middle = found[20 + height : 20 + height + gap, 30:60]
    assert middle.all() if gap < SLIVER_WIDTH_PX else not middle.any()


def test_a_mask_that_is_whole_has_none() -> None:
    hole = np.zeros((60, 60), bool)
    rows, columns = np.indices(hole.shape)
    hole[np.hypot(rows - 30, columns - 30) < 18] = True
    assert slivers_of(hole).sum() < 8, "but for steps of its rim"
    assert not slivers_of(np.zeros((5, 7), bool)).any()
    assert not slivers_of(np.ones((5, 7), bool)).any()


@pytest.mark.parametrize("method", ["auto", "close", "weave"])
def test_a_coloured_rim_between_two_strokes_does_not_spread(gravel: NDArray[Any], method: Method) -> None:
    photo = np.clip(gravel[:160, :220].astype(int) // 3 + (90 if method == "weave" else 110), 0, 255).astype(np.uint8)
    if method != "weave":
        photo[:] = 150
    hole = np.zeros(photo.shape[:2], bool)
    hole[60:72, 30:190] = True
    hole[75:87, 30:190] = True
    photo[60:87, 30:190] = (20, 30, 220)
    fill_input = FillInput(below=photo, mask=np.where(hole, 255, 0).astype(np.uint8), takes=1)
    (take,) = ByPart(method).fill(fill_input)
    after = photo.copy()
    lay(after, whole(after), take)
    assert np.array_equal(after[~hole], photo[~hole]), "the gap itself stays as it is"
    filled = after[hole].astype(int)
    # Grey ground: where blue had spread it would stand out against red.
    assert np.abs(filled[:, 2] - filled[:, 0]).max() <= 24
    assert np.abs(filled[:, 2] - filled[:, 0]).mean() < 1.0
    assert np.array_equal(lay_take_again(take, photo).pixels, take.pixels)
