"""A pen that presses harder: the path of a growing disc, against discs laid close together."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from keen_sweep.core.box import Box
from keen_sweep.core.mask.stroke import Stroke

ALL = Box(x=0, y=0, width=80, height=60)


@given(
    st.lists(st.tuples(st.floats(0, 80, width=32), st.floats(0, 60, width=32)), min_size=2, max_size=4),
    st.data(),
)
def test_pressure_sweeps_discs_of_changing_size(points: list[tuple[float, float]], data: st.DataObject) -> None:
    press = data.draw(st.lists(st.floats(0.125, 1, width=32), min_size=len(points), max_size=len(points)))
    size = 20.0
    got = Stroke(points=tuple(points), size=size, pressure=tuple(press)).cover(ALL) > 0
    yy, xx = np.mgrid[0:60, 0:80] + 0.5
    depth = np.full((60, 80), -np.inf)
    for k in range(len(points) - 1):
        for t in np.linspace(0, 1, 200):
            x, y = np.array(points[k]) * (1 - t) + np.array(points[k + 1]) * t
            radius = size / 2 * (press[k] * (1 - t) + press[k + 1] * t)
            depth = np.maximum(depth, radius - np.hypot(xx - x, yy - y))
    assert got[depth > 0.05].all()
    assert not got[depth < -0.3].any()


def test_full_pressure_is_no_pressure() -> None:
    plain = Stroke(points=((10.0, 10.0), (50.0, 40.0)), size=14, softness=0.4)
    pressed = plain.model_copy(update={"pressure": (1.0, 1.0)})
    assert np.array_equal(plain.cover(ALL), pressed.cover(ALL))


def test_every_point_has_a_pressure_or_none() -> None:
    with pytest.raises(ValidationError):
        Stroke(points=((1.0, 1.0), (2.0, 2.0)), size=5, pressure=(1.0,))
