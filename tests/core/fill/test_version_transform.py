"""A take where it lies in a version of its picture that was straightened or cropped."""

from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import Box, whole
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import Patch, lay
from keen_sweep.core.fill.version_transform import transfer_take
from keen_sweep.core.series.similarity import Similarity
from keen_sweep.core.touch.dab import Source
from keen_sweep.core.touch.source import source_matrix, transfer_source
from tests.support.similarities import similarities, straightened


@pytest.fixture(scope="module")
def take(photograph: NDArray[Any]) -> Patch:
    mask = np.zeros(photograph.shape[:2], np.uint8)
    mask[140:170, 240:290] = 255
    (patch,) = engine_for(Method.WEAVE).fill(FillInput(below=photograph, mask=mask, seed=3, takes=1))
    return patch


def test_laid_where_it_lies_it_is_the_fill_turned_along(photograph: NDArray[Any], take: Patch) -> None:
    newer, lies = straightened(photograph, 2, 0.1)
    there = lay_take_again(transfer_take(take, lies, whole(newer)), newer)
    filled, after = photograph.copy(), newer.copy()
    lay(filled, whole(photograph), take)
    lay(after, whole(newer), there)
    wanted = cv2.warpAffine(filled, lies.matrix[:2], (newer.shape[1], newer.shape[0]), flags=cv2.INTER_CUBIC)
    hole = np.zeros(newer.shape[:2], bool)
    hole[there.box.slices] = there.alpha > 0
    off = np.abs(after.astype(float) - wanted)[hole].mean()
    # As near as the fill copied from half a pixel off; the thing that was there is far from it.
    shifted = np.abs(np.roll(wanted, 1, axis=1).astype(float) - wanted)[hole].mean()
    assert off < shifted
    assert off < 0.5 * np.abs(newer.astype(float) - wanted)[hole].mean()


def test_its_hole_lies_within_a_pixel_of_the_mask(photograph: NDArray[Any], take: Patch) -> None:
    newer, lies = straightened(photograph, 2, 0.1)
    there = transfer_take(take, lies, whole(newer))
    full = np.zeros(newer.shape[:2], np.uint8)
    full[there.box.slices] = there.alpha
    old = np.zeros(photograph.shape[:2], np.uint8)
    old[take.box.slices] = take.alpha
    y, x = np.nonzero(full >= 128)
    back = lies.inverse.places(np.stack([x, y], 1))
    ys, xs = np.nonzero(old >= 128)
    assert (back.min(axis=0) > (xs.min() - 1, ys.min() - 1)).all()
    assert (back.max(axis=0) < (xs.max() + 1, ys.max() + 1)).all()
    assert len(x) == pytest.approx(len(xs), rel=0.02)


def test_no_source_lies_outside_or_in_the_hole(photograph: NDArray[Any], take: Patch) -> None:
    newer, lies = straightened(photograph, 2, 0.1)
    there = transfer_take(take, lies, whole(newer))
    assert there.offsets is not None
    y, x = np.nonzero((there.offsets != 0).any(axis=2))
    assert len(x) > 0
    source = np.stack([x + there.box.x, y + there.box.y], 1) + there.offsets[y, x]
    assert whole(newer).intersect(there.box) == there.box
    assert source.min() >= 0
    assert (source.max(axis=0) < (newer.shape[1], newer.shape[0])).all()
    hole = np.zeros(newer.shape[:2], bool)
    hole[there.box.y + y, there.box.x + x] = True
    assert not hole[source[:, 1], source[:, 0]].any()


def test_what_was_cut_away_says_so(photograph: NDArray[Any], take: Patch) -> None:
    away = Similarity(right=-take.box.right - 5.0)
    with pytest.raises(BadRequest, match="outside"):
        transfer_take(take, away, whole(photograph))
    # Nothing but the hole is left.
    tight = Similarity(right=-float(take.box.x), down=-float(take.box.y))
    with pytest.raises(BadRequest, match="cropped away"):
        transfer_take(take, tight, Box(x=0, y=0, width=take.box.width, height=take.box.height))


@given(similarities, st.floats(-180, 180), st.booleans())
def test_a_source_copies_the_same_places(lies: Similarity, turn: float, mirror: bool) -> None:
    """From a point, to the one it is copied from, to where that lies: the same as from where the point lies."""
    source = Source(at=(40.5, 60.5), to=(200.5, 90.5), turn=turn + 0.125, mirror=mirror)
    points = np.array([[200.0, 90.0], [210.0, 95.0], [190.0, 110.0]])
    there = transfer_source(source, lies)
    one = lies.places(points @ source_matrix(source)[:, :2].T + source_matrix(source)[:, 2])
    other = lies.places(points) @ source_matrix(there)[:, :2].T + source_matrix(there)[:, 2]
    assert np.allclose(one, other, atol=1.0 if there.turn % 90 == 0 else 1e-4 * 500)
