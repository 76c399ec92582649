"""What a mask leaves of a thing is not drawn into the hole that the thing leaves."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage

from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.rim import rim_of

SIZE = (260, 300)


def ground(seed: int = 3) -> NDArray[Any]:
    """Soft blotches with grain."""
    random = np.random.default_rng(seed)
    blotches = ndimage.gaussian_filter(random.normal(size=SIZE), 6)
    grain = ndimage.gaussian_filter(random.normal(size=SIZE), 0.7)
    shade = 150 + 8 * blotches / blotches.std() + 4 * grain / grain.std()
    return np.asarray(np.repeat(shade[..., None], 3, axis=2))


def disc(radius: float) -> NDArray[np.bool_]:
    yy, xx = np.mgrid[: SIZE[0], : SIZE[1]]
    return np.asarray(np.hypot(xx - 150, yy - 130) <= radius)


def woven(picture: NDArray[np.uint8], hole: NDArray[np.bool_]) -> Patch:
    given = FillInput(below=picture, mask=np.where(hole, 255, 0).astype(np.uint8), takes=1)
    return next(iter(engine_for(Method.WEAVE).fill(given)))


def shades(patch: Patch, where: NDArray[np.bool_]) -> NDArray[np.float64]:
    return np.asarray(patch.pixels[where[patch.box.slices]].astype(float).mean(axis=1))


def test_a_soft_dark_edge_that_the_mask_leaves_is_not_drawn_on() -> None:
    plain = ground()
    photo = plain.copy()
    photo[disc(40)] = 25
    photo = cv2.GaussianBlur(photo, (0, 0), 5).clip(0, 255).astype(np.uint8)
    hole = disc(41)
    assert rim_of(photo, hole).sum() > 0.05 * hole.sum()
    patch = woven(photo, hole)
    beside, usual = disc(41) & ~disc(33), plain[~disc(70)]
    # What lies just outside is a quarter darker, and was drawn into the hole as such; the ground is not.
    assert photo[disc(43) & ~disc(41)].mean() < 0.75 * usual.mean()
    assert shades(patch, beside).mean() > 0.88 * usual.mean()
    assert shades(patch, disc(41)).min() > 0.75 * usual.mean()


@pytest.mark.parametrize("seed", range(4))
def test_nothing_is_taken_for_a_rim_where_a_mask_leaves_nothing(seed: int) -> None:
    photo = ground(seed)
    photo[disc(36)] = 25
    hole = disc(42)
    assert not rim_of(photo.clip(0, 255).astype(np.uint8), hole).any()
