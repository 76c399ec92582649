"""A take that is laid in part: the formula of source over destination (Porter and Duff, Compositing Digital Images,
1984), to half a step in 8 and 16 bit."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch, lay

BOX = Box(x=3, y=2, width=24, height=16)


@given(amount=st.integers(0, 100), seed=st.integers(0, 2**31), deep=st.booleans())
def test_opacity_is_the_formula_to_half_a_step(amount: int, seed: int, deep: bool) -> None:
    random = np.random.default_rng(seed)

    def pixels(height: int, width: int) -> Pixels:
        if deep:
            return random.integers(0, 2**16, (height, width, 3)).astype(np.uint16)
        return random.integers(0, 2**8, (height, width, 3)).astype(np.uint8)

    shot, own = pixels(20, 30), pixels(BOX.height, BOX.width)
    alpha = random.choice(np.array([0, 1, 128, 254, 255], np.uint8), (BOX.height, BOX.width))
    laid = shot.copy()
    lay(laid, Box(x=0, y=0, width=30, height=20), Patch(BOX, own, alpha, MadeBy.WEAVE, 1), amount)
    weight = np.zeros((20, 30, 1))
    weight[BOX.slices] = alpha[..., None] / 255 * amount / 100
    take = np.zeros(shot.shape)
    take[BOX.slices] = own
    assert np.abs(laid - ((1 - weight) * shot + weight * take)).max() <= 0.5 + 1e-9
    assert np.array_equal(laid[weight[..., 0] == 0], shot[weight[..., 0] == 0])
