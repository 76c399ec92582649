"""What bridges say of a hole, carried to coarser scales."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from keen_sweep.core.fill.weave.guide import Guide


@given(st.integers(0, 9), st.integers(0, 9), st.integers(6, 20), st.integers(6, 20), st.integers(0, 3))
def test_a_guide_at_half_size_is_that_of_the_picture_at_half_size(
    top: int, left: int, tall: int, wide: int, seed: int
) -> None:
    random = np.random.default_rng(seed)
    picture = 8 * random.integers(-200, 200, (32, 32, 4)).astype(np.int16)
    pull = random.random((32, 32)).astype(np.float32)
    window = np.s_[top : top + tall, left : left + wide]
    whole, part = Guide(picture, pull), Guide(picture[window], pull[window])
    expected = whole.halved((0, 0), (16, 16), (0, 0))
    # By hand: means of two by two.
    blocks = picture.astype(np.float64).reshape(16, 2, 16, 2, 4)
    assert np.abs(expected.values - blocks.mean((1, 3))).max() <= 0.5
    assert np.allclose(expected.pull, pull.reshape(16, 2, 16, 2).mean((1, 3)), atol=1e-6)
    # What has all its four pixels in the window is the same from there.
    first = (-(-top // 2), -(-left // 2))
    last = ((top + tall) // 2, (left + wide) // 2)
    shape = (last[0] - first[0], last[1] - first[1])
    found = part.halved((top, left), shape, first)
    assert np.array_equal(found.values, expected.values[first[0] : last[0], first[1] : last[1]])
    assert np.allclose(found.pull, expected.pull[first[0] : last[0], first[1] : last[1]], atol=1e-6)
