"""The flat engine: one colour in the hole, nothing outside it."""

import numpy as np
import pytest

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import whole
from keen_sweep.core.errors import BadMask
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.flat import FlatEngine
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import lay


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_the_hole_gets_the_colour_of_its_rim_and_nothing_else_changes(dtype: type) -> None:
    below: Pixels = np.full((40, 60, 3), 90, dtype)
    below[15:25, 20:40] = 7
    mask = np.zeros((40, 60), np.uint8)
    mask[14:26, 19:41] = 255
    first, second = FlatEngine(Method.AUTO).fill(FillInput(below=below, mask=mask, takes=2))
    after = below.copy()
    lay(after, whole(after), first)
    assert (after == 90).all()
    assert (second.pixels[second.alpha > 0] < 90).all(), "takes can be told apart"
    assert first.energy < second.energy, "the first one is offered first"


def test_a_mask_over_everything_is_refused() -> None:
    with pytest.raises(BadMask):
        list(FlatEngine(Method.WEAVE).fill(FillInput(np.zeros((9, 9, 3), np.uint8), np.full((9, 9), 255, np.uint8))))
