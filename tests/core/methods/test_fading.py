"""A dark rim that a thing left beside its mask ends there: what is filled keeps the shade of the ground."""

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.methods.fading import rim_only_mismatch
from keen_sweep.core.methods.seam import correction

BOX = Box(x=100, y=40, width=70, height=80)


def ground(seed: int = 1, deviation: float = 3) -> NDArray[Any]:
    random = np.random.default_rng(seed)
    return cv2.GaussianBlur(random.normal(150, 4 * deviation, (180, 260, 3)).astype(np.float32), (0, 0), 1.2)


def laid(picture: NDArray[Any], meet_all: bool = False) -> tuple[NDArray[Any], NDArray[Any]]:
    """What a copy from the left becomes in a window one pixel larger than the hole; and the hole."""
    window = BOX.grow(1, Box(x=0, y=0, width=260, height=180))
    hole = np.zeros((window.height, window.width), np.bool_)
    hole[1:-1, 1:-1] = True
    known = np.ones(picture.shape[:2], np.bool_)
    known[BOX.slices] = False
    offsets = np.where(hole[..., None], np.array([-85, 0]), 0).astype(np.int32)
    own, faded = rim_only_mismatch(picture, known, hole, offsets, window, Box(x=0, y=0, width=260, height=180))
    if meet_all:
        own, faded = np.zeros_like(own), np.zeros_like(faded)
    copy = picture[window.y : window.bottom, window.x - 85 : window.right - 85].astype(np.float32)
    return copy + correction(picture, hole, offsets, window.y, window.x, own=own) + faded, hole


def test_a_shadow_beside_the_mask_is_not_carried_through_the_hole() -> None:
    photo = ground()
    inside = np.zeros(photo.shape[:2], np.uint8)
    inside[BOX.slices] = 1
    away = cv2.distanceTransform(1 - inside, cv2.DIST_L2, 5)
    photo -= (30 * np.exp(-away / 2.5))[..., None]
    picture = photo.clip(0, 255).astype(np.uint8)
    middle = (slice(25, 55), slice(25, 45))
    now, _ = laid(picture)
    before, _ = laid(picture, meet_all=True)
    assert before[middle].mean() < 150 - 15
    assert now[middle].mean() > 150 - 9
    # It goes over into what it meets, without a step.
    assert abs(now[35:45, 1].mean() - picture[BOX.y + 34 : BOX.y + 44, BOX.x - 1].mean()) < 8


def test_grounds_that_differ_all_over_are_joined_as_ever() -> None:
    """The copy is lighter by twenty: it takes the shade of its new place, at the rim as in the middle."""
    photo = ground(deviation=1)
    photo[:, :95] += 20
    now, hole = laid(photo.clip(0, 255).astype(np.uint8))
    assert abs(now[hole].mean() - 150) < 2
    assert abs(now[25:55, 25:45].mean() - 150) < 2


def test_texture_that_does_not_agree_changes_nothing() -> None:
    picture = ground(deviation=12).clip(0, 255).astype(np.uint8)
    now, hole = laid(picture)
    before, _ = laid(picture, meet_all=True)
    assert np.abs(now - before)[hole].mean() < 0.5
