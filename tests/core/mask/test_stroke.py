"""Strokes against scikit-image's discs and SciPy's Euclidean distances."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy import ndimage
from skimage.draw import disk

from keen_sweep.core.mask.stroke import Stroke
from tests.support.masks import mask_of_strokes

places = st.tuples(st.floats(-20, 120, width=32), st.floats(-20, 100, width=32))
strokes = st.builds(
    Stroke,
    points=st.lists(places, min_size=1, max_size=6).map(tuple),
    size=st.floats(1, 40, width=32),
    softness=st.sampled_from([0.0, 0.3, 1.0]),
    erase=st.booleans(),
)
WIDTH, HEIGHT = 100, 80


@pytest.mark.parametrize("radius", [1.5, 4.0, 11.0, 25.5])
def test_a_dot_is_skimage_disk(radius: float) -> None:
    expected = np.zeros((HEIGHT, WIDTH), np.uint8)
    # disk() takes pixel centres for coordinates and is open at its rim.
    expected[disk((40, 50), np.nextafter(radius, 99), shape=expected.shape)] = 255
    mask = mask_of_strokes([Stroke(points=((50.5, 40.5),), size=2 * radius)], WIDTH, HEIGHT)
    assert np.array_equal(mask, expected)


@given(st.lists(places, min_size=2, max_size=5), st.floats(3, 30, width=32))
def test_a_path_is_the_union_of_discs_to_half_a_pixel(points: list[tuple[float, float]], size: float) -> None:
    mask = mask_of_strokes([Stroke(points=tuple(points), size=size)], WIDTH, HEIGHT) > 0
    scale = 8
    fine = np.ones(((HEIGHT + 80) * scale, (WIDTH + 80) * scale), bool)
    for (ax, ay), (bx, by) in pairwise(points):
        for t in np.linspace(0, 1, int(np.hypot(bx - ax, by - ay) * scale) + 2):
            x, y = (ax + (bx - ax) * t + 40) * scale, (ay + (by - ay) * t + 40) * scale
            fine[min(int(y), fine.shape[0] - 1), min(int(x), fine.shape[1] - 1)] = False
    centres = slice(40 * scale + scale // 2, -40 * scale, scale)
    distance = ndimage.distance_transform_edt(fine)[centres, centres] / scale
    assert mask[distance <= size / 2 - 0.5].all()
    assert not mask[distance > size / 2 + 0.5].any()


@given(st.lists(strokes, max_size=5))
def test_strokes_in_two_goes_make_the_same_mask(many: list[Stroke]) -> None:
    at_once = mask_of_strokes(many, WIDTH, HEIGHT)
    expected = np.zeros((HEIGHT, WIDTH), np.uint8)
    for stroke in many:
        alone = mask_of_strokes([stroke.model_copy(update={"erase": False})], WIDTH, HEIGHT)
        expected = np.minimum(expected, 255 - alone) if stroke.erase else np.maximum(expected, alone)
    assert np.array_equal(at_once, expected)


@given(strokes)
def test_nothing_outside_the_box_of_a_stroke(stroke: Stroke) -> None:
    mask = mask_of_strokes([stroke.model_copy(update={"erase": False})], WIDTH, HEIGHT)
    rows, columns = np.nonzero(mask)
    box = stroke.box
    assert ((rows >= box.y) & (rows < box.bottom) & (columns >= box.x) & (columns < box.right)).all()


def test_a_soft_edge_falls_steadily_to_nothing() -> None:
    line = mask_of_strokes([Stroke(points=((50.5, 40.5),), size=60, softness=1.0)], WIDTH, HEIGHT)[40]
    half = line[50:82].astype(int)
    assert half[0] == 255
    assert (np.diff(half) <= 0).all()
    assert half[31] == 0
    assert abs(half[15] - 128) <= 3  # half the radius, half the strength


@pytest.mark.parametrize("size", [0, -3, 100_000])
def test_senseless_brushes_are_refused(size: float) -> None:
    with pytest.raises(ValidationError):
        Stroke(points=((1.0, 1.0),), size=size)


def test_points_must_be_numbers() -> None:
    with pytest.raises(ValidationError):
        Stroke(points=((float("nan"), 1.0),), size=5)


def test_a_copy_with_other_points_lies_where_they_are() -> None:
    stroke = Stroke(points=((10.0, 10.0), (20.0, 10.0)), size=4)
    assert stroke.box.x == 7
    moved = stroke.model_copy(update={"points": ((110.0, 10.0), (120.0, 10.0))})
    assert moved.box.x == 107
    assert moved.cover(moved.box).any()


def test_long_strokes_compare_and_keep_their_own_paths() -> None:
    points = tuple((float(k), 10.0) for k in range(300))
    one, two = Stroke(points=points, size=4), Stroke(points=points, size=4)
    assert one.cover(one.box).any()
    assert one == two
    for k in range(80):
        other = one.model_copy(update={"points": tuple((x + k, y) for x, y in points)})
        assert other.box.x == k - 3
    assert one.box.x == -3
