"""Line segments against lines that were drawn (von Gioi et al. 2010 give a segment for each side of a bar)."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage.draw import line_aa, polygon

from keen_sweep.core.methods.segments import segments_of


def angle(segments: NDArray[Any]) -> NDArray[Any]:
    across, down = segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1]
    return np.asarray(np.degrees(np.arctan2(down, across)) % 180)


@pytest.mark.parametrize("degrees", [0, 17, 45, 90, 131])
def test_both_sides_of_a_bar_are_found_at_its_angle(degrees: int) -> None:
    picture = np.full((200, 240), 60, np.uint8)
    along = np.array([np.cos(np.radians(degrees)), np.sin(np.radians(degrees))])
    side = np.array([-along[1], along[0]])
    middle = np.array([120.0, 100.0])
    corners = [middle + sign * 70 * along + 8 * turn * side for sign, turn in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    picture[polygon([c[1] for c in corners], [c[0] for c in corners], picture.shape)] = 200
    found = segments_of(picture)
    long = found[np.hypot(found[:, 2] - found[:, 0], found[:, 3] - found[:, 1]) > 100]
    assert len(long) == 2
    off = np.abs((angle(long) - degrees + 90) % 180 - 90)
    assert (off < 1.5).all()
    # Each lies on its side of the bar, 8 pixels from its middle line.
    middles = (long[:, :2] + long[:, 2:]) / 2 - middle
    assert np.allclose(np.abs(middles @ side), 8, atol=1.2)


def test_where_there_is_no_line_there_is_no_segment() -> None:
    assert segments_of(np.full((50, 60), 128, np.uint8)).shape == (0, 4)
    noise = np.random.default_rng(3).normal(128, 3, (80, 90)).clip(0, 255).astype(np.uint8)
    assert len(segments_of(noise)) == 0


def test_a_hairline_is_told_by_its_ends() -> None:
    picture = np.zeros((100, 160), np.float64)
    rows, columns, share = line_aa(20, 15, 70, 140)
    picture[rows, columns] = share * 255
    found = segments_of(picture.astype(np.uint8))
    longest = found[np.argmax(np.hypot(found[:, 2] - found[:, 0], found[:, 3] - found[:, 1]))]
    ends = sorted([tuple(longest[:2]), tuple(longest[2:])])
    assert np.allclose(ends, [(15, 20), (140, 70)], atol=3)
