"""Landing: what is marked in one demo frame lies on the same thing in another, or it is said that it does not."""

from typing import Any

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.box import box_of
from keen_sweep.core.mask.fit import grow_mask
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.series.align import align
from keen_sweep.core.series.alignment import Alignment
from keen_sweep.core.series.landing import Landing, Verdict, land
from keen_sweep.core.series.view import view_of
from keen_sweep.demo.shoot import clean_twin, distractions, mask_of

pytestmark = pytest.mark.scenes

# How far past the thing masks reach here, pixels: the border that a photographer leaves.
MARGIN = 3


def _thing(frame: str, name: str) -> NDArray[Any]:
    (found,) = [each for each in distractions(frame) if each.name == name and each.part == "object"]
    return grow_mask(np.where(mask_of(frame, found) > 0, 255, 0).astype(np.uint8), MARGIN)


def _mask(full: NDArray[Any]) -> Mask:
    box = box_of(full)
    return Mask(box, full[box.slices])


def _overlap(landing: Landing, own: NDArray[Any], theirs: NDArray[Any]) -> float:
    """Intersection over union of a mask (H, W) where it landed, and the other frame's own, where both frames reach."""
    box = landing.box
    x, y = np.meshgrid(np.arange(box.x, box.right), np.arange(box.y, box.bottom))
    there = landing.places(np.stack([x.ravel(), y.ravel()], 1).astype(float)).reshape(box.height, box.width, 2)
    across, down = np.moveaxis(there.astype(np.float32), 2, 0)
    truth = cv2.remap(theirs, across, down, cv2.INTER_LINEAR) > 127
    own = own[box.slices] > 0
    within = ((there > 0) & (there < (theirs.shape[1] - 1, theirs.shape[0] - 1))).all(axis=2)
    return float((truth & own & within).sum() / ((truth | own) & within).sum())


@pytest.fixture(scope="module")
def burst() -> tuple[NDArray[Any], NDArray[Any], Alignment]:
    one, other = (clean_twin(frame)[0] for frame in ("ov-0412", "ov-0414"))
    return one, other, align(view_of(one), view_of(other))


@pytest.mark.parametrize(
    ("name", "least"),
    [("cable 1", 0.9), ("cable 2", 0.9), ("hose", 0.8), ("crumpled paper", 0.8), ("small paper", 0.8)],
)
def test_a_thing_lands_on_itself(burst: tuple[NDArray[Any], NDArray[Any], Alignment], name: str, least: float) -> None:
    one, other, alignment = burst
    full = _thing("ov-0412", name)
    landing = land(one, _mask(full), other, alignment)
    assert landing.verdict is Verdict.LANDED
    assert _overlap(landing, full, _thing("ov-0414", name)) >= least


@pytest.mark.parametrize("name", ["visitor with bag", "visitor in red"])
def test_who_has_walked_on_is_not_there(burst: tuple[NDArray[Any], NDArray[Any], Alignment], name: str) -> None:
    one, other, alignment = burst
    landing = land(one, _mask(_thing("ov-0412", name)), other, alignment)
    assert landing.verdict is Verdict.NOT_THERE


def test_what_lies_beyond_the_other_frame_says_so(burst: tuple[NDArray[Any], NDArray[Any], Alignment]) -> None:
    one, other, alignment = burst
    landing = land(one, _mask(_thing("ov-0412", "cup")), other, alignment)
    assert landing.verdict is Verdict.OUT_OF_FRAME


def test_a_studio_series_lands_by_its_set() -> None:
    one, other = (clean_twin(frame)[0] for frame in ("ov-0521", "ov-0522"))
    alignment = align(view_of(one), view_of(other))
    for name in ("left clamp", "tape 2", "light stand"):
        landing = land(one, _mask(_thing("ov-0521", name)), other, alignment)
        assert landing.verdict is Verdict.LANDED, name
        assert _overlap(landing, _thing("ov-0521", name), _thing("ov-0522", name)) > 0.9, name
