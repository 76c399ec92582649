"""Drawn lines become the plain curves that they are near to, and stay as drawn where they mean something else."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.fill.weave.lead_curve import HAND_PX, straightened

Path = NDArray[np.float64]
SPANS = (60, 160)


def cut(path: Path) -> tuple[Path, Path, Path]:
    """Of a path of 220 points what lies in a hole, and what is before and after it, from the rim outwards."""
    return path[SPANS[0] : SPANS[1]], path[: SPANS[0]][::-1], path[SPANS[1] :]


def line(slope: float) -> Path:
    x = np.linspace(0, 219, 220)
    return np.stack([x, 100 + slope * x], 1)


def arc(radius: float) -> Path:
    angle = np.linspace(-110, 109, 220) / radius
    return np.stack([110 + radius * np.sin(angle), 100 + radius * (1 - np.cos(angle))], 1)


def corner(slope: float) -> Path:
    x = np.linspace(0, 219, 220)
    return np.stack([x, 100 + slope * np.abs(x - 110)], 1)


def by_hand(inside: Path, seed: int, off: float) -> Path:
    """Off by a little, slowly to and fro, but for both ends."""
    random = np.random.default_rng(seed)
    at = np.linspace(0, 1, len(inside))
    wave = np.sin(np.pi * at) * np.sin(2 * np.pi * (at * random.uniform(0.5, 2) + random.uniform()))
    return np.asarray(inside + off * wave[:, None] * np.array([0.0, 1.0]))


def away(path: Path, truth: Path) -> float:
    """The largest distance of a point from another path."""
    return max(float(np.hypot(*(truth - point).T).min()) for point in path)


@settings(max_examples=40, deadline=None)
@given(
    st.one_of(
        st.builds(line, st.floats(-1, 1)),
        st.builds(arc, st.one_of(st.floats(120, 900), st.floats(-900, -120))),
        st.builds(corner, st.one_of(st.floats(0.4, 1.2), st.floats(-1.2, -0.4))),
    ),
    st.integers(0, 1000),
)
def test_what_a_hand_means_is_met(truth: Path, seed: int) -> None:
    inside, before, after = cut(truth)
    found = straightened(by_hand(inside, seed, 3.0), before, after)
    assert np.allclose(found[[0, -1]], inside[[0, -1]])
    # Its directions are told from some pixels outside, so an arc is met nearly.
    assert away(found, truth) <= HAND_PX


@pytest.mark.parametrize("slope", [0.0, 0.5])
def test_a_straight_edge_is_straight(slope: float) -> None:
    inside, before, after = cut(line(slope))
    assert away(straightened(by_hand(inside, 4, 3.0), before, after), line(slope)) < 0.01


def test_a_corner_is_where_both_edges_meet() -> None:
    truth = corner(0.8)
    inside, before, after = cut(truth)
    found = straightened(by_hand(inside, 5, 3.0), before, after)
    assert np.hypot(*(found - [110, 100]).T).min() < 1.0


def test_what_is_drawn_elsewhere_stays() -> None:
    """A bay that nothing outside tells of."""
    inside, before, after = cut(line(0.0))
    drawn = inside + np.array([0.0, 1.0]) * 20 * np.sin(np.linspace(0, np.pi, len(inside)))[:, None]
    assert straightened(drawn, before, after) is drawn


def test_a_line_that_ends_inside_is_straight_or_as_drawn() -> None:
    inside, before, _ = cut(line(0.2))
    assert away(straightened(by_hand(inside, 6, 2.0), before, np.zeros((0, 2))), line(0.2)) <= HAND_PX
