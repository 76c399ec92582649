"""Something half hidden is said before it is filled: holes in open pictures that scikit-image and scikit-learn ship,
judged by eye before the rule was tried on them, and drawn ones."""

from functools import cache
from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data
from sklearn.datasets import load_sample_image

from keen_sweep.core.fill.half_hidden import half_hidden
from keen_sweep.core.fill.inventing import needs_inventing

# An ellipse in a picture: name, x, y, half axes, angle.
Hole = tuple[str, int, int, int, int, int]
HIDDEN: tuple[Hole, ...] = (
    ("coffee", 187, 161, 44, 37, 142),
    ("rocket", 471, 120, 40, 33, 3),
    ("rocket", 160, 194, 35, 32, 71),
    ("astronaut", 223, 290, 55, 59, 40),
    ("astronaut", 445, 201, 26, 30, 156),
    ("astronaut", 103, 196, 43, 58, 130),
    ("chelsea", 293, 144, 30, 23, 113),
    ("china", 205, 182, 42, 27, 67),
    ("china", 300, 185, 33, 21, 129),
    ("china", 232, 136, 39, 32, 160),
    ("flower", 417, 242, 35, 35, 39),
    ("flower", 257, 124, 39, 53, 133),
    ("flower", 227, 329, 38, 32, 141),
    ("stereo_motorcycle", 551, 424, 33, 26, 81),
    ("stereo_motorcycle", 183, 375, 49, 46, 160),
    ("stereo_motorcycle", 168, 131, 25, 27, 171),
    ("stereo_motorcycle", 444, 312, 42, 40, 118),
    ("camera", 170, 367, 39, 33, 50),
    ("camera", 293, 366, 65, 75, 77),
)
PLAIN: tuple[Hole, ...] = (
    ("coffee", 446, 227, 51, 46, 79),
    ("coffee", 179, 303, 26, 19, 35),
    ("rocket", 371, 199, 37, 41, 164),
    ("chelsea", 374, 237, 30, 27, 90),
    ("chelsea", 312, 84, 25, 21, 81),
    ("china", 434, 87, 30, 29, 24),
    ("flower", 158, 305, 44, 32, 61),
    ("grass", 202, 186, 44, 55, 84),
    ("grass", 426, 234, 28, 21, 2),
    ("grass", 324, 260, 59, 82, 115),
    ("grass", 133, 169, 53, 55, 70),
    ("gravel", 249, 158, 51, 59, 146),
    ("gravel", 286, 194, 58, 67, 124),
    ("gravel", 344, 185, 56, 72, 67),
    ("gravel", 147, 249, 47, 29, 14),
    ("brick", 306, 233, 41, 46, 130),
    ("brick", 436, 257, 24, 28, 77),
    ("brick", 270, 331, 60, 39, 5),
    ("brick", 166, 332, 55, 74, 69),
    ("camera", 146, 365, 42, 47, 67),
    ("camera", 370, 257, 39, 39, 170),
)


@cache
def picture(name: str) -> NDArray[np.uint8]:
    if name in ("china", "flower"):
        return np.asarray(load_sample_image(f"{name}.jpg"), np.uint8)
    read: Any = getattr(data, name)()
    found = np.asarray(read[0] if name == "stereo_motorcycle" else read, np.uint8)
    return np.repeat(found[..., None], 3, axis=2) if found.ndim == 2 else np.ascontiguousarray(found[..., :3])


def says(hole: Hole) -> bool:
    name, x, y, across, down, angle = hole
    mask = np.zeros(picture(name).shape[:2], np.uint8)
    cv2.ellipse(mask, (x, y), (across, down), angle, 0, 360, 1, -1)
    return half_hidden(picture(name), mask > 0).says or needs_inventing(picture(name), mask > 0).needed


@pytest.mark.scenes
def test_what_goes_on_behind_a_mask_is_told_from_plain_ground() -> None:
    hidden, plain = [says(hole) for hole in HIDDEN], [says(hole) for hole in PLAIN]
    assert np.mean(hidden) >= 0.85, [hole for hole, said in zip(HIDDEN, hidden, strict=True) if not said]
    assert np.mean(plain) <= 0.15, [hole for hole, said in zip(PLAIN, plain, strict=True) if said]


def ground() -> NDArray[np.uint8]:
    noise = np.random.default_rng(4).normal(0, 3, (240, 320, 1))
    return np.asarray(np.clip(np.full((240, 320, 3), (120, 150, 90)) + noise, 0, 255), np.uint8)


def middle() -> NDArray[np.bool_]:
    hole = np.zeros((240, 320), np.bool_)
    hole[80:160, 120:200] = True
    return hole


def test_a_bar_that_ends_behind_the_mask_is_half_hidden_and_one_that_goes_through_is_not() -> None:
    ends = ground()
    ends[105:135, :150] = (40, 40, 60)
    found = half_hidden(ends, middle())
    assert found.says
    assert len(found.ends) == 2
    assert np.abs(found.ends[:, 0] - 119).max() <= 3, "they end at the mask's left side"
    assert sorted(np.rint(found.ends[:, 1] / 5) * 5) == [105, 135]
    through = ground()
    through[105:135] = (40, 40, 60)
    assert not half_hidden(through, middle()).says
    assert not half_hidden(ground(), middle()).says


def test_a_picture_of_sixteen_bit_says_the_same() -> None:
    ends = ground()
    ends[105:135, :150] = (40, 40, 60)
    deep = ends.astype(np.uint16) * 257
    assert np.allclose(half_hidden(deep, middle()).ends, half_hidden(ends, middle()).ends, atol=1)
