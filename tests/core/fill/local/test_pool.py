"""Which starts a scene is given."""

from collections import Counter
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.local.pool import (
    LARGE_HOLE_PIXELS,
    LONG_HOLE_PIXELS,
    SMALL_HOLE_PIXELS,
    first_starts,
    more_starts,
)
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.scene import Scene, make_scene


def scene_with(photograph: NDArray[Any], tall: int, wide: int, radius: float) -> Scene:
    """A photograph with a box of so many pixels to be filled."""
    hole = np.zeros(photograph.shape[:2], bool)
    hole[40 : 40 + tall, 60 : 60 + wide] = True
    none = np.zeros_like(hole)
    return make_scene(photograph, whole(hole), hole, none, none, radius)


@pytest.fixture(scope="module")
def scenes(photograph: NDArray[Any]) -> dict[str, Scene]:
    large = np.tile(photograph, (2, 2, 1))
    return {
        "wire": scene_with(photograph, 8, 120, 4.0),
        "long wire": scene_with(large, 30, 560, 15.0),
        "person": scene_with(photograph, 90, 50, 25.0),
        "table": scene_with(photograph, 200, 150, 75.0),
        "huge": scene_with(large, 330, 330, 165.0),
    }


@given(st.integers(1, 12))
def test_there_are_starts_enough_for_every_take(scenes: dict[str, Scene], takes: int) -> None:
    for name, scene in scenes.items():
        assert len(first_starts(scene, takes, Quality.FAST)) == takes
        assert more_starts(scene, Quality.FAST) == []
        fine = first_starts(scene, takes, Quality.FINE) + more_starts(scene, Quality.FINE)
        assert len(fine) >= max(takes, 3), name


def test_the_first_takes_can_differ_in_kind(scenes: dict[str, Scene]) -> None:
    for name, scene in scenes.items():
        kinds = {kind.name for kind in first_starts(scene, 3, Quality.FINE)}
        assert len(kinds) >= 3, name


def test_wires_need_no_bridges_and_small_and_large_holes_get_fewer_starts(scenes: dict[str, Scene]) -> None:
    assert more_starts(scenes["wire"], Quality.FINE) == []
    inside = {name: len(scene.levels[scene.half].inside) for name, scene in scenes.items()}
    assert inside["person"] <= SMALL_HOLE_PIXELS < inside["table"]
    starts = {name: len(first_starts(s, 3, Quality.FINE) + more_starts(s, Quality.FINE)) for name, s in scenes.items()}
    assert starts["person"] < starts["table"]
    for short, long, bound in (("wire", "long wire", LONG_HOLE_PIXELS), ("table", "huge", LARGE_HOLE_PIXELS)):
        few, many = scenes[long], scenes[short]
        assert len(few.levels[few.half].inside) > bound >= len(many.levels[many.half].inside)
        assert starts[long] < starts[short]


def test_no_kind_is_begun_more_often_than_it_may_compete(scenes: dict[str, Scene]) -> None:
    for scene in scenes.values():
        counted = Counter(kind.name for kind in first_starts(scene, 3, Quality.FINE) + more_starts(scene, Quality.FINE))
        assert all(count <= (3 if name == "plane" else 2) for name, count in counted.items())
