"""Cling, its margin and pieces: things whose outline is known."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy import ndimage

from keen_sweep.bench.field.photographs import FieldThing
from keen_sweep.bench.field.removal import removal
from keen_sweep.bench.scribbles import scribble_over
from keen_sweep.core.box import Box, box_of, whole
from keen_sweep.core.mask.cling import cling, cling_further
from keen_sweep.core.mask.cut import _cheapest
from keen_sweep.core.mask.detected_target import detected_target
from keen_sweep.core.mask.edge import edge_profile, margin_for
from keen_sweep.core.mask.fit import grow_mask
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.pieces import mask_of_pieces, pieces_of
from keen_sweep.core.mask.removable import removable_mask
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.scout.networks import detector, trunk, weights
from tests.support.field import bus_stop

pytestmark = pytest.mark.scenes


@pytest.fixture
def scene() -> tuple[NDArray[np.uint8], NDArray[np.bool_]]:
    """A reddish thing on greenish, grainy ground; its truth."""
    random = np.random.default_rng(3)
    picture = np.empty((200, 260, 3), np.float64)
    picture[:] = (90, 130, 80)
    truth = np.zeros((200, 260), bool)
    yy, xx = np.mgrid[0:200, 0:260]
    truth |= ((yy - 100) / 30) ** 2 + ((xx - 130) / 40) ** 2 <= 1
    picture[truth] = (170, 80, 70)
    picture += ndimage.gaussian_filter(random.normal(size=(200, 260)), 1)[..., None] * 30
    return picture.clip(0, 255).astype(np.uint8), truth


def iou(a: NDArray[np.bool_], b: NDArray[np.bool_]) -> float:
    return float((a & b).sum() / (a | b).sum())


def near(*shapes: Stroke | Outline) -> NDArray[np.bool_]:
    return mask_of(shapes, Box(x=0, y=0, width=260, height=200)).full(260, 200) > 0


SCRIBBLE = Stroke(points=((100.0, 90.0), (150.0, 112.0), (178.0, 95.0)), size=16)


def test_a_careless_scribble_becomes_the_thing(scene: tuple[NDArray[np.uint8], NDArray[np.bool_]]) -> None:
    picture, truth = scene
    marked = near(SCRIBBLE)
    assert 0.2 < (marked & truth).sum() / truth.sum() < 0.6
    found = cling(picture, marked).full(260, 200) > 0
    assert iou(found, truth) > 0.93


def test_a_loose_outline_becomes_the_thing(scene: tuple[NDArray[np.uint8], NDArray[np.bool_]]) -> None:
    picture, truth = scene
    loose = Outline(points=((80.0, 60.0), (185.0, 62.0), (180.0, 140.0), (84.0, 138.0)))
    found = cling(picture, near(loose), "outline").full(260, 200) > 0
    assert iou(found, truth) > 0.93
    assert not (found & ~near(loose)).any()


def test_it_never_enters_a_guard(scene: tuple[NDArray[np.uint8], NDArray[np.bool_]]) -> None:
    picture, truth = scene
    guard = np.zeros_like(truth)
    guard[:, 140:] = True
    found = cling(picture, near(SCRIBBLE), guard=guard).full(260, 200) > 0
    assert not (found & guard).any()
    assert iou(found, truth & ~guard) > 0.85


def test_where_nothing_can_be_told_apart_something_comes_back() -> None:
    flat = np.full((60, 60, 3), 128, np.uint8)
    marked = np.zeros((60, 60), bool)
    marked[20:40, 20:40] = True
    assert cling(flat, marked).full(60, 60).any()
    tiny = np.zeros((60, 60), bool)
    tiny[0, 0] = True
    assert cling(flat, tiny).full(60, 60).any()
    assert cling(flat.astype(np.uint16) * 257, np.ones((60, 60), bool)).full(60, 60).any()


@pytest.mark.parametrize("seed", range(12))
def test_the_cut_is_the_cheapest_of_all(seed: int) -> None:
    """Boykov & Jolly 2001: against every labelling of a small graph."""
    random, count = np.random.default_rng(seed), 7
    liking = random.normal(size=count)
    pairs = np.array([(i, j) for i in range(count) for j in range(i + 1, count) if random.random() < 0.5]).T
    borders: NDArray[np.float64] = random.uniform(0, 1, len(pairs[0]))

    def price(chosen: NDArray[np.bool_]) -> float:
        parted = borders[chosen[pairs[0]] != chosen[pairs[1]]].sum()
        return float(np.maximum(-liking, 0)[chosen].sum() + np.maximum(liking, 0)[~chosen].sum() + parted)

    least = min(price(np.array([(k >> i) & 1 for i in range(count)], bool)) for k in range(2**count))
    assert price(_cheapest(liking, pairs, borders)) == pytest.approx(least, abs=0.02)


@pytest.mark.parametrize("sigma", [0.6, 1.5, 3.0])
def test_the_margin_covers_the_blur_of_the_edge(sigma: float) -> None:
    step = np.full((120, 160), 60.0)
    truth = np.zeros((120, 160), bool)
    truth[40:80, 50:110] = True
    step[truth] = 190
    picture = np.dstack([cv2.GaussianBlur(step, (0, 0), sigma)] * 3).astype(np.uint8)
    mask = Mask(whole(picture), np.where(truth, 255, 0).astype(np.uint8))
    place, spread, strength = edge_profile(picture, mask)
    assert abs(place) < 0.7
    assert 0.7 * sigma <= spread <= sigma + 0.9
    assert strength > 5
    margin = margin_for(picture, mask)
    # Beyond the margin nothing of the thing is left to see: less than 3 % of the step.
    beyond = ndimage.distance_transform_edt(~truth) > margin
    assert picture[beyond].max() - 60 < 0.03 * 130 + 1


def test_a_mask_without_a_border_gets_the_least_margin() -> None:
    flat = np.full((40, 40, 3), 90, np.uint8)
    assert margin_for(flat, Mask(whole(flat), np.full((40, 40), 255, np.uint8))) == 2


def test_pieces_cover_the_picture_and_grow_with_the_grain(photograph: NDArray[np.uint8]) -> None:
    counts = []
    for grain in ("small", "medium", "large"):
        labels = pieces_of(photograph, grain)
        assert labels.shape == photograph.shape[:2]
        assert set(np.unique(labels)) == set(range(labels.max() + 1))
        counts.append(int(labels.max()) + 1)
    assert counts[0] > 2 * counts[1] > 4 * counts[2] > 0


def test_chosen_pieces_make_a_mask_of_the_picture_size() -> None:
    labels = np.zeros((30, 40), np.int32)
    labels[10:20, 10:30] = 1
    mask = mask_of_pieces(labels, [1], 160, 120).full(160, 120)
    expected = np.zeros((120, 160), bool)
    expected[40:80, 40:120] = True
    assert iou(mask > 0, expected) > 0.97
    assert mask_of_pieces(labels, [7], 160, 120).box.empty


@pytest.fixture(scope="module")
def near_a_bus() -> FieldThing:
    """A man in a pale coat before a bus: a photograph that PyPI's ultralytics ships, with his outline."""
    return bus_stop()


@pytest.mark.parametrize("seed", [0, 1])
def test_one_zigzag_over_a_person_takes_head_and_shoes_along(near_a_bus: FieldThing, seed: int) -> None:
    picture = near_a_bus.picture
    scribble = scribble_over(near_a_bus.truth, np.random.default_rng(seed))
    marked = mask_of([scribble], whole(picture)).full(*picture.shape[1::-1]) > 0
    found = removable_mask(picture, marked, "scribble")
    assert found.fit.feather == 0, "a coat that is in focus has no soft edge"
    grown_by = grow_mask(found.mask.full(*picture.shape[1::-1]), found.fit.margin) > 0
    score = removal(grown_by, near_a_bus.truth, near_a_bus.belongs)
    assert score.ready, score
    rows = np.flatnonzero(near_a_bus.truth.any(axis=1))
    tall = rows[-1] - rows[0]
    for part in (slice(rows[0], rows[0] + tall // 8), slice(rows[-1] - tall // 10, rows[-1] + 1)):
        inside = near_a_bus.truth[part]
        assert (grown_by[part] & inside).sum() > 0.95 * inside.sum(), "head and shoes"


@settings(max_examples=12, deadline=None)
@given(
    points=st.lists(st.tuples(st.floats(5, 255), st.floats(5, 195)), min_size=1, max_size=5),
    size=st.floats(4, 40),
    further=st.booleans(),
)
def test_the_core_of_a_stroke_is_always_in(points: list[tuple[float, float]], size: float, further: bool) -> None:
    random = np.random.default_rng(5)
    blotches = random.integers(0, 255, (20, 26, 3), dtype=np.uint8)
    picture = cv2.resize(blotches, (260, 200), interpolation=cv2.INTER_CUBIC).astype(np.uint8)
    marked = near(Stroke(points=tuple(points), size=size))
    if not marked.any():
        return
    find = cling_further if further else cling
    found = find(picture, marked).full(260, 200) > 0
    depth = cv2.distanceTransform(np.pad(marked.astype(np.uint8), 1), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)[1:-1, 1:-1]
    assert found[depth > 0.75 * depth.max()].all()


def test_a_hole_that_the_brush_left_closes(scene: tuple[NDArray[np.uint8], NDArray[np.bool_]]) -> None:
    picture, _ = scene
    hurt = picture.copy()
    # Something within the thing that looks like the ground.
    cv2.circle(hurt, (130, 100), 7, (90, 130, 80), -1)
    found = cling(hurt, near(SCRIBBLE)).full(260, 200) > 0
    assert found[94:107, 124:137].all()


def test_a_further_stroke_stays_near_itself(scene: tuple[NDArray[np.uint8], NDArray[np.bool_]]) -> None:
    picture, _ = scene
    dab = near(Stroke(points=((100.0, 100.0), (106.0, 104.0)), size=12))
    found = cling_further(picture, dab).full(260, 200) > 0
    away = cv2.distanceTransform((~dab).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    assert found.any()
    assert away[found].max() <= 8


def test_without_the_weights_of_others_it_still_finds_the_thing(
    scene: tuple[NDArray[np.uint8], NDArray[np.bool_]], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    picture, truth = scene
    monkeypatch.setattr(weights, "_place", tmp_path)
    for module in (detector, trunk):
        module._session.cache_clear()
    try:
        found = cling(picture, near(SCRIBBLE)).full(260, 200) > 0
    finally:
        for module in (detector, trunk):
            module._session.cache_clear()
    assert iou(found, truth) > 0.9


def test_what_the_detector_sees_under_a_mark_is_meant(near_a_bus: FieldThing) -> None:
    picture, box = near_a_bus.picture, box_of(near_a_bus.truth)
    middle = (box.x + box.width / 2, box.y + box.height / 2)
    ways: tuple[tuple[How, Stroke], ...] = (
        ("click", Stroke(points=(middle,), size=14)),
        ("scribble", Stroke(points=((middle[0], box.y + 40.0), (middle[0], box.bottom - 60.0)), size=30)),
    )
    for how, shape in ways:
        marked = mask_of([shape], whole(picture)).full(*picture.shape[1::-1]) > 0
        meant = detected_target(picture, marked, how)
        assert meant is not None
        assert meant.kind == "person"
        common = meant.box.intersect(box).area
        assert common > 0.75 * (meant.box.area + box.area - common)


def test_nothing_is_meant_by_a_mark_across_a_plain_wall() -> None:
    wall = np.full((300, 400, 3), 140, np.uint8)
    marked = np.zeros((300, 400), bool)
    marked[140:160, 60:340] = True
    assert detected_target(wall, marked, "scribble") is None
