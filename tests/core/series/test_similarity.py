"""Similarities: how a picture that was straightened and cropped lies on the one it was made from."""

from typing import Any

import cv2
import numpy as np
import pytest
from hypothesis import given
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.errors import NotTheSamePlace
from keen_sweep.core.series.similarity import IDENTITY_SIMILARITY, Similarity, similarity_between
from keen_sweep.core.series.view import view_of
from tests.support.similarities import similarities, straightened


def corners(pixels: NDArray[Any]) -> NDArray[Any]:
    height, width = pixels.shape[:2]
    return np.array([[0, 0], [width, 0], [width, height], [0, height]], float)


@given(similarities, similarities)
def test_one_after_another_is_one_and_back_again_is_none(one: Similarity, other: Similarity) -> None:
    points = np.array([[0.0, 0.0], [300.0, 20.0], [-40.0, 250.0]])
    assert np.allclose(one.then(other).places(points), other.places(one.places(points)), atol=1e-6)
    assert np.allclose(one.inverse.places(one.places(points)), points, atol=1e-6)
    assert np.isclose(one.then(other).scale, one.scale * other.scale)


@pytest.mark.parametrize("name", ["astronaut", "coffee", "chelsea", "rocket"])
@pytest.mark.parametrize(("turn", "crop", "scale"), [(2, 0.1, 1), (-0.3, 0.02, 1), (1, 0.05, 0.6), (0, 0.2, 1)])
def test_it_is_told_within_a_quarter_of_a_pixel(name: str, turn: float, crop: float, scale: float) -> None:
    """Against pictures of scikit-image warped by OpenCV, in other tones."""
    shot = getattr(data, name)()
    newer, lies = straightened(shot, turn, crop, scale)
    graded = np.rint(255 * (newer / 255.0) ** 0.8).astype(np.uint8)
    found = similarity_between(view_of(shot), view_of(graded))
    rim = lies.inverse.places(corners(newer))
    assert np.hypot(*(found.places(rim) - corners(newer)).T).max() < 0.25
    assert found.turn == pytest.approx(turn, abs=0.05)
    assert found.scale == pytest.approx(scale, rel=1e-3)


def test_other_tones_alone_move_nothing() -> None:
    shot = data.coffee()
    assert similarity_between(view_of(shot), view_of((shot * 0.8).astype(np.uint8))) == IDENTITY_SIMILARITY


def test_another_picture_and_a_bent_one_are_none() -> None:
    shot = data.coffee()
    with pytest.raises(NotTheSamePlace, match="the same picture"):
        similarity_between(view_of(shot), view_of(data.rocket()))
    height, width = shot.shape[:2]
    ends = corners(shot).astype(np.float32)
    leaning = ends + np.array([[40, 0], [-40, 0], [0, 0], [0, 0]], np.float32)
    upright = cv2.warpPerspective(shot, cv2.getPerspectiveTransform(ends, leaning), (width, height))
    with pytest.raises(NotTheSamePlace, match="distorted"):
        similarity_between(view_of(shot), view_of(np.asarray(upright, np.uint8)))
