"""Marks whose shapes are files: the same masks, apart and joined."""

from typing import Any, cast

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.mask.areas import areas_of
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.document.apart import apart, joined
from keen_sweep.document.mark import Mark, drawing_from_bytes, drawing_to_bytes, filed, filed_from, shapes_of
from keen_sweep.document.render import render
from keen_sweep.document.stack import Stack, Sweep, reach_from
from keen_sweep.document.told import ToldLayer
from keen_sweep.document.touch import Touch
from tests.support.shapes import HEIGHT, WIDTH, shapes
from tests.support.shelf import Keeping

ALL = Box(x=0, y=0, width=WIDTH, height=HEIGHT)


def full(mark: Mark, shelf: Keeping) -> NDArray[Any]:
    return mark.mask(ALL, shelf).full(WIDTH, HEIGHT)


@settings(max_examples=40)
@given(st.lists(shapes, max_size=6))
def test_shapes_come_back_from_their_files_and_reach_no_farther_than_is_said(many: list[Stroke | Outline]) -> None:
    shelf = Keeping()
    mark = Mark(shapes=filed(many, shelf.keep))
    assert list(shapes_of(mark.shapes, shelf)) == many
    assert [each.box for each in mark.shapes] == [each.box for each in many]
    assert np.array_equal(full(mark, shelf), mask_of(many, ALL).full(WIDTH, HEIGHT))
    for each in many:
        assert drawing_from_bytes(drawing_to_bytes(each)) == each


def test_what_is_drawn_twice_is_one_file() -> None:
    shelf = Keeping()
    dot = Stroke(points=((10.0, 10.0),), size=6)
    first, second = filed([dot, dot.model_copy()], shelf.keep)
    assert first == second
    assert len(shelf.files) == 1


@settings(max_examples=40, deadline=None)
@given(st.lists(shapes, min_size=1, max_size=6), st.integers(0, 5).map(float))
def test_areas_taken_apart_and_joined_again_cover_the_same(many: list[Stroke | Outline], margin: float) -> None:
    shelf = Keeping()
    mark = Mark(shapes=filed(many, shelf.keep), fit=Fit(margin=margin))
    whole = full(mark, shelf)
    marks = apart(mark, ALL, shelf, shelf.keep)
    together = np.zeros_like(whole)
    for each in marks:
        own = full(each, shelf)
        assert not ((own > 0) & (together > 0)).any()
        together |= own
    assert np.array_equal(together, whole)
    assert np.array_equal(full(joined(marks, ALL, shelf, shelf.keep), shelf), whole)


def test_strokes_far_apart_stay_strokes_and_many_specks_stay_together() -> None:
    shelf = Keeping()
    dots = filed([Stroke(points=((x, 20.0),), size=6) for x in (10.0, 40.0, 70.0)], shelf.keep)
    marks = apart(Mark(shapes=dots), ALL, shelf, shelf.keep)
    assert [mark.shapes for mark in marks] == [(dot,) for dot in dots]
    assert len(shelf.files) == 3, "no area was made of them"
    dust = [Stroke(points=((5.0 + 14 * i, 5.0 + 14 * j),), size=3) for i in range(6) for j in range(4)]
    assert len(areas_of(Mark(shapes=filed(dust, shelf.keep)).mask(ALL, shelf))) == 1


def test_a_touch_up_whose_file_is_no_stroke_is_called_damaged() -> None:
    shelf = Keeping()
    name = shelf.keep(drawing_to_bytes(Outline(points=((1.0, 1.0), (9.0, 1.0), (5.0, 9.0)))))
    touch = Touch(id="a", brush="bring back", stroke=name, box=Box(x=0, y=0, width=10, height=10))
    picture = Pyramid([np.zeros((HEIGHT, WIDTH, 3), np.uint8)])
    with pytest.raises(LibraryTrouble, match="damaged"):
        render(picture, Stack(layers=(touch,)), shelf)


@settings(max_examples=60)
@given(st.lists(shapes, max_size=6), st.integers(-3, 9).map(float), st.integers(0, 4).map(float))
def test_what_a_told_layer_reaches_is_what_the_layer_does(
    many: list[Stroke | Outline], margin: float, feather: float
) -> None:
    mark = Mark(shapes=filed(many, Keeping().keep), fit=Fit(margin=margin, feather=feather))
    sweep = Sweep(id="a", name="A", mark=mark)
    assert reach_from(cast(ToldLayer, sweep.model_dump(mode="json")), ALL) == sweep.reach(ALL)
    touch = Touch(id="b", brush="bring back", stroke="0", box=Box(x=-4, y=5, width=30, height=10))
    assert reach_from(cast(ToldLayer, touch.model_dump(mode="json")), ALL) == touch.reach(ALL)


def test_what_is_filed_keeps_whether_it_takes_away() -> None:
    """A drawing that says nothing of it marks."""
    kept = Keeping()
    takes, marks = filed([Stroke(points=((5.0, 5.0),), size=4, erase=each) for each in (True, False)], kept.keep)
    assert (takes.erase, marks.erase) == (True, False)
    told = {name: value for name, value in marks.model_dump(mode="json").items() if name != "erase"}
    assert filed_from([told])[0].erase is False
