"""Pixels come out of a PNG as they went in, as another library reads it."""

from typing import Any

import imagecodecs
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays
from numpy.typing import NDArray

from keen_sweep.core.photo.png_encoder import packed_png

shapes = st.tuples(st.integers(1, 40), st.integers(1, 40), st.integers(1, 4)).map(
    lambda shape: shape[:2] if shape[2] == 1 else shape
)


@settings(max_examples=60, deadline=None)
@given(pixels=st.sampled_from([np.uint8, np.uint16]).flatmap(lambda kind: arrays.arrays(kind, shapes)))
def test_every_kind_of_pixels_comes_back_to_the_bit(pixels: NDArray[Any]) -> None:
    back = imagecodecs.png_decode(packed_png(pixels))
    assert back.dtype == pixels.dtype
    assert np.array_equal(back.reshape(pixels.shape), pixels)


def test_a_photograph_is_packed_about_as_small_as_by_another_coder(photograph: NDArray[Any]) -> None:
    usual = len(imagecodecs.png_encode(photograph, level=4))
    assert len(packed_png(photograph)) < 1.1 * usual


@pytest.mark.parametrize("side", [1000, 2000])
def test_a_mask_stays_small(side: int) -> None:
    mask = np.zeros((side, side), np.uint8)
    mask[200:600, 300:700] = 255
    assert len(packed_png(mask)) < 0.005 * mask.size
