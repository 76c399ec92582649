"""Mixing takes: exact where the brush covers nothing or all, in between between, and nothing beyond the takes."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.mix import blend_takes, mix_box
from keen_sweep.core.fill.patch import Patch, lay

SIZE = (60, 80)
dtypes = st.sampled_from([np.uint8, np.uint16])


def take(seed: int, dtype: type[np.uint8 | np.uint16], x: int, y: int) -> Patch:
    random = np.random.default_rng(seed)
    pixels: NDArray[Any] = random.integers(0, np.iinfo(dtype).max, (20, 30, 3)).astype(dtype)
    alpha = random.choice(np.array([0, 90, 255], np.uint8), (20, 30))
    return Patch(box=Box(x=x, y=y, width=30, height=20), pixels=pixels, alpha=alpha, method=MadeBy.WEAVE, seed=seed)


@given(st.integers(0, 99), dtypes, st.integers(0, 50), st.integers(0, 40), st.booleans(), st.booleans())
def test_a_mix_is_one_take_or_the_other(
    seed: int, dtype: type[np.uint8 | np.uint16], x: int, y: int, shot: bool, first: bool
) -> None:
    random = np.random.default_rng(seed)
    picture: NDArray[Any] = random.integers(0, np.iinfo(dtype).max, (*SIZE, 3)).astype(dtype)
    one, two = take(seed, dtype, 10, 15), take(seed + 1, dtype, x, y)
    under, over = (None, two) if shot and first else (one, None) if shot else (one, two)
    box = mix_box(under, over)
    cover = random.choice(np.array([0, 255], np.uint8), (box.height, box.width))
    patch = blend_takes(picture[box.slices], under, over, cover)
    result, bottom, top = picture.copy(), picture.copy(), picture.copy()
    lay(result, Box(x=0, y=0, width=80, height=60), patch)
    for plane, which in ((bottom, under), (top, over)):
        if which is not None:
            lay(plane, Box(x=0, y=0, width=80, height=60), which)
    here = np.zeros(SIZE, np.uint8)
    here[box.slices] = cover
    expected = np.where(here[..., None] > 0, top, bottom)
    assert np.array_equal(result, expected)


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_a_soft_brush_mixes_in_proportion_and_touches_nothing_else(dtype: type[np.uint8 | np.uint16]) -> None:
    picture: NDArray[Any] = np.full((*SIZE, 3), 1000 % (np.iinfo(dtype).max + 1), dtype)
    alpha = np.full((20, 30), 255, np.uint8)
    alpha[:, :5] = 0
    box = Box(x=10, y=15, width=30, height=20)
    dark, light = (
        Patch(box=box, pixels=np.full((20, 30, 3), tone, dtype), alpha=alpha, method=MadeBy.WEAVE, seed=1)
        for tone in (40, 200)
    )
    patch = blend_takes(picture[box.slices], dark, light, np.full((20, 30), 128, np.uint8))
    assert (patch.pixels[:, 5:] == round(40 + 160 * 128 / 255)).all()
    assert not patch.alpha[:, :5].any()
    assert (patch.method, patch.parts[0].area) == ("mix", 500)
