"""What cannot be drawn from the picture itself: judged on photographs that scikit-image ships."""

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.bench.cases import blob, package_picture, person
from keen_sweep.core.fill.inventing import needs_inventing


def box(picture: NDArray[Any], x: int, y: int, width: int, height: int) -> NDArray[Any]:
    out = np.zeros(picture.shape[:2], bool)
    out[y : y + height, x : x + width] = True
    return out


def colour(picture: NDArray[Any]) -> NDArray[Any]:
    return np.repeat(np.asarray(picture)[..., None], 3, axis=2)


@pytest.mark.parametrize(
    ("picture", "place"),
    [
        (np.asarray(data.astronaut()), (200, 60, 60, 120)),
        (np.asarray(data.astronaut()), (190, 150, 70, 30)),
        (np.asarray(data.chelsea()), (140, 90, 60, 40)),
        (colour(data.camera()), (200, 80, 60, 60)),
        (colour(data.page()), (100, 60, 80, 40)),
        (np.asarray(data.coffee()), (150, 100, 160, 90)),
    ],
    ids=["half a face", "mouth", "eye of a cat", "head", "lettering", "half a cup"],
)
def test_faces_lettering_and_half_hidden_things_need_inventing(picture: NDArray[Any], place: tuple[Any, ...]) -> None:
    found = needs_inventing(picture, box(picture, *place))
    assert found.needed, found
    assert "nowhere else" in found.why


@pytest.mark.parametrize(
    ("name", "mask"),
    [
        ("grass.png", person(0.45, 0.85, 0.55)),
        ("gravel.png", person(0.55, 0.8, 0.5)),
        ("brick.png", blob(0.4, 0.5, 0.12, 4)),
        ("china.jpg", person(0.32, 0.95, 0.42)),
        ("coffee.png", blob(0.13, 0.62, 0.035, 4)),
    ],
)
def test_ground_that_goes_on_does_not(name: str, mask) -> None:  # type: ignore[no-untyped-def]
    picture = package_picture(name)
    assert not needs_inventing(picture, mask(picture)).needed
    assert not needs_inventing(picture.astype(np.uint16) * 257, mask(picture)).needed


def test_a_hole_with_nothing_round_it_needs_it() -> None:
    picture = np.zeros((60, 60, 3), np.uint8)
    assert needs_inventing(picture, box(picture, 5, 5, 50, 50)).needed
