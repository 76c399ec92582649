"""What tells a bad fill without the truth: its worst place; and that it is filled again."""

from dataclasses import replace
from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.box import whole
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.weave.assessment import judge_begun, judge_woven
from keen_sweep.core.fill.weave.choice import Judged, judge_start, queue_of
from keen_sweep.core.fill.weave.features import FEATURE_STEPS
from keen_sweep.core.fill.weave.kinds import (
    HOME_KIND,
    LINES_KIND,
    PLANE_KIND,
    REPEATS_KIND,
    SHARP_KIND,
    SOFT_KIND,
    Kind,
)
from keen_sweep.core.fill.weave.mending import mend_worst, worst_place
from keen_sweep.core.fill.weave.mismatch import Judge
from keen_sweep.core.fill.weave.scene import Scene, make_scene
from keen_sweep.core.fill.weave.synthesis import Woven, begin, finish
from keen_sweep.core.review.odd import odd_place
from keen_sweep.core.review.scores import lab
from keen_sweep.core.review.snag import Laid as Reviewed


def quiet(share: float) -> None:
    """Nobody waits."""


@pytest.fixture(scope="module")
def scene(gravel: NDArray[Any]) -> Scene:
    picture = np.ascontiguousarray(gravel[:260, :300])
    canvas = np.zeros(picture.shape[:2], np.uint8)
    hole = cv2.ellipse(canvas, (150, 130), (40, 34), 0, 0, 360, 1, -1) > 0
    none = np.zeros_like(hole)
    return make_scene(picture, whole(picture), hole, none, none, 34.0)


def test_the_worst_place_is_where_something_does_not_belong(gravel: NDArray[Any], photograph: NDArray[Any]) -> None:
    picture = np.ascontiguousarray(gravel[:240, :300])
    hole = np.zeros(picture.shape[:2], bool)
    hole[60:180, 80:220] = True
    judge = Judge(lab(picture), hole, ~hole)
    fill = picture.copy()
    fill[60:180, 80:220] = gravel[300:420, 300:440]  # gravel of elsewhere
    good = judge.look(lab(fill))
    fill[100:130, 150:190] = photograph[250:280, 300:340]  # a piece of a roof
    bad = judge.look(lab(fill))
    assert bad.badness > good.badness
    assert bad.worst is not None
    assert good.worst is not None
    assert bad.worst.worst > 2 * good.worst.worst
    peak = np.array(np.unravel_index(bad.worst.at.argmax(), bad.worst.at.shape)) * 2**bad.worst.level
    assert 90 <= peak[0] <= 140
    assert 140 <= peak[1] <= 200
    again = judge.look(lab(fill))
    assert again.badness == bad.badness


def test_a_rim_that_bends_is_likened_to_one_that_runs_another_way() -> None:
    """The hidden part of a ring runs at angles that no other part does; turned, one does."""
    rows, columns = np.mgrid[:200, :200]
    ring = np.hypot(rows - 100, columns - 100) < 60
    picture = np.where(ring[..., None], 190, 60).astype(np.uint8).repeat(3, axis=2)[..., :3]
    hole = np.zeros((200, 200), bool)
    hole[22:70, 60:140] = True
    judge = Judge(lab(picture), hole, ~hole)
    kinked = picture.copy()
    kinked[hole] = 60
    cv2.fillPoly(kinked, [np.array([[60, 56], [100, 10], [140, 56], [140, 69], [60, 69]])], (190, 190, 190))
    kinked[~hole] = picture[~hole]
    assert judge.look(lab(picture)).badness < judge.look(lab(kinked)).badness


def test_the_worst_place_is_filled_again_and_the_rest_stays(photograph: NDArray[Any], gravel: NDArray[Any]) -> None:
    picture = np.ascontiguousarray(gravel[:260, :360])
    picture[:, 300:] = photograph[150:410, 300:360]  # a building at the right
    hole = np.zeros(picture.shape[:2], bool)
    hole[90:180, 90:190] = True
    none = np.zeros_like(hole)
    barred = none.copy()
    barred[:, 285:] = True
    scene = make_scene(picture, whole(picture), hole, none, barred, 45.0)
    woven = finish(scene, begin(scene, SOFT_KIND, 3, Quality.FINE, quiet), Quality.FINE, quiet)
    # Somebody put a piece of the building there.
    window = woven.window
    offsets = woven.offsets.copy()
    y, x = np.mgrid[120 - window.y : 140 - window.y, 130 - window.x : 155 - window.x]
    offsets[y, x] = (190, 20)
    pixels = woven.pixels.copy()
    pixels[y, x] = picture[y + window.y + 20, x + window.x + 190]
    spoilt = Woven(window, woven.hole, pixels, offsets)
    place = worst_place(scene, judge_woven(scene, spoilt))
    assert place is not None
    assert place[125:135, 135:150].mean() > 0.8
    assert not (place & ~hole).any()
    better, seen = mend_worst(scene, spoilt, 5, Quality.FINE, quiet)
    assert seen.badness < judge_woven(scene, spoilt).badness
    assert not np.array_equal(better.offsets[y, x], offsets[y, x])
    far = ~cv2.dilate(place.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)[window.slices] & woven.hole
    assert np.array_equal(better.offsets[far], offsets[far])
    sources = np.argwhere(better.hole) + [window.y, window.x] + better.offsets[better.hole][:, ::-1]
    kept = ~place[window.slices][better.hole]
    assert not hole[tuple(sources.T)].any()
    assert not barred[tuple(sources[~kept].T)].any()


def test_a_good_fill_is_left_alone(scene: Scene) -> None:
    woven = finish(scene, begin(scene, SHARP_KIND, 3, Quality.FINE, quiet), Quality.FINE, quiet)
    again, seen = mend_worst(scene, woven, 5, Quality.FINE, quiet)
    assert seen.badness <= judge_woven(scene, woven).badness
    # What stands out is tried to be mended, and kept as it is where that does not better it.
    left_alone = worst_place(scene, judge_woven(scene, woven)) is None
    assert (again is woven) == (left_alone or seen.badness == judge_woven(scene, woven).badness)


def test_takes_differ_in_kind_and_the_plainly_worse_stand_last(scene: Scene) -> None:
    begun = [
        begin(scene, kind, seed, Quality.FINE, quiet)
        for kind in (SOFT_KIND, SHARP_KIND, REPEATS_KIND)
        for seed in range(3)
    ]
    queue = queue_of([judge_start(scene, each) for each in begun])
    assert len(queue) == len(begun)
    assert len({id(each.begun) for each in queue}) == len(begun)
    by_kind = [
        sorted((e for e in queue if e.begun.kind == k), key=lambda e: e.begun.energy)
        for k in (SOFT_KIND, SHARP_KIND, REPEATS_KIND)
    ]
    assert queue[0].bad == min(each.bad for kind in by_kind for each in kind[:2])
    assert queue[0].bad == judge_begun(scene, queue[0].begun).badness + queue[0].begun.kind.toll
    assert len({each.begun.kind for each in queue[:2]}) == 2
    assert {id(each) for each in queue[-3:]} == {id(kind[2]) for kind in by_kind}


def test_bridges_and_planes_are_among_the_first_three_unless_far_worse(scene: Scene) -> None:
    begun = begin(scene, SOFT_KIND, 0, Quality.FINE, quiet)

    def start(kind: Kind, bad: float) -> Judged:
        # Fills that differ: each of a tone of its own.
        tone = np.full_like(begun.filled, round(10 * FEATURE_STEPS * bad))
        return Judged(replace(begun, kind=kind, energy=bad, filled=tone), bad, scene)

    def names(*starts: Judged) -> list[str]:
        return [one.begun.kind.name for one in queue_of(list(starts))]

    plain = [start(SOFT_KIND, 1.0), start(SHARP_KIND, 1.2), start(HOME_KIND, 1.4), start(SOFT_KIND, 1.6)]
    assert names(*plain)[:3] == ["soft", "sharp", "home"]
    assert names(*plain, start(LINES_KIND, 2.4))[:3] == ["soft", "sharp", "lines"]
    assert names(*plain, start(LINES_KIND, 2.4), start(PLANE_KIND, 2.5))[:3] == ["soft", "lines", "plane"]
    assert names(*plain, start(LINES_KIND, 0.5), start(PLANE_KIND, 2.0))[:3] == ["lines", "soft", "plane"]
    # What is far worse is seen at once.
    assert names(*plain, start(LINES_KIND, 2.4), start(PLANE_KIND, 2.7))[:3] == ["soft", "sharp", "lines"]
    every = names(*plain, start(LINES_KIND, 3.0), start(LINES_KIND, 3.5))
    assert sorted(every) == ["home", "lines", "lines", "sharp", "soft", "soft"]


def test_an_odd_place_is_pointed_out_and_a_good_fill_is_not(photograph: NDArray[Any], gravel: NDArray[Any]) -> None:
    before = np.ascontiguousarray(gravel[:300, :360])
    hole = np.zeros(before.shape[:2], bool)
    hole[90:210, 110:250] = True
    assert odd_place(Reviewed(before, before, hole)) == []
    after = before.copy()
    after[130:165, 160:205] = photograph[250:285, 300:345]
    (snag,) = odd_place(Reviewed(before, after, hole))
    assert snag.kind == "odd place"
    assert snag.box.intersect(snag.box.model_copy(update={"x": 160, "y": 130, "width": 45, "height": 35})).area > 400
    assert snag.mend == "spot"
