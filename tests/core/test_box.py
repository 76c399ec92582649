import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from keen_sweep.core.box import Box, box_of, merge_touching, whole

boxes = st.builds(
    Box,
    x=st.integers(-50, 150),
    y=st.integers(-50, 150),
    width=st.integers(1, 80),
    height=st.integers(1, 80),
)
PICTURE = Box(x=0, y=0, width=200, height=160)


def painted(box: Box) -> np.ndarray:
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


@given(st.lists(boxes, max_size=8))
def test_merged_boxes_cover_the_same_and_do_not_overlap(many: list[Box]) -> None:
    merged = merge_touching(many)
    for box in many:
        assert any(m.intersect(box) == box for m in merged)
    for i, a in enumerate(merged):
        assert all(a.intersect(b).empty for b in merged[i + 1 :])


@given(boxes, st.integers(0, 4))
def test_reduced_then_enlarged_covers(box: Box, level: int) -> None:
    back = box.reduced(level).enlarged(level)
    assert back.intersect(box) == box


@given(boxes, st.integers(1, 16))
def test_aligned_box_covers_and_lies_on_the_grid(box: Box, step: int) -> None:
    cut = box.intersect(PICTURE)
    if cut.empty:
        return
    aligned = cut.aligned(step, PICTURE)
    assert aligned.intersect(cut) == cut
    assert aligned.x % step == 0
    assert aligned.y % step == 0


def test_empty_mask_has_an_empty_box() -> None:
    assert box_of(np.zeros((5, 6), np.uint8)).empty
    assert whole(np.zeros((5, 6, 3))) == Box(x=0, y=0, width=6, height=5)
