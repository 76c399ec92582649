"""The plane of a wall found from its lines, and its repeats, against a wall whose perspective is known."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.local.pool import more_starts
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.features import features_of
from keen_sweep.core.fill.weave.kinds import LINES_KIND, REPEATS_KIND
from keen_sweep.core.fill.weave.scene import make_scene
from keen_sweep.core.methods.offsets import flat_shifts_of
from keen_sweep.core.methods.planes import families_of, map_points, plane_of

SIZE = (420, 300)


def wall() -> NDArray[Any]:
    """Courses of bricks, straight on, every one in a tone of its own."""
    random = np.random.default_rng(3)
    out = np.full((SIZE[1], SIZE[0], 3), 70, np.uint8)
    for row in range(0, SIZE[1], 20):
        for column in range(-42, SIZE[0], 42):
            x = column + (21 if (row // 20) % 2 else 0)
            tone = random.integers(110, 170, 3)
            out[row + 2 : row + 18, max(x + 2, 0) : max(x + 40, 0)] = tone
    return out


def aslant(picture: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
    """The wall seen from one side, and the homography that did it."""
    width, height = SIZE
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    seen = np.array([[0, 0], [width, 42], [width, height - 30], [0, height]], np.float32)
    transform = cv2.getPerspectiveTransform(corners, seen)
    return cv2.warpPerspective(picture, transform, SIZE, borderMode=cv2.BORDER_REFLECT), transform


def hole() -> NDArray[Any]:
    out = np.zeros((SIZE[1], SIZE[0]), bool)
    out[110:190, 170:250] = True
    return out


def luma(picture: NDArray[Any]) -> NDArray[Any]:
    return np.ascontiguousarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY))


def test_a_wall_is_straight_again() -> None:
    """Courses and heads of bricks, parallel on the wall, are parallel and upright in the flat picture (the property by
    which Liebowitz & Zisserman 1998 define the metric-free rectification: parallels stay parallel)."""
    picture, transform = aslant(wall())
    families = families_of(luma(picture), ~hole())
    assert families is not None
    assert families.rule
    plane = plane_of(families, picture.shape, (210.0, 150.0))
    assert plane is not None
    for one, other in (
        ((20, 100), (400, 100)),
        ((20, 220), (400, 220)),
        ((84, 40), (84, 260)),
        ((336, 40), (336, 260)),
    ):
        ends = map_points(map_points(np.array([one, other], float), transform), plane.to)
        along = ends[1] - ends[0]
        across = min(abs(along)) / max(abs(along))
        assert across < 0.02
    middle = map_points(np.array([[209.0, 150.0], [211.0, 150.0], [210.0, 149.0], [210.0, 151.0]]), plane.to)
    assert np.linalg.norm(middle[1] - middle[0]) == pytest.approx(2, rel=0.15)
    points = np.random.default_rng(0).uniform(20, 280, (30, 2))
    assert np.allclose(map_points(map_points(points, plane.to), plane.back), points)


def test_no_plane_where_none_is(gravel: NDArray[Any]) -> None:
    """No lines, no families; lines of a wall that is straight already: families that rule, and nothing to undo."""
    known = np.ones((300, 400), bool)
    assert families_of(luma(gravel[:300, :400]), known) is None
    straight = wall()[:, :400]
    families = families_of(luma(straight), known)
    assert families is not None
    assert families.rule
    assert plane_of(families, known.shape, (200.0, 150.0)) is None


def test_bridges_stay_away_from_a_wall_that_rules() -> None:
    """Between single joints of a wall that is straight already, a bridge would carry one into another."""
    gap = np.kron(hole(), np.ones((2, 2), bool))
    none = np.zeros_like(gap)
    scene = make_scene(np.kron(wall(), np.ones((2, 2, 1), np.uint8)), whole(gap), gap, none, none, 80.0)
    assert scene.flat is None
    assert scene.guides, "there are bridges to be had"
    assert LINES_KIND not in more_starts(scene, Quality.FINE)
    assert REPEATS_KIND in more_starts(scene, Quality.FINE)


def test_repeats_of_the_plane_carry_bricks_on() -> None:
    """In the picture as it was taken no offset repeats; in the plane one course up and two bricks along do."""
    picture, _ = aslant(wall())
    gap = hole()
    features = features_of(picture, ~gap)
    allowed = cv2.erode((~gap).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    families = families_of(luma(picture), ~gap)
    assert families is not None
    found = flat_shifts_of(features, gap, ~gap, allowed, families)
    assert found is not None
    sources = found.start_from(np.random.default_rng(1))
    good = np.isfinite(sources).all(axis=1)
    assert good.mean() > 0.9
    rows, columns = np.clip(np.rint(sources[good]).astype(int), 0, [SIZE[1] - 1, SIZE[0] - 1]).T
    joint = luma(picture) < 95
    right = (joint[rows, columns] == joint[gap][good]).mean()
    chance = max(joint[gap].mean(), 1 - joint[gap].mean())
    assert right > 0.5 * (1 + chance)
