from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import Box, box_of

boxes = st.builds(
    Box,
    x=st.integers(-50, 150),
    y=st.integers(-50, 150),
    width=st.integers(1, 80),
    height=st.integers(1, 80),
)
PICTURE = Box(x=0, y=0, width=200, height=160)


def painted(box: Box) -> NDArray[Any]:
    canvas = np.zeros((PICTURE.height, PICTURE.width), bool)
    canvas[box.intersect(PICTURE).slices] = True
    return canvas


@given(boxes, boxes)
def test_intersection_is_the_common_pixels(a: Box, b: Box) -> None:
    assert np.array_equal(painted(a) & painted(b), painted(a.intersect(b)))


@given(boxes)
def test_tight_box_of_a_painted_box_is_itself(a: Box) -> None:
    inside = a.intersect(PICTURE)
    if not inside.empty:
        assert box_of(painted(a)) == inside


@given(boxes, st.integers(0, 4))
def test_reduced_then_enlarged_covers(box: Box, level: int) -> None:
    back = box.reduced(level).enlarged(level)
    assert back.intersect(box) == box
