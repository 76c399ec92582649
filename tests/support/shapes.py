"""Shapes for property tests."""

from hypothesis import strategies as st

from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke

WIDTH = 90


HEIGHT = 70


places = st.tuples(st.floats(-10, 100, width=32), st.floats(-10, 80, width=32))


strokes = st.builds(
    Stroke,
    points=st.lists(places, min_size=1, max_size=4).map(tuple),
    size=st.floats(2, 24, width=32),
    erase=st.booleans(),
)


outlines = st.builds(Outline, points=st.lists(places, min_size=3, max_size=6).map(tuple), erase=st.booleans())


shapes = st.one_of(strokes, outlines)
