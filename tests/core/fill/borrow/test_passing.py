"""Who passes in sister frames: outvoted by several, told from the background by what is round the hole."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.fill.borrow.choosing import EXCLUDED_LABEL, UNFIT_LABEL, compare_views, still_there
from keen_sweep.core.fill.borrow.passing import oddness_of, passers_by
from keen_sweep.core.fill.borrow.views import Warped

pytestmark = pytest.mark.scenes

GAP = np.zeros((200, 240), np.bool_)
GAP[40:170, 70:190] = True


def _lab(picture: NDArray[np.uint8]) -> NDArray[np.float32]:
    return np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2LAB), np.float32)


@pytest.fixture(scope="module")
def ground() -> NDArray[np.uint8]:
    """Gravel in colour."""
    grey = data.gravel()[100:300, 100:340]
    return np.stack([grey, grey * 0.9, grey * 0.8], axis=2).astype(np.uint8)


def _with(picture: NDArray[np.uint8], at: tuple[int, int], colour: tuple[int, int, int]) -> NDArray[np.uint8]:
    out = picture.copy()
    cv2.ellipse(out, at, (16, 40), 0, 0, 360, colour, -1)
    return out


def _where(at: tuple[int, int]) -> NDArray[np.bool_]:
    plane = np.zeros(GAP.shape, np.uint8)
    cv2.ellipse(plane, at, (16, 40), 0, 0, 360, 1, -1)
    return plane > 0


def _seen(*pictures: NDArray[np.uint8]) -> list[tuple[NDArray[np.float32], NDArray[np.bool_]]]:
    everywhere = np.ones(GAP.shape, np.bool_)
    return [(_lab(picture), everywhere) for picture in pictures]


def test_of_three_the_one_that_agrees_with_no_other_is_outvoted(ground: NDArray[np.uint8]) -> None:
    """Even by ground as odd as he is: votes count before looks."""
    strange = _with(ground, (100, 100), (30, 60, 200))
    found = passers_by(_lab(ground), GAP, _seen(strange, strange, ground))
    assert found[0][_where((100, 100))].mean() < 0.1
    assert found[2][_where((100, 100))].mean() > 0.9


def test_each_of_three_may_have_somebody_else(ground: NDArray[np.uint8]) -> None:
    places = [(95, 100), (130, 100), (165, 100)]
    pictures = [_with(ground, at, (200, 40, 40 + 60 * k)) for k, at in enumerate(places)]
    for own, at in zip(passers_by(_lab(ground), GAP, _seen(*pictures)), places, strict=True):
        assert own[_where(at)].mean() > 0.9
        assert own[GAP].mean() < 0.55


def test_of_two_that_differ_the_odd_one_is_wrong(ground: NDArray[np.uint8]) -> None:
    first, second = passers_by(_lab(ground), GAP, _seen(_with(ground, (120, 100), (200, 40, 40)), ground))
    assert first[_where((120, 100))].mean() > 0.9
    assert not second[_where((120, 100))].any()


def test_one_alone_is_told_by_what_is_round_the_hole(ground: NDArray[np.uint8]) -> None:
    (found,) = passers_by(_lab(ground), GAP, _seen(_with(ground, (120, 100), (200, 40, 40))))
    assert found[_where((120, 100))].mean() > 0.9
    (nobody,) = passers_by(_lab(ground), GAP, _seen(ground))
    assert nobody.mean() < 0.02


def test_what_goes_on_beyond_the_hole_belongs_there(ground: NDArray[np.uint8]) -> None:
    """A red pole through the whole picture is odd, and seen above and below the hole in the frame itself."""
    pole = ground.copy()
    pole[:, 110:122] = (200, 40, 40)
    own = pole.copy()
    own[GAP] = (0, 120, 0)
    (found,) = passers_by(_lab(own), GAP, _seen(pole))
    assert found[GAP & (np.arange(240) > 110) & (np.arange(240) < 122)].mean() < 0.1


def test_oddness_is_nothing_for_more_of_the_same(ground: NDArray[np.uint8]) -> None:
    plain = oddness_of(_lab(ground), _lab(np.roll(ground, 37, axis=1)), GAP)
    strange = oddness_of(_lab(ground), _lab(_with(ground, (120, 100), (200, 40, 40))), GAP)
    assert plain[GAP].mean() < 0.5
    assert strange[_where((120, 100))].max() > 7
    assert strange[~GAP].max() < strange[GAP].max()


def test_a_thing_that_did_not_move_is_still_there(ground: NDArray[np.uint8]) -> None:
    thing = ground.copy()
    board = np.random.default_rng(4).integers(0, 255, (13, 12, 3)).astype(np.uint8)
    thing[45:165, 75:185] = cv2.resize(board, (110, 120), interpolation=cv2.INTER_NEAREST)
    assert still_there(_lab(thing), GAP, _lab(thing))[GAP].all()
    assert not still_there(_lab(thing), GAP, _lab(ground)).any()


def test_a_view_that_does_not_go_on_is_unfit_and_who_stands_there_left_out(ground: NDArray[np.uint8]) -> None:
    other = np.ascontiguousarray(np.roll(255 - ground, 50, axis=1))
    own = ground.copy()
    own[GAP] = (0, 120, 0)
    everywhere = np.ones(GAP.shape, np.bool_)
    right, wrong = Warped(0, _with(ground, (120, 100), (200, 40, 40)), everywhere), Warped(1, other, everywhere)
    both = compare_views(own, GAP, [right, wrong])
    # Reduced and smoothed, so that the rim of an area is nobody's.
    middle = cv2.erode(GAP.astype(np.uint8), np.ones((15, 15), np.uint8)) > 0
    assert set(np.unique(both.chosen([1])[middle])) <= {UNFIT_LABEL, EXCLUDED_LABEL}
    alone = compare_views(own, GAP, [right]).chosen([0])
    core = cv2.erode(_where((120, 100)).astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    assert (alone[core] == EXCLUDED_LABEL).mean() > 0.9
    assert (
        alone[middle & ~cv2.dilate(core.astype(np.uint8), np.ones((61, 61), np.uint8)).astype(bool)] == 0
    ).mean() > 0.9
