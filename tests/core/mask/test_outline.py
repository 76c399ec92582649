"""Outlines against scikit-image and Matplotlib's rule by hand: what a line goes round is inside."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from skimage.draw import polygon2mask

from keen_sweep.core.box import Box
from keen_sweep.core.mask.outline import Outline

WIDTH, HEIGHT = 90, 70
ALL = Box(x=0, y=0, width=WIDTH, height=HEIGHT)
places = st.tuples(st.floats(-20, 110, width=32), st.floats(-20, 90, width=32))


@given(st.lists(places, min_size=3, max_size=3))
def test_a_triangle_is_skimage_polygon(points: list[tuple[float, float]]) -> None:
    got = Outline(points=tuple(points)).cover(ALL) > 0
    # polygon2mask takes rows and columns of pixel centres; on the line itself either answer is right.
    expected = polygon2mask((HEIGHT, WIDTH), [(y - 0.5, x - 0.5) for x, y in points])
    unlike = np.argwhere(got != expected)
    for row, column in unlike:
        assert _nearest_side((column + 0.5, row + 0.5), points) < 1e-3


def _nearest_side(at: tuple[float, float], points: list[tuple[float, float]]) -> float:
    ends = np.array([*points, points[0]], np.float64)
    best = np.inf
    for a, b in pairwise(ends):
        way = b - a
        t = np.clip(np.dot(np.array(at) - a, way) / max(float(np.dot(way, way)), 1e-12), 0, 1)
        best = min(best, float(np.linalg.norm(a + t * way - at)))
    return best


def test_an_outline_that_crosses_itself_has_no_gaps() -> None:
    # Twice round the same square, then a figure of eight.
    square = [(10.0, 10.0), (50.0, 10.0), (50.0, 50.0), (10.0, 50.0)]
    twice = Outline(points=tuple(square * 2)).cover(ALL)
    once = Outline(points=tuple(square)).cover(ALL)
    assert np.array_equal(twice, once)
    assert once.sum() == 255 * 40 * 40
    eight = Outline(points=((10.0, 10.0), (50.0, 50.0), (50.0, 10.0), (10.0, 50.0))).cover(ALL)
    assert eight[30, 15] == 255
    assert eight[30, 45] == 255
    assert eight[15, 30] == 0


@given(st.lists(places, min_size=3, max_size=9), st.integers(0, 40), st.integers(0, 40))
def test_a_window_of_it_is_a_window_of_the_whole(points: list[tuple[float, float]], x: int, y: int) -> None:
    outline = Outline(points=tuple(points))
    window = Box(x=x, y=y, width=30, height=20)
    assert np.array_equal(outline.cover(window), outline.cover(ALL)[window.slices])
    rows, columns = np.nonzero(outline.cover(ALL))
    box = outline.box
    assert ((rows >= box.y) & (rows < box.bottom) & (columns >= box.x) & (columns < box.right)).all()


def test_two_points_are_no_outline() -> None:
    with pytest.raises(ValidationError):
        Outline(points=((1.0, 1.0), (2.0, 2.0)))
