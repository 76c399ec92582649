"""Hints in words: orders told from descriptions, materials told from each other, fills of what was asked for."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some
from numpy.typing import NDArray

from keen_sweep.bench.cases import package_picture
from keen_sweep.bench.two_materials import MATERIAL_BORDERS, Border, share_of
from keen_sweep.core.box import whole
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.engine import FillInput, Words
from keen_sweep.core.fill.external_source import ExternalSource
from keen_sweep.core.fill.lay_again import lay_take_again
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import lay, patch_from_bytes, patch_to_bytes
from keen_sweep.core.fill.words.command import as_description, reply_to_order
from keen_sweep.core.fill.words.materials import MATERIAL_WORDS, named_in
from keen_sweep.core.fill.words.understood import check_words, interpret_hints
from tests.support.sure import sure

pytestmark = pytest.mark.scenes


@pytest.mark.parametrize(
    ("words", "what"),
    [
        ("remove the man", ""),
        ("Please take away this lamp post.", ""),
        ("can you get rid of the cable", ""),
        ("replace it with grass and gravel", "grass and gravel"),
        ("Fill with a plain brick wall", "plain brick wall"),
        ("turn the area into sky", "sky"),
        ("add a bench", "bench"),
        ("clear the lawn", ""),
        ("I want you to paint a wall", "wall"),
    ],
)
def test_orders_are_told_and_answered_with_what_to_write(words: str, what: str) -> None:
    assert as_description(words) == (True, what)
    answer = reply_to_order(words)
    assert answer
    assert "what the fill should show" in answer
    assert (what or "grass and gravel") in answer


@pytest.mark.parametrize("words", ["grass and gravel", "plain brick wall", "", "cut grass", "clear sky", "paint"])
def test_descriptions_are_left_alone(words: str) -> None:
    assert as_description(words) == (False, words)
    assert reply_to_order(words) is None


def test_materials_are_known_by_their_names_and_other_words_are_named() -> None:
    assert named_in("Grass and gravel") == (["grass", "gravel"], [])
    assert named_in("a plain brick wall") == (["brick"], [])
    assert named_in("hedges under a cloudy sky") == (["sky", "foliage"], ["under"])
    assert named_in("a red dragon") == ([], ["dragon"])


@given(some.sampled_from(sorted(MATERIAL_WORDS)), some.sampled_from(["a", "some", "plain", "dry and old"]))
def test_every_material_is_found_in_a_phrase(material: str, small: str) -> None:
    assert named_in(f"{small} {material}") == ([material], [])


@pytest.mark.parametrize("border", MATERIAL_BORDERS, ids=lambda border: border.name)
def test_the_asked_material_fills_most_of_a_hole_on_two(border: Border) -> None:
    first, second = border.areas
    assert share_of(border, first, second) >= 0.8
    assert share_of(border, second, first) >= 0.8


def temple() -> tuple[NDArray[Any], NDArray[Any]]:
    """The photograph of a temple, and a hole that lies on sky and leaves."""
    photo, hole, _ = MATERIAL_BORDERS[-1].load()
    return photo, hole


def fill_input(photo: NDArray[Any], hole: NDArray[Any], hint: str = "", avoid: str = "") -> FillInput:
    mask = np.where(hole, 255, 0).astype(np.uint8)
    return FillInput(below=photo, mask=mask, takes=1, quality=Quality.FAST, words=Words(hint, avoid))


def test_what_the_picture_does_not_show_and_what_nobody_knows_is_said() -> None:
    photo, hole = temple()
    found = interpret_hints(photo, hole, "sky and wood", "snow")
    assert "sky" in found.found
    assert "wood" in found.missing
    assert "No wood" in found.words
    with pytest.raises(BadRequest, match=r"dragon.*weave does not know this ground"):
        check_words(photo, hole, "a dragon", "")
    with pytest.raises(BadRequest, match="No wood was found"):
        check_words(photo, hole, "wood", "")
    with pytest.raises(BadRequest, match="Describe what the fill should show"):
        list(ByPart(Method.WEAVE).fill(fill_input(photo, hole, hint="remove the branch")))


def test_a_hint_makes_another_fill_and_keeps_its_own_tone() -> None:
    photo, hole = temple()
    means = {}
    for words in ("sky", "leaves"):
        (take,) = ByPart(Method.AUTO).fill(fill_input(photo, hole, hint=words))
        assert take.provenance.hint == words
        means[words] = take.pixels[take.alpha > 0].mean()
    assert means["sky"] > 190, "a bright sky"
    assert means["leaves"] < 110, "dark leaves, though the sky beside them is bright"


def test_avoid_keeps_from_a_material() -> None:
    photo, hole = temple()
    (take,) = ByPart(Method.WEAVE).fill(fill_input(photo, hole, avoid="leaves"))
    rows, columns = np.nonzero(take.alpha)
    dx, dy = sure(take.offsets)[rows, columns].T
    leaves = sure(interpret_hints(photo, hole, "", "leaves").barred)
    assert not leaves[rows + take.box.y + dy, columns + take.box.x + dx].any()


def test_a_take_of_words_is_laid_again_to_the_bit() -> None:
    photo, hole = temple()
    (take,) = ByPart(Method.WEAVE).fill(fill_input(photo, hole, hint="leaves"))
    assert take.loose is not None
    assert take.loose.any()
    kept = patch_from_bytes(patch_to_bytes(take))
    again = lay_take_again(kept, photo)
    assert np.array_equal(again.pixels, take.pixels)


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_a_patch_of_another_picture_is_drawn_from(dtype: type) -> None:
    scale = 257 if dtype == np.uint16 else 1
    photo: NDArray[Any] = np.repeat(package_picture("gravel.png")[:200, :240, :1], 3, axis=2).astype(dtype) * scale
    green = np.clip(package_picture("grass.png")[:90, :120].astype(int) * (0.4, 0.9, 0.2), 0, 255).astype(np.uint8)
    hole = np.zeros(photo.shape[:2], bool)
    hole[80:120, 90:140] = True
    (take,) = ExternalSource(green).fill(fill_input(photo, hole))
    after = photo.copy()
    lay(after, whole(after), take)
    assert np.array_equal(after[~hole], photo[~hole])
    inside = after[92:108, 105:125].reshape(-1, 3).astype(float) / scale
    detail = inside - inside.mean(axis=0)
    assert detail[:, 1].std() > 1.5 * detail[:, 2].std(), "its detail is green"
    with pytest.raises(BadRequest, match="copied from another picture"):
        lay_take_again(take, photo)
    with pytest.raises(BadRequest, match="too small"):
        ExternalSource(green[:10])
