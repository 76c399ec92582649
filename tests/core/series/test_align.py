"""Alignment against homographies that are known, against the renderer's geometry, and against other places."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.box import whole
from keen_sweep.core.errors import LibraryTrouble, NotTheSamePlace
from keen_sweep.core.series.align import align
from keen_sweep.core.series.alignment import alignment_from_bytes, alignment_to_bytes, map_by_homography
from keen_sweep.core.series.view import view_of
from keen_sweep.demo.geometry import inverse_depth, seen_at
from keen_sweep.demo.shoot import clean_twin
from tests.support.pairs import pair

pytestmark = pytest.mark.scenes


def _places(shape: tuple[int, ...]) -> NDArray[Any]:
    height, width = shape[:2]
    x, y = np.meshgrid(np.arange(8, width - 8, 13), np.arange(8, height - 8, 13))
    return np.stack([x.ravel(), y.ravel()], 1).astype(float)


@pytest.mark.parametrize("name", ["astronaut", "coffee", "chelsea"])
@pytest.mark.parametrize("seed", [1, 2])
def test_a_known_homography_is_found_to_half_a_pixel(name: str, seed: int) -> None:
    pictures = pair(getattr(data, name)(), seed)
    found = align(view_of(pictures.one), view_of(pictures.other))
    places = _places(pictures.one.shape)
    truth = map_by_homography(pictures.homography, places)
    inside = (truth > 0).all(1) & (truth < pictures.other.shape[1::-1]).all(1)
    off = np.linalg.norm(found.places(places) - truth, axis=1)[inside]
    assert np.quantile(off, 0.9) < 0.5
    # As a map of pixels it says the same as point by point.
    window = found.window(whole(pictures.one))
    at = places.astype(int)
    assert np.abs(window[at[:, 1], at[:, 0]] - found.places(places)).max() < 0.02


def test_a_large_frame_is_found_through_its_small_view() -> None:
    large = cv2.resize(data.astronaut(), (3072, 3072), interpolation=cv2.INTER_CUBIC)
    pictures = pair(large, 5, noise=2.0)
    found = align(view_of(pictures.one), view_of(pictures.other))
    places = _places(pictures.one.shape)[::31]
    truth = map_by_homography(pictures.homography, places)
    inside = (truth > 0).all(1) & (truth < 3072).all(1)
    assert np.quantile(np.linalg.norm(found.places(places) - truth, axis=1)[inside], 0.9) < 1.0


def test_exposure_and_white_balance_are_matched() -> None:
    pictures = pair(data.astronaut(), 3, stops=0.33)
    found = align(view_of(pictures.one), view_of(pictures.other))
    there = found.window(whole(pictures.one))
    laid = cv2.remap(
        pictures.other, there[..., 0], there[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT
    ).astype(np.uint8)
    inside = (there > 2).all(2) & (there < 509).all(2)
    before, after = (
        np.abs(cv2.blur(each, (9, 9)).astype(float) - cv2.blur(pictures.one, (9, 9)))[inside].mean()
        for each in (laid, found.tones.laid_on(laid))
    )
    assert after < 2
    assert after < 0.35 * before


def test_the_demo_burst_agrees_with_the_renderer() -> None:
    pictures = {name: clean_twin(name)[0] for name in ("ov-0412", "ov-0414")}
    one, other = (view_of(each) for each in pictures.values())
    found = align(one, other)
    truth, seen = seen_at("ov-0412", "ov-0414")
    y, x = np.mgrid[0 : seen.shape[0], 0 : seen.shape[1]] * 4 + 1.5
    got = found.places(np.stack([x.ravel(), y.ravel()], 1)).reshape(truth.shape)
    off = np.linalg.norm(got - truth, axis=2)
    depth = inverse_depth("ov-0412")
    wall, lawn = seen & (depth > 0) & (depth < 1 / 17), seen & (depth > 1 / 10)
    assert np.median(off[wall]) < 2.0
    assert np.quantile(off[lawn], 0.9) < 5.0
    sure = found.sureness(np.stack([x.ravel(), y.ravel()], 1)).reshape(seen.shape)
    assert (sure[lawn] > 0.5).mean() > 0.8


@pytest.mark.parametrize("turns", [1, 2])
def test_a_frame_that_was_turned_is_found(turns: int) -> None:
    picture = data.astronaut()
    found = align(view_of(picture), view_of(np.ascontiguousarray(np.rot90(picture, turns))))
    place = found.places(np.array([[100.0, 200.0]]))[0]
    assert np.abs(place - ([200, 411] if turns == 1 else [411, 311])).max() < 0.5


@pytest.mark.parametrize("other", ["coffee", "rocket", "brick"])
def test_another_place_is_said_to_be_one(other: str) -> None:
    picture = getattr(data, other)()
    if picture.ndim == 2:
        picture = np.repeat(picture[..., None], 3, axis=2)
    with pytest.raises(NotTheSamePlace, match="do not show the same place"):
        align(view_of(data.astronaut()), view_of(picture))


def test_plain_pictures_cannot_be_aligned() -> None:
    plain = np.full((300, 400, 3), 128, np.uint8)
    with pytest.raises(NotTheSamePlace):
        align(view_of(plain), view_of(plain))


def test_an_alignment_can_be_kept() -> None:
    pictures = pair(data.coffee(), 4)
    found = align(view_of(pictures.one), view_of(pictures.other))
    again = alignment_from_bytes(alignment_to_bytes(found))
    places = _places(pictures.one.shape)
    assert np.array_equal(again.places(places), found.places(places))
    assert np.array_equal(again.tones.laid_on(pictures.one), found.tones.laid_on(pictures.one))
    with pytest.raises(LibraryTrouble):
        alignment_from_bytes(b"no alignment")
