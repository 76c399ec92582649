"""Cling, its margin and pieces: things whose outline is known."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage

from keen_sweep.core.box import Box, whole
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.cut import _cheapest
from keen_sweep.core.mask.edge import edge_profile, margin_for
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.pieces import mask_of_pieces, pieces_of
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke


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
    borders = random.uniform(0, 1, pairs.shape[1])

    def price(chosen: NDArray[np.bool_]) -> float:
        cut = borders[chosen[pairs[0]] != chosen[pairs[1]]].sum()
        return float(np.maximum(-liking, 0)[chosen].sum() + np.maximum(liking, 0)[~chosen].sum() + cut)

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
