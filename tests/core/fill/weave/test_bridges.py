"""Bridges over a hole: what ran through it is carried on, along a line, an arc, or two lines that meet."""

from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.bridges import Bridge, bridges_of
from keen_sweep.core.fill.weave.ends import ends_of
from keen_sweep.core.fill.weave.features import colours_of, features_of
from keen_sweep.core.fill.weave.guide import bridged
from keen_sweep.core.fill.weave.kinds import LINES_KIND
from keen_sweep.core.fill.weave.scene import make_scene
from keen_sweep.core.fill.weave.synthesis import begin, finish

SIDE = 160


def disc(x: float, y: float, radius: float) -> NDArray[Any]:
    rows, columns = np.mgrid[:SIDE, :SIDE]
    return np.asarray(np.hypot(columns - x, rows - y) <= radius)


def two_tones(inside: NDArray[Any]) -> NDArray[Any]:
    """A light and a dark side with an edge of a pixel between them, and a little grain."""
    soft = cv2.GaussianBlur(inside.astype(np.float32), (0, 0), 0.7)
    grain = np.random.default_rng(0).normal(0, 1, (SIDE, SIDE, 3))
    return np.clip(60 + 130 * soft[..., None] + grain, 0, 255).astype(np.uint8)


def bridges(picture: NDArray[Any], hole: NDArray[Any]) -> list[Bridge]:
    features = features_of(picture, ~hole)
    planes = np.dstack([colours_of(features), features[..., 3]]).astype(np.float32)
    return bridges_of(ends_of(planes, hole, ~hole), hole)


@settings(max_examples=15)
@given(st.floats(0, np.pi), st.floats(-6, 6))
def test_a_straight_edge_is_carried_straight_on(angle: float, aside: float) -> None:
    normal = np.array([-np.sin(angle), np.cos(angle)])
    rows, columns = np.mgrid[:SIDE, :SIDE]
    off = (columns - SIDE / 2) * normal[0] + (rows - SIDE / 2) * normal[1] - aside
    (bridge,) = bridges(two_tones(off > 0), disc(80, 80, 22))
    apart = (bridge.points - SIDE / 2) @ normal - aside
    assert np.abs(apart).max() < 1.6


@settings(max_examples=15)
@given(st.floats(0, 2 * np.pi), st.floats(38, 60))
def test_the_rim_of_a_disc_is_carried_on_as_an_arc(angle: float, radius: float) -> None:
    middle = 80 + (radius) * np.array([np.cos(angle), np.sin(angle)])
    found = bridges(two_tones(disc(middle[0], middle[1], radius)), disc(80, 80, 16))
    assert len(found) == 1
    off = np.hypot(*(found[0].points - middle).T) - radius
    assert np.abs(off).max() < 2.5
    # A straight bridge would miss the rim's middle by the height of the arc.
    chord = np.linalg.norm(found[0].points[-1] - found[0].points[0])
    assert np.abs(off).max() < 0.8 * (radius - np.sqrt(radius**2 - chord**2 / 4)) + 1.5


def test_two_edges_that_would_meet_inside_become_a_corner() -> None:
    rows, columns = np.mgrid[:SIDE, :SIDE]
    (bridge,) = bridges(two_tones((rows > 80) & (columns > 80)), disc(80, 80, 16))
    assert np.hypot(*(bridge.points - 80).T).min() < 2.5


def test_bridges_do_not_cross_and_each_end_is_used_once() -> None:
    stripes = (np.mgrid[:SIDE, :SIDE][0] // 9) % 2 == 0
    found = bridges(two_tones(stripes), disc(80, 80, 24))
    assert len(found) >= 4
    ends = [id(end) for bridge in found for end in (bridge.first, bridge.second)]
    assert len(ends) == len(set(ends))
    for k, one in enumerate(found):
        for other in found[k + 1 :]:
            assert np.hypot(*(one.points[:, None] - other.points[None]).transpose(2, 0, 1)).min() > 1.5


def test_a_plain_picture_has_none() -> None:
    plain = np.random.default_rng(1).normal(120, 3, (SIDE, SIDE, 3)).clip(0, 255).astype(np.uint8)
    hole = disc(80, 80, 22)
    assert bridges(plain, hole) == []
    assert bridged(features_of(plain, ~hole), hole, ~hole) is None


def test_a_guide_keeps_the_sides_of_a_bridge_apart() -> None:
    left = np.mgrid[:SIDE, :SIDE][1] < 80
    picture, hole = two_tones(left), disc(80, 80, 26)
    guide = bridged(features_of(picture, ~hole), hole, ~hole)
    assert guide is not None
    lightness = colours_of(guide.values)[..., 0]
    light, dark = (colours_of(features_of(picture, ~hole))[20, x, 0] for x in (20, 140))
    for x, wanted in ((66, light), (74, light), (87, dark), (94, dark)):
        assert lightness[80, x] == pytest.approx(wanted, abs=4)
    assert guide.pull[80, 80] == 1
    assert guide.pull[80, 95] < 0.1
    assert not guide.pull[~hole].any()


def test_a_start_from_lines_closes_a_rim_that_is_nowhere_else() -> None:
    """The top of a disc: no other rim of the picture runs that way."""
    middle, radius = np.array([80.0, 104.0]), 62.0
    picture = two_tones(disc(middle[0], middle[1], radius))
    hole = disc(80, 42, 13)
    none = np.zeros_like(hole)
    scene = make_scene(picture, whole(picture), hole, none, none, 20.0)
    assert scene.guides
    woven = finish(
        scene, begin(scene, LINES_KIND, 1, Quality.FINE, lambda share: None), Quality.FINE, lambda share: None
    )
    fill = picture.copy()
    fill[woven.window.slices][woven.hole] = np.rint(woven.pixels[woven.hole]).clip(0, 255)
    wrong = np.abs(fill.astype(int) - picture).max(axis=2)[hole] > 60
    assert wrong.mean() < 0.06
