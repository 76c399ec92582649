"""Images: what is mirrored over a drawn axis and repeated along a drawn row, against pictures that are so by making."""

from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.box import whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import lay
from keen_sweep.core.fill.weave.lead_images import images_of, over

Picture = NDArray[np.uint8]


def symmetrical() -> Picture:
    """A portrait whose right half is its left one, mirrored between columns 109 and 110."""
    half = np.asarray(data.astronaut())[20:180, 115:225]
    return np.ascontiguousarray(np.hstack([half, half[:, ::-1]]))


def spot(shape: tuple[int, ...], x: int, y: int, across: int, down: int) -> NDArray[np.uint8]:
    mask = np.zeros(shape[:2], np.uint8)
    cv2.ellipse(mask, (x, y), (across, down), 0, 0, 360, 255, -1)
    return mask


def colours(picture: Picture) -> NDArray[np.float32]:
    return np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), np.float32)


def filled(picture: Picture, mask: NDArray[np.uint8], line: LeadLine | None, **more: Any) -> Picture:
    lead = () if line is None else (line,)
    patch = next(iter(engine_for(Method.AUTO).fill(FillInput(below=picture, mask=mask, takes=1, lead=lead, **more))))
    after = picture.copy()
    lay(after, whole(after), patch)
    assert np.array_equal(after[mask == 0], picture[mask == 0])
    return after


@given(shift=st.floats(-5, 5), turn=st.floats(-2, 2))
@settings(max_examples=12, deadline=None)
def test_an_axis_drawn_by_hand_is_put_right(shift: float, turn: float) -> None:
    picture = symmetrical()
    hole = spot(picture.shape, 160, 70, 24, 30) > 0
    lean = 80 * float(np.tan(np.radians(turn)))
    axis = LeadLine(points=((109.5 + shift - lean, 0.0), (109.5 + shift + lean, 160.0)), brings="mirror")
    found = images_of([axis], colours(picture), hole, ~hole)
    assert found is not None
    assert np.array_equal(found.mask, hole)
    rows, columns = np.nonzero(hole)
    assert np.array_equal(found.sources[rows, columns], np.stack([rows, 219 - columns], 1))


def test_what_is_mirrored_is_the_truth_almost_to_the_level() -> None:
    picture = symmetrical()
    mask = spot(picture.shape, 160, 70, 24, 30)
    axis = LeadLine(points=((112.0, 10.0), (108.0, 150.0)), brings="mirror")
    masked = picture.copy()
    masked[mask > 0] = (196, 40, 150)
    error = np.abs(filled(masked, mask, axis).astype(int) - picture)[mask > 0].mean()
    without = np.abs(filled(masked, mask, None).astype(int) - picture)[mask > 0].mean()
    assert error < 2
    assert error < without / 5


def test_over_a_leaning_axis_the_image_leans_too() -> None:
    size = (220, 160)
    turned = cv2.getRotationMatrix2D((109.5, 80), 20, 1)
    picture = np.asarray(
        cv2.warpAffine(symmetrical(), turned, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT), np.uint8
    )
    mask = spot(picture.shape, 150, 50, 18, 20)
    ends = turned @ np.array([[109.5, 109.5], [20, 140], [1, 1]])
    axis = LeadLine(points=((ends[0, 0] + 2, ends[1, 0]), (ends[0, 1] - 2, ends[1, 1])), brings="mirror")
    masked = picture.copy()
    masked[mask > 0] = (196, 40, 150)
    error = np.abs(filled(masked, mask, axis).astype(int) - picture)[mask > 0].mean()
    assert error < np.abs(filled(masked, mask, None).astype(int) - picture)[mask > 0].mean() / 2


def railing(period: float) -> Picture:
    """Pale bars over grass."""
    grass = np.asarray(data.grass())[100:260, :300, None] * np.array([0.7, 0.9, 0.5])
    for k in range(-1, int(300 / period) + 1):
        left = round(10 + period * k)
        grass[:, max(left, 0) : max(left + 7, 0)] = (200, 195, 180)
    return np.asarray(np.clip(grass, 0, 255), np.uint8)


@pytest.mark.parametrize("period", [17.0, 23.0, 31.0])
def test_a_row_goes_on_in_step_with_its_neighbours(period: float) -> None:
    picture = railing(period)
    hole = spot(picture.shape, 150, 80, 50, 40) > 0
    row = LeadLine(points=((8.0, 84.0), (292.0, 79.0)), brings="repeat")
    found = images_of([row], colours(picture), hole, ~hole)
    assert found is not None
    assert found.mask[hole].mean() > 0.98
    rows, columns = np.nonzero(found.mask)
    copied = picture[found.sources[rows, columns, 0], found.sources[rows, columns, 1]]
    bar = np.abs(picture.astype(int) - (200, 195, 180)).max(axis=2) < 20
    as_bar = np.abs(copied.astype(int) - (200, 195, 180)).max(axis=1) < 20
    assert np.mean(as_bar == bar[rows, columns]) > 0.97


def test_where_nothing_repeats_or_mirrors_nothing_is_laid() -> None:
    grass = railing(1000.0)
    hole = spot(grass.shape, 150, 80, 40, 30) > 0
    row = LeadLine(points=((8.0, 80.0), (292.0, 80.0)), brings="repeat")
    assert images_of([row], colours(grass), hole, ~hole) is None
    edge = LeadLine(points=((8.0, 80.0), (292.0, 80.0)))
    assert images_of([edge], colours(grass), hole, ~hole) is None
    outside = LeadLine(points=((299.0, 0.0), (299.0, 159.0)), brings="mirror")
    assert images_of([outside], colours(grass), hole, ~hole) is None
    assert over(None, None) is None


def test_the_same_seed_gives_the_same_bits_and_laid_again_it_is_the_same() -> None:
    picture = symmetrical()
    mask = spot(picture.shape, 160, 70, 24, 30)
    axis = LeadLine(points=((112.0, 10.0), (108.0, 150.0)), brings="mirror")
    given_input = FillInput(below=picture, mask=mask, takes=2, seed=5, lead=(axis,))
    first, second = (list(engine_for(Method.AUTO).fill(given_input)) for _ in range(2))
    for one, other in zip(first, second, strict=True):
        assert np.array_equal(one.pixels, other.pixels)
        assert np.array_equal(lay_take_again(one, picture).pixels, one.pixels)
