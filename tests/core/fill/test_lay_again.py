"""A take laid again on another development of its picture."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch, patch_from_bytes, patch_to_bytes
from keen_sweep.core.fill.provenance import Provenance


@pytest.fixture(scope="module")
def below(photograph: NDArray[Any]) -> NDArray[Any]:
    return photograph[150:330, 200:420].copy()


@pytest.fixture(scope="module", params=["auto", "close", "weave"])
def take(below: NDArray[Any], request: pytest.FixtureRequest) -> Patch:
    """A fill of a blob, of a wire that reaches the picture's edge, and of a speck."""
    mask = np.zeros(below.shape[:2], np.uint8)
    mask[60:100, 50:90] = 255
    mask[20:24, 100:] = 255
    mask[150:158, 150:158] = 200
    (patch,) = engine_for(request.param).fill(FillInput(below=below, mask=mask, seed=3, takes=1))
    return patch_from_bytes(patch_to_bytes(patch))


def test_on_its_own_picture_it_is_the_take_to_the_bit(below: NDArray[Any], take: Patch) -> None:
    again = lay_take_again(take, below)
    assert patch_to_bytes(again) == patch_to_bytes(take)


def test_a_gain_goes_through(below: NDArray[Any], take: Patch) -> None:
    """Twice the light in 16 bit: the fill is twice the fill, within rounding of the grain's gain."""
    deep = below.astype(np.uint16) * 100
    expected = take.pixels.astype(float) * 100
    inside = take.alpha > 0
    difference = np.abs(lay_take_again(take, deep).pixels.astype(float) - expected)[inside] / 100
    # One step of 8 bit is what the original rounded away.
    assert np.median(difference) <= 0.51
    assert np.percentile(difference, 99) < 2.5


def test_a_curve_goes_through(below: NDArray[Any], take: Patch) -> None:
    def curve(values: NDArray[Any]) -> NDArray[Any]:
        return np.rint(255 * (values / 255) ** 0.8)

    graded = lay_take_again(take, curve(below).astype(np.uint8)).pixels.astype(float)
    # A smooth continuation over a large textured hole overshoots, and the curve of that is another matter.
    inside = (take.alpha > 0) if take.method != "close" else (take.alpha == 200)
    difference = np.abs(graded - curve(take.pixels))[inside]
    # A continuation of a curve is not quite the curve of a continuation, least of all where it overshoots.
    assert np.median(difference) <= 2.0
    # Not laying it again would be off by the curve itself.
    assert np.median(difference) < 0.2 * np.median(np.abs(curve(take.pixels) - take.pixels)[inside])


def test_what_cannot_be_laid_again_says_so(below: NDArray[Any], take: Patch) -> None:
    with pytest.raises(BadRequest, match="not copied from the picture"):
        lay_take_again(replace(take, method=MadeBy.MODEL), below)
    with pytest.raises(BadRequest, match="reaches beyond"):
        lay_take_again(take, below[:100, :100])
    with pytest.raises(BadRequest, match="in stages"):
        lay_take_again(replace(take, provenance=Provenance(staged=True)), below)
