"""The stack and render: property tests."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from keen_sweep.core.box import Box
from keen_sweep.core.errors import LibraryTrouble, NotFound
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import PartReport, Patch, lay, patch_from_bytes, patch_to_bytes
from keen_sweep.core.photo.pyramid import Pyramid, halve
from keen_sweep.document.render import render
from keen_sweep.document.shelf import InMemory
from keen_sweep.document.stack import Stack, Sweep

SIZE = (97, 131)
dtypes = st.sampled_from([np.uint8, np.uint16])


def picture(dtype: type) -> NDArray[Any]:
    return np.random.default_rng(1).integers(0, np.iinfo(dtype).max, (*SIZE, 3), dtype=dtype, endpoint=True)


@st.composite
def patches(draw: st.DrawFn) -> tuple[int, int, int, int, int]:
    x, y = draw(st.integers(0, SIZE[1] - 2)), draw(st.integers(0, SIZE[0] - 2))
    width, height = draw(st.integers(1, SIZE[1] - x)), draw(st.integers(1, SIZE[0] - y))
    return x, y, width, height, draw(st.integers(0, 9999))


def patch(spec: tuple[int, int, int, int, int], dtype: type) -> Patch:
    x, y, width, height, seed = spec
    random = np.random.default_rng(seed)
    alpha = random.choice(np.array([0, 0, 90, 255], np.uint8), (height, width))
    pixels: NDArray[Any] = random.integers(0, np.iinfo(dtype).max, (height, width, 3), dtype=dtype, endpoint=True)
    return Patch(
        box=Box(x=x, y=y, width=width, height=height), pixels=pixels, alpha=alpha, method=MadeBy.WEAVE, seed=seed
    )


def stack_of(made: list[Patch]) -> tuple[Stack, dict[str, Patch]]:
    layers = tuple(Sweep(id=str(i), name=str(i), pick=f"p{i}") for i in range(len(made)))
    return Stack(layers=layers), {f"p{i}": each for i, each in enumerate(made)}


@given(st.lists(patches(), max_size=4), dtypes, st.integers(0, 4), patches())
def test_every_window_of_every_level_is_cut_from_the_halved_whole(
    specs: list[Any], dtype: type, level: int, window: tuple[Any, ...]
) -> None:
    stack, store = stack_of([patch(spec, dtype) for spec in specs])
    pyramid = Pyramid.of(picture(dtype))
    whole = render(pyramid, stack, InMemory(store))
    for _ in range(level):
        whole = halve(whole)
    x, y, width, height, _ = window
    box = Box(x=x >> level, y=y >> level, width=width, height=height)
    shown = render(pyramid, stack, InMemory(store), box, level)
    assert np.array_equal(shown, whole[y >> level :, x >> level :][:height, :width])


@given(st.lists(patches(), min_size=1, max_size=4), dtypes)
def test_where_no_alpha_lies_nothing_changes_and_full_alpha_is_exact(specs: list[Any], dtype: type) -> None:
    made = [patch(spec, dtype) for spec in specs]
    stack, store = stack_of(made)
    before = picture(dtype)
    after = render(Pyramid([before]), stack, InMemory(store))
    touched = np.zeros(SIZE, bool)
    for each in made:
        touched[each.box.slices] |= each.alpha > 0
    assert np.array_equal(after[~touched], before[~touched])
    top = made[-1]
    solid = top.alpha == 255
    assert np.array_equal(after[top.box.slices][solid], top.pixels[solid])


@given(patches(), dtypes)
def test_half_alpha_mixes_to_the_nearest_step(spec: tuple[Any, ...], dtype: type) -> None:
    each = patch(spec, dtype)
    before = picture(dtype)
    after = before.copy()
    lay(after, Box(x=0, y=0, width=SIZE[1], height=SIZE[0]), each)
    a = each.alpha[..., None] / 255
    expected = a * each.pixels + (1 - a) * before[each.box.slices]
    assert np.abs(after[each.box.slices] - expected).max() <= 0.502


@given(patches(), dtypes)
def test_a_patch_survives_as_bytes_and_the_bytes_are_stable(spec: tuple[Any, ...], dtype: type) -> None:
    each = patch(spec, dtype)
    report = PartReport(method=MadeBy.WEAVE, why="because", box=each.box, area=3)
    full = Patch(**{**vars(each), "offsets": np.full((*each.alpha.shape, 2), -7, np.int32), "parts": (report,)})
    data = patch_to_bytes(full)
    back = patch_from_bytes(data)
    assert patch_to_bytes(back) == data
    assert np.array_equal(back.pixels, each.pixels)
    assert back.parts == (report,)
    assert patch_from_bytes(data, with_offsets=False).offsets is None


def test_damaged_takes_are_named() -> None:
    with pytest.raises(LibraryTrouble, match="damaged"):
        patch_from_bytes(b"PK nothing")


def test_hidden_and_unpicked_sweeps_do_not_show() -> None:
    each = patch((3, 4, 60, 50, 1), np.uint8)
    stack, store = stack_of([each])
    before = picture(np.uint8)
    for other in (stack.changed("0", shown=False), stack.changed("0", pick=None), stack.without("0")):
        assert np.array_equal(render(Pyramid([before]), other, InMemory(store)), before)


def test_below_and_the_order_of_layers() -> None:
    stack = Stack(layers=tuple(Sweep(id=i, name=i) for i in "abc"))
    assert [s.id for s in stack.below("c").layers] == ["a", "b"]
    assert [s.name for s in stack.changed("b", name="B").sweeps] == ["a", "B", "c"]
    for wrong in (lambda: stack.sweep("x"), lambda: stack.without("x"), lambda: stack.below("x")):
        with pytest.raises(NotFound):
            wrong()


def test_the_document_reads_back_and_cannot_be_changed() -> None:
    stack = Stack(layers=(Sweep(id="a", name="a"),))
    assert Stack.model_validate_json(stack.model_dump_json()) == stack
    with pytest.raises(ValueError, match="frozen"):
        stack.sweeps[0].name = "b"  # type: ignore[misc]


def test_a_saved_pyramid_is_the_same(tmp_path: Path) -> None:
    made = Pyramid.of(picture(np.uint16))
    made.save(tmp_path)
    opened = Pyramid.open(tmp_path)
    assert opened is not None
    assert all(np.array_equal(a, b) for a, b in zip(made.levels, opened.levels, strict=True))
    (tmp_path / "level-1.npy").unlink()
    assert Pyramid.open(tmp_path) is None


def test_halving_is_the_rounded_mean_of_two_by_two() -> None:
    pixels = picture(np.uint16)[:96, :130]
    blocks = pixels.reshape(48, 2, 65, 2, 3).astype(float).mean(axis=(1, 3))
    assert np.array_equal(halve(pixels), np.floor(blocks + 0.5).astype(np.uint16))
