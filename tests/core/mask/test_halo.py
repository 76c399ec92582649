"""What is left of a thing outside its mask: blur, a dark rim; and where the ground begins."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage

from keen_sweep.core.box import whole
from keen_sweep.core.mask.fit import fit_mask
from keen_sweep.core.mask.halo import with_halo
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.removable import fit_of

Picture = NDArray[np.uint8]
Bools = NDArray[np.bool_]
SIZE = (300, 360)


def ground(grain: float, seed: int = 1) -> NDArray[np.float64]:
    noise = ndimage.gaussian_filter(np.random.default_rng(seed).normal(size=SIZE), 0.8)
    return np.asarray(np.array([150.0, 140.0, 125.0]) + noise[..., None] * grain)


def disc(radius: float) -> Bools:
    yy, xx = np.mgrid[: SIZE[0], : SIZE[1]]
    return np.asarray(np.hypot(xx - 180, yy - 150) <= radius)


def grown_to(picture: NDArray[np.float64], thing: Bools) -> Bools:
    pixels = picture.clip(0, 255).astype(np.uint8)
    found = with_halo(pixels, Mask(whole(pixels), np.where(thing, 255, 0).astype(np.uint8))).mask
    return found.full(SIZE[1], SIZE[0]) > 0


@pytest.mark.parametrize("grain", [4.0, 12.0])
def test_a_sharp_thing_on_plain_ground_grows_by_a_pixel_or_two_at_most(grain: float) -> None:
    thing = disc(50)
    picture = ground(grain)
    picture[thing] = (70, 60, 130)
    assert not (grown_to(picture, thing) & ~disc(53)).any()


def test_a_blurred_thing_is_covered_to_where_it_is_hardly_seen() -> None:
    thing, plain = disc(50), ground(3)
    sharp = plain.copy()
    sharp[thing] = (60, 40, 30)
    soft = np.asarray(cv2.GaussianBlur(sharp, (0, 0), 5), np.float64)
    found = grown_to(soft, thing)
    left = np.abs(soft - plain).max(axis=2)[~found]
    assert left.max() < 0.15 * 110
    assert not (found & ~disc(66)).any()


def test_it_grows_only_where_something_is_left() -> None:
    """A soft dark rim below, as where a thing stands; nothing above."""
    thing, yy = disc(50), np.mgrid[: SIZE[0], : SIZE[1]][0]
    picture = ground(4)
    away = ndimage.distance_transform_edt(~thing)
    rim = np.exp(-away / 5) * np.clip((yy - 160) / 20, 0, 1)
    picture *= (1 - 0.5 * rim)[..., None]
    picture[thing] = (70, 60, 130)
    more = grown_to(picture, thing) & ~thing
    assert more[yy > 190].sum() > 400
    assert more[yy < 140].sum() < 0.1 * more.sum()


def test_another_thing_beside_it_is_not_taken_for_its_halo() -> None:
    thing = disc(50)
    picture = ground(4)
    picture[:, 231:] = (40, 60, 90)
    picture[thing] = (70, 60, 130)
    assert not (grown_to(picture, thing) & ~disc(54)).any()


def test_a_guard_is_not_entered() -> None:
    thing, guard = disc(50), np.zeros(SIZE, bool)
    guard[:, 235:] = True
    soft = ground(3)
    soft[thing] = (60, 40, 30)
    pixels = cv2.GaussianBlur(soft, (0, 0), 5).clip(0, 255).astype(np.uint8)
    found = with_halo(pixels, Mask(whole(pixels), np.where(thing & ~guard, 255, 0).astype(np.uint8)), guard)
    assert found.most > 5
    assert not ((found.mask.full(SIZE[1], SIZE[0]) > 0) & guard).any()


def test_an_empty_mask_stays_empty() -> None:
    flat = np.zeros((40, 50, 3), np.uint8)
    found = with_halo(flat, Mask(whole(flat), np.zeros((40, 50), np.uint8)))
    assert not found.mask.pixels.any()
    assert (found.most, found.typical) == (0, 0)


@pytest.mark.parametrize("blur", [0, 3, 6])
def test_a_soft_thing_gets_a_soft_edge_that_still_covers_it_and_a_sharp_one_none(blur: int) -> None:
    thing, plain = disc(50), ground(3)
    picture = plain.copy()
    picture[thing] = (60, 40, 30)
    if blur:
        picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), blur), np.float64)
    pixels = picture.clip(0, 255).astype(np.uint8)
    found = with_halo(pixels, Mask(whole(pixels), np.where(thing, 255, 0).astype(np.uint8)))
    fit = fit_of(found.mask, found.typical)
    assert (fit.feather > 0) == (blur > 0)
    full = found.mask.full(SIZE[1], SIZE[0])
    soft = fit_mask(full, np.zeros_like(full), fit)
    assert (soft[thing] > 240).all()
    assert ((soft > 0) & (soft < 255)).any() == (blur > 0)
    # What is left to see of the thing where the mask lets it through.
    left = np.abs(picture - plain).max(axis=2) * (1 - soft / 255)
    assert left.max() < 0.15 * 110


def test_a_shadow_at_its_feet_alone_makes_no_soft_edge() -> None:
    thing, yy = disc(50), np.mgrid[: SIZE[0], : SIZE[1]][0]
    picture = ground(4)
    rim = np.exp(-ndimage.distance_transform_edt(~thing) / 5) * (yy > 185)
    picture *= (1 - 0.5 * rim)[..., None]
    picture[thing] = (70, 60, 130)
    pixels = picture.clip(0, 255).astype(np.uint8)
    found = with_halo(pixels, Mask(whole(pixels), np.where(thing, 255, 0).astype(np.uint8)))
    assert found.most >= 3
    assert fit_of(found.mask, found.typical).feather == 0
