"""The sharp subject before a background out of focus."""

import cv2
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.mask.subject import subject_of


def test_what_is_sharp_before_a_blurred_photograph_is_the_subject(photograph: NDArray[np.uint8]) -> None:
    truth = np.zeros(photograph.shape[:2], np.uint8)
    cv2.ellipse(truth, (330, 230), (90, 120), 0, 0, 360, 1, -1)
    texture = np.random.default_rng(0).integers(40, 220, photograph.shape, np.uint8)
    sharp = cv2.GaussianBlur(texture, (0, 0), 0.8)
    picture = np.where(truth[..., None] > 0, sharp, cv2.GaussianBlur(photograph, (0, 0), 6))
    found = subject_of(picture.astype(np.uint8))
    assert found is not None
    got = found.full(640, 427) > 0
    # A guard has some room round what it guards, and misses none of it.
    assert got[truth > 0].mean() > 0.99
    assert got.sum() < 1.5 * truth.sum()


def test_no_subject_where_everything_or_nothing_is_sharp(
    photograph: NDArray[np.uint8], gravel: NDArray[np.uint8]
) -> None:
    assert subject_of(gravel) is None
    assert subject_of(cv2.GaussianBlur(photograph, (0, 0), 6).astype(np.uint8)[:60, :60]) is None
    assert subject_of(np.full((80, 90, 3), 128, np.uint8)) is None
