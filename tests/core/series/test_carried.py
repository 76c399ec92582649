"""Shapes carried through maps that are known."""

from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import compose
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.series.alignment import map_by_homography
from keen_sweep.core.series.transferred_shape import scale_at, transfer_shape

ROOM = Box(x=0, y=0, width=400, height=300)


class Drawer:
    """Files by a number."""

    def __init__(self) -> None:
        self.files: dict[str, bytes] = {}

    def keep(self, data: bytes) -> str:
        self.files[str(len(self.files))] = data
        return str(len(self.files) - 1)

    def load(self, name: str) -> bytes:
        return self.files[name]


def _matrix(turn: float, scale: float, x: float, y: float, tilt: float = 0.0) -> NDArray[Any]:
    c, s = scale * np.cos(turn), scale * np.sin(turn)
    return np.array([[c, -s, x], [s, c, y], [tilt, 0, 1]])


def _overlap(one: NDArray[Any], other: NDArray[Any]) -> float:
    return float((one & other).sum() / (one | other).sum())


@given(turn=st.floats(-0.5, 0.5), scale=st.floats(0.6, 1.6), x=st.floats(-20, 60), y=st.floats(-20, 60))
def test_a_shape_carried_as_points_and_as_pixels_covers_the_same(turn: float, scale: float, x: float, y: float) -> None:
    drawer = Drawer()
    matrix = _matrix(turn, scale, x, y, 2e-4)
    outline = Outline(points=((60, 50), (150, 60), (140, 150), (70, 140)))
    area = as_area(Mask(outline.box, outline.cover(outline.box)), drawer.keep)

    def places(points: NDArray[Any]) -> NDArray[Any]:
        return map_by_homography(matrix, points)

    both = [transfer_shape(shape, places, drawer.load, drawer.keep) for shape in (outline, area)]
    covers = [compose([shape], Box(x=-300, y=-300, width=1000, height=1000), drawer.load)[0] > 127 for shape in both]
    assert covers[0].any()
    assert _overlap(*covers) > 0.9


def test_a_stroke_keeps_its_softness_and_takes_on_the_size_of_where_it_lands() -> None:
    matrix = _matrix(0, 2.0, 10, 20)
    stroke = Stroke(points=((20, 30), (90, 40)), size=12, softness=0.4, pressure=(1.0, 0.5), erase=True)
    drawer = Drawer()
    there = transfer_shape(stroke, lambda points: map_by_homography(matrix, points), drawer.load, drawer.keep)
    assert isinstance(there, Stroke)
    assert there.size == 24
    assert (there.softness, there.erase) == (0.4, True)
    assert there.points[0] == (2 * 19.5 + 10.5, 2 * 29.5 + 20.5)
    assert there.pressure is not None
    assert len(there.pressure) == len(there.points) > 2
    assert (there.pressure[0], there.pressure[-1]) == (1.0, 0.5)


def test_straight_lines_bend_with_the_picture() -> None:
    drawer = Drawer()

    def bent(points: NDArray[Any]) -> NDArray[Any]:
        return np.asarray(points + np.stack([np.zeros(len(points)), 30 * np.sin(points[:, 0] / 100)], 1))

    there = transfer_shape(Stroke(points=((0, 100), (380, 100)), size=9), bent, drawer.load, drawer.keep)
    assert isinstance(there, Stroke)
    off = [y - (99.5 + 30 * np.sin((x - 0.5) / 100) + 0.5) for x, y in there.points]
    assert np.abs(off).max() < 0.01
    assert len(there.points) > 12


def test_an_area_that_does_not_move_stays_as_it_is() -> None:
    drawer = Drawer()
    cover = np.random.default_rng(2).integers(1, 256, (40, 60)).astype(np.uint8)
    area = as_area(Mask(Box(x=30, y=20, width=60, height=40), cover), drawer.keep)
    there = transfer_shape(area, lambda points: points, drawer.load, drawer.keep)
    before, after = (compose([shape], ROOM, drawer.load)[0].astype(int) for shape in (area, there))
    assert np.abs(before - after).max() <= 1
    assert scale_at(lambda points: points * 3, np.array([50.0, 60.0])) == 3


def test_a_stroke_that_leaves_the_picture_runs_on_in_one_that_shows_more() -> None:
    drawer = Drawer()
    cable = Stroke(points=((2, 80), (100, 90), (200, 95)), size=6)
    there = transfer_shape(cable, lambda points: points + np.array([50, 0]), drawer.load, drawer.keep, ROOM)
    assert isinstance(there, Stroke)
    across = [x for x, _ in there.points]
    assert min(across) < 0
    assert max(across) == 250
