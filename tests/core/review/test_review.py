"""The second look on exact truth with planted faults (docs/review.md has all cases), and its mends."""

from dataclasses import replace
from functools import cache
from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.bench.cases import ALL_CASES, Case
from keen_sweep.bench.planted import Planted, clean, planted
from keen_sweep.core.review.leftover import leftover
from keen_sweep.core.review.line import broken_line
from keen_sweep.core.review.mend import even_tone, regrain
from keen_sweep.core.review.orphan import orphan
from keen_sweep.core.review.rank import terms_of
from keen_sweep.core.review.repeat import repeat
from keen_sweep.core.review.review import review, with_visibility
from keen_sweep.core.review.snag import Laid
from keen_sweep.core.review.softness import softness
from keen_sweep.core.review.taste import DEFAULT_TERMS
from keen_sweep.core.review.tone import border_steps, step_in_tone

pytestmark = pytest.mark.scenes

CHECKS = {
    "leftover": leftover,
    "softness": softness,
    "repeat": repeat,
    "step in tone": step_in_tone,
    "broken line": broken_line,
}
PICTURES = ["blob on a table", "tissue", "pole on sky and grass", "person before a temple"]


@cache
def case(name: str) -> Case:
    return next(entry for entry in ALL_CASES if entry.name == name).load()


@cache
def faults(name: str) -> dict[str, Planted]:
    return {fault.kind: fault for fault in planted(case(name))}


@pytest.mark.parametrize(
    ("kind", "name"),
    [
        ("softness", "blob on a table"),
        ("softness", "tissue"),
        ("step in tone", "blob on a table"),
        ("step in tone", "pole on sky and grass"),
        ("leftover", "tissue"),
        ("leftover", "pole on sky and grass"),
        ("repeat", "blob on a table"),
        ("repeat", "tissue"),
        ("broken line", "person before a temple"),
    ],
)
def test_a_planted_fault_is_listed_where_it_is_and_not_in_the_truth(kind: str, name: str) -> None:
    fault = faults(name)[kind]
    check = CHECKS[kind]
    found = check(fault.scene)
    assert any((fault.place[snag.box.slices] & snag.place).any() for snag in found), found
    assert all(snag.kind == kind and 0 <= snag.strength <= 1 and snag.why for snag in found)
    clean_ones = [snag for snag in check(clean(case(name))) if (fault.place[snag.box.slices] & snag.place).any()]
    assert len(clean_ones) == 0 or kind == "broken line"


@pytest.mark.parametrize("name", PICTURES)
def test_the_truth_has_at_most_one_false_snag(name: str) -> None:
    assert len(review(clean(case(name)))) <= 1


def test_grain_that_is_regrown_is_no_longer_missed() -> None:
    fault = faults("blob on a table")["softness"]
    scene = fault.scene
    mended = regrain(scene.after, scene.hole, scene.hole)
    assert np.array_equal(mended[~scene.hole], scene.after[~scene.hole])
    assert softness(scene)
    assert softness(replace(scene, after=mended)) == []


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_tone_that_is_evened_out_meets_its_surroundings(dtype: type) -> None:
    scene = faults("pole on sky and grass")["step in tone"].scene
    after = scene.after if dtype == np.uint8 else scene.after.astype(np.uint16) * 257
    mended = even_tone(after, scene.hole)
    assert np.array_equal(mended[~scene.hole], after[~scene.hole])
    rim = cv2.morphologyEx(scene.hole.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) > 0

    def step(pixels: NDArray[Any]) -> float:
        return float(abs(border_steps(pixels.astype(np.float32), scene.hole)[rim].mean()))

    assert step(mended) < 0.4 * step(after)
    if dtype == np.uint8:
        assert step_in_tone(replace(scene, after=mended)) == []


def test_softness_fades_when_the_picture_is_made_smaller_and_a_large_leftover_does_not() -> None:
    truth = clean(case("tissue"))
    blurred = cv2.GaussianBlur(truth.after, (0, 0), 0.8)
    soft = replace(truth, after=np.where(truth.hole[..., None], blurred, truth.after))
    seen = {snag.kind: snag.visible for snag in with_visibility(soft, softness(soft))}
    assert seen == {"softness": 1.0}
    large, small = (faults(name)["leftover"].scene for name in ("blob on a table", "pole on sky and grass"))
    [twenty] = with_visibility(large, leftover(large))
    [five] = with_visibility(small, leftover(small))
    assert (twenty.box.width, twenty.visible) == (20, 0.5)
    assert (five.box.width, five.visible) == (5, 1.0)


def test_a_shadow_that_nothing_throws_is_an_orphan() -> None:
    """A box on a lawn throws its shadow to the right; it was removed and the shadow was not."""
    random = np.random.default_rng(2)
    lawn = np.array([90, 130, 60]) + random.normal(0, 7, (420, 620, 3))
    shot = lawn.copy()
    shot[130:280, 200:260] = np.array([150, 60, 40]) + random.normal(0, 4, (150, 60, 3))
    sun = np.array([[200, 280], [260, 280], [395, 250], [335, 250]], np.int32)
    shade = np.zeros(shot.shape[:2], np.uint8)
    cv2.fillPoly(shade, [sun], 1)
    dark = (shade > 0) & ~((np.arange(620) >= 200) & (np.arange(620) < 260) & (np.arange(420)[:, None] < 280))
    shot[dark] *= 0.5
    hole = np.zeros(shot.shape[:2], bool)
    hole[126:284, 196:264] = True
    after = np.where(hole[..., None], lawn, shot)
    scene = Laid(shot.clip(0, 255).astype(np.uint8), after.clip(0, 255).astype(np.uint8), hole)
    found = orphan(scene)
    assert [snag.kind for snag in found] == ["orphan"]
    covered = (dark[found[0].box.slices] & found[0].place).sum() / found[0].place.sum()
    assert covered > 0.8
    hole |= cv2.dilate(dark.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    both = Laid(scene.before, np.where(hole[..., None], lawn, shot).clip(0, 255).astype(np.uint8), hole)
    assert orphan(both) == []


def test_the_ranking_prefers_the_truth_to_a_smear() -> None:
    for name in PICTURES:
        good = clean(case(name))
        smear = cv2.inpaint(good.before, good.hole.astype(np.uint8), 5, cv2.INPAINT_TELEA)
        bad = replace(good, after=np.asarray(smear, np.uint8))
        assert terms_of(good, review(good)).under(DEFAULT_TERMS) < terms_of(bad, review(bad)).under(DEFAULT_TERMS), name
