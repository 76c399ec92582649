"""What stands apart in a hole's surroundings is not copied into it; what repeats, or what the rim shows, may be."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.local import pool
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.outliers import outliers_of
from keen_sweep.core.fill.weave.kinds import SOFT_KIND
from keen_sweep.core.fill.weave.scene import Scene
from keen_sweep.core.fill.weave.synthesis import Begun, begin

PEN = (150, 30, 40)


def table() -> NDArray[Any]:
    random = np.random.default_rng(4)
    grain = cv2.GaussianBlur(random.normal(0, 14, (300, 400)).astype(np.float32), (0, 0), 1.5)
    return np.asarray(np.clip(np.array([150, 120, 90], np.float32) + grain[..., None], 0, 255), np.uint8)


def hole_at(box: tuple[slice, slice]) -> NDArray[Any]:
    hole = np.zeros((300, 400), np.bool_)
    hole[box] = True
    return hole


HOLE = hole_at((slice(120, 200), slice(60, 140)))


def test_a_thing_beside_the_hole_stands_apart() -> None:
    pixels, truth = table(), np.zeros((300, 400), np.uint8)
    cv2.ellipse(truth, (290, 90), (60, 14), 20, 0, 360, 1, -1)
    pixels[truth > 0] = PEN
    found = outliers_of(pixels, HOLE, ~HOLE)
    assert found[truth > 0].mean() > 0.95
    assert found.sum() < 2 * truth.sum()
    deep = pixels.astype(np.uint16) * 257
    assert (outliers_of(deep, HOLE, ~HOLE) == found).mean() > 0.99


def test_what_there_is_many_times_is_ground() -> None:
    pixels = table()
    for x in range(170, 400, 45):
        for y in range(30, 300, 60):
            cv2.circle(pixels, (x, y), 11, PEN, -1)
    assert not outliers_of(pixels, HOLE, ~HOLE).any()


def test_what_the_rim_shows_may_go_on_in_the_hole() -> None:
    pixels = table()
    cv2.ellipse(pixels, (290, 90), (60, 14), 20, 0, 360, PEN, -1)
    cv2.rectangle(pixels, (40, 150), (160, 170), PEN, -1)
    assert not outliers_of(pixels, HOLE, ~HOLE).any()


@pytest.mark.scenes
def test_half_of_the_starts_draw_nothing_from_what_stands_apart(monkeypatch: pytest.MonkeyPatch) -> None:
    pixels, truth = table(), np.zeros((300, 400), np.uint8)
    cv2.ellipse(truth, (188, 75), (34, 10), 20, 0, 360, 1, -1)
    pixels[truth > 0] = PEN
    scenes: list[Scene] = []

    def watched(scene: Scene, *rest: Any) -> Begun:
        scenes.append(scene)
        return begin(scene, *rest)

    monkeypatch.setattr(pool, "begin", watched)
    given = FillInput(below=pixels, mask=np.where(HOLE, 255, 0).astype(np.uint8), takes=1)
    next(iter(engine_for(Method.WEAVE).fill(given)))
    assert 0 < sum(scene.strays is None for scene in scenes) < len(scenes)
    whole = next(scene for scene in scenes if scene.strays is not None)
    assert whole.strays is not None
    for level, clear in zip(whole.levels, whole.cleared.levels, strict=True):
        assert not (clear.allowed & ~level.allowed).any()
        assert clear.allowed.sum() < level.allowed.sum()
    begun = begin(whole.cleared, SOFT_KIND, 3, Quality.FINE, lambda share: None)
    at = np.minimum(begun.origins * 2**begun.number, np.array(whole.strays.shape) - 1)
    assert not whole.strays[at[:, 0], at[:, 1]].any()


def test_a_cup_on_a_table_in_a_photograph_stands_apart() -> None:
    """skimage.data.coffee: a hole in the table beside the saucer."""
    photo = data.coffee()
    hole = np.zeros(photo.shape[:2], np.bool_)
    hole[300:380, 30:130] = True
    found = outliers_of(photo, hole, ~hole)
    cup, spoon, wood = found[60:160, 215:370], found[270:320, 340:395], found[200:, 490:]
    assert cup.mean() > 0.99
    assert spoon.mean() > 0.9
    assert not wood.any()
