"""What every local engine promises: bits outside the mask, seeds, guards, sources, words."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage.draw import ellipse

from keen_sweep.core.box import whole
from keen_sweep.core.errors import BadMask, Cancelled
from keen_sweep.core.fill.engine import FillInput, Sources
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.patch import Patch, lay, patch_to_bytes
from keen_sweep.core.fill.route import route
from keen_sweep.core.mask.parts import parts_of

pytestmark = pytest.mark.scenes

METHODS = ("auto", "close", "weave")


def crop(photograph: NDArray[Any], dtype: type = np.uint8) -> NDArray[Any]:
    """A roof, a wall and trees, 150 x 200."""
    pixels = photograph[150:300, 200:400]
    return (pixels.astype(np.uint16) * 257).astype(dtype) if dtype == np.uint16 else pixels.copy()


def mask_at(shape: tuple[int, ...], row: int, column: int, tall: int, wide: int) -> NDArray[Any]:
    mask = np.zeros(shape[:2], np.uint8)
    mask[ellipse(row, column, tall, wide, shape=mask.shape)] = 255
    return mask


def laid(fill_input: FillInput, patch: Patch) -> NDArray[Any]:
    out = fill_input.below.copy()
    lay(out, whole(out), patch)
    return out


@settings(max_examples=12)
@given(
    st.sampled_from(METHODS),
    st.sampled_from([np.uint8, np.uint16]),
    st.tuples(st.integers(0, 149), st.integers(0, 199), st.integers(2, 22), st.integers(2, 30)),
    st.integers(0, 9),
)
def test_outside_the_mask_every_pixel_stays_to_the_bit(
    photograph: NDArray[Any], method: Method, dtype: type, area: tuple[int, int, int, int], seed: int
) -> None:
    below = crop(photograph, dtype)
    mask = mask_at(below.shape, *area)
    fill_input = FillInput(below=below, mask=mask, seed=seed, takes=1)
    (patch,) = engine_for(method).fill(fill_input)
    after = laid(fill_input, patch)
    assert after.dtype == dtype
    assert np.array_equal(after[mask == 0], below[mask == 0])
    assert not patch.alpha[mask[patch.box.slices] == 0].any()
    if patch.offsets is not None:
        rows, columns = np.nonzero(patch.offsets.any(axis=2))
        dx, dy = patch.offsets[rows, columns].T
        y, x = rows + patch.box.y + dy, columns + patch.box.x + dx
        assert ((y >= 0) & (y < mask.shape[0]) & (x >= 0) & (x < mask.shape[1])).all()
        assert not mask[y, x].any()  # copied from outside the hole only


@pytest.mark.parametrize("method", METHODS)
def test_the_same_seed_gives_the_same_bits_and_others_other_takes(
    photograph: NDArray[Any], method: Method, monkeypatch: pytest.MonkeyPatch
) -> None:
    below = crop(photograph)
    fill_input = FillInput(below=below, mask=mask_at(below.shape, 80, 100, 14, 18), seed=5, takes=3)
    first = [patch_to_bytes(patch) for patch in engine_for(method).fill(fill_input)]
    again = [patch_to_bytes(patch) for patch in engine_for(method).fill(fill_input)]
    assert first == again
    assert len(set(first)) == 3
    monkeypatch.setattr("os.cpu_count", lambda: 1)
    one_core = [patch_to_bytes(patch) for patch in engine_for(method).fill(fill_input)]
    assert one_core == first
    shown = [laid(fill_input, patch) for patch in engine_for(method).fill(fill_input)]
    assert all(not np.array_equal(shown[i], shown[j]) for i, j in ((0, 1), (0, 2), (1, 2)))


@pytest.mark.parametrize("method", METHODS)
def test_guarded_pixels_never_change(photograph: NDArray[Any], method: Method) -> None:
    below = crop(photograph)
    guard = np.zeros(below.shape[:2], bool)
    guard[:, 100:] = True
    fill_input = FillInput(below=below, mask=mask_at(below.shape, 80, 100, 14, 18), guard=guard, takes=1)
    (patch,) = engine_for(method).fill(fill_input)
    after = laid(fill_input, patch)
    assert np.array_equal(after[guard], below[guard])
    assert not np.array_equal(after[:, :100], below[:, :100])
    with pytest.raises(BadMask, match="inside the guard"):
        list(engine_for(method).fill(replace(fill_input, guard=np.ones_like(guard))))


def test_weave_draws_from_nothing_that_is_barred(photograph: NDArray[Any]) -> None:
    below = crop(photograph)
    barred = np.zeros(below.shape[:2], bool)
    barred[:, :90] = True
    mask = mask_at(below.shape, 70, 120, 12, 12)
    (patch,) = engine_for(Method.WEAVE).fill(FillInput(below=below, mask=mask, sources=Sources(barred=barred), takes=1))
    assert patch.offsets is not None
    rows, columns = np.nonzero(patch.offsets.any(axis=2))
    y = rows + patch.box.y + patch.offsets[rows, columns, 1]
    x = columns + patch.box.x + patch.offsets[rows, columns, 0]
    assert not barred[y, x].any()


def test_a_repeated_tile_is_woven_without_a_trace(photograph: NDArray[Any]) -> None:
    """What repeats exactly can be restored exactly, up to the rounding of the seam."""
    below = np.ascontiguousarray(np.tile(photograph[200:232, 300:332], (5, 6, 1)))
    mask = mask_at(below.shape, 80, 96, 20, 24)
    fill_input = FillInput(below=below, mask=mask, takes=1)
    (patch,) = engine_for(Method.WEAVE).fill(fill_input)
    wrong = np.abs(laid(fill_input, patch).astype(int) - below).max(axis=2)[mask > 0]
    assert np.mean(wrong <= 2) > 0.9


def test_close_carries_a_slope_across_and_puts_the_grain_back() -> None:
    random = np.random.default_rng(3)
    y, x = np.mgrid[:120, :160].astype(float)
    ramp = 60 + 0.5 * x + 0.3 * y
    below = np.clip(np.rint(ramp[..., None] + random.normal(0, 3, (120, 160, 3))), 0, 255).astype(np.uint8)
    mask = mask_at(below.shape, 60, 80, 30, 6)
    fill_input = FillInput(below=below, mask=mask, takes=1)
    (patch,) = engine_for(Method.CLOSE).fill(fill_input)
    after = laid(fill_input, patch)[mask > 0].astype(float)
    wanted = ramp[mask > 0]
    assert abs((after.mean(axis=1) - wanted).mean()) < 0.7
    grain = (after - wanted[:, None]).std()
    assert 2.0 < grain < 4.0


def test_auto_closes_the_narrow_and_calm_and_weaves_the_rest_and_says_why(photograph: NDArray[Any]) -> None:
    below = photograph.copy()  # sky on top, a building below
    mask = np.zeros(below.shape[:2], np.uint8)
    mask[20:23, 380:620] = 255
    mask |= mask_at(below.shape, 260, 320, 40, 25)
    (patch,) = engine_for(Method.AUTO).fill(FillInput(below=below, mask=mask, takes=1))
    wire, person = patch.parts
    assert (wire.method, person.method) == ("close", "weave")
    assert "calm" in wire.why
    assert "px across" in person.why
    assert wire.area == 3 * 240


@pytest.mark.parametrize("wrong", ["size", "empty", "all"])
def test_masks_that_make_no_sense_are_refused(photograph: NDArray[Any], wrong: str) -> None:
    below = crop(photograph)
    mask = np.zeros(below.shape[:2], np.uint8)
    if wrong == "size":
        mask = np.full((10, 10), 255, np.uint8)
    elif wrong == "all":
        mask[:] = 255
    with pytest.raises(BadMask):
        list(engine_for(Method.AUTO).fill(FillInput(below=below, mask=mask)))


def test_progress_grows_to_the_end_and_a_callback_can_stop_it(photograph: NDArray[Any]) -> None:
    below = crop(photograph)
    fill_input = FillInput(below=below, mask=mask_at(below.shape, 80, 100, 30, 40), takes=2)
    told: list[float] = []
    list(engine_for(Method.WEAVE).fill(replace(fill_input, progress=lambda share, _: told.append(share))))
    assert told == sorted(told)
    assert 0 <= told[0] <= told[-1] <= 1

    def stop(share: float, _: str) -> None:
        raise Cancelled("enough")

    with pytest.raises(Cancelled):
        list(engine_for(Method.WEAVE).fill(replace(fill_input, progress=stop)))


def test_a_soft_mask_mixes_fill_and_picture(photograph: NDArray[Any]) -> None:
    below = crop(photograph)
    mask = mask_at(below.shape, 80, 100, 14, 18)
    mask[mask > 0] = 128
    fill_input = FillInput(below=below, mask=mask, takes=1)
    (patch,) = engine_for(Method.WEAVE).fill(fill_input)
    half = (128 * patch.pixels.astype(int) + 127 * below[patch.box.slices].astype(int)) / 255
    inside = mask[patch.box.slices] > 0
    assert np.abs(laid(fill_input, patch)[patch.box.slices][inside] - half[inside]).max() <= 0.51


def sources_of(patch: Patch) -> NDArray[Any]:
    """(n, 2) rows and columns that a patch's woven pixels were copied from."""
    assert patch.offsets is not None
    rows, columns = np.nonzero(patch.offsets.any(axis=2))
    dx, dy = patch.offsets[rows, columns].T
    return np.stack([rows + patch.box.y + dy, columns + patch.box.x + dx], 1)


def test_draw_from_and_never_from_are_obeyed(photograph: NDArray[Any]) -> None:
    below = crop(photograph)
    mask = mask_at(below.shape, 70, 60, 14, 18)
    right = np.zeros(mask.shape, bool)
    right[:, 120:] = True
    (only,) = engine_for(Method.WEAVE).fill(
        FillInput(below=below, mask=mask, takes=1, sources=Sources(draw_from=right))
    )
    assert (sources_of(only)[:, 1] >= 120).all()
    (never,) = engine_for(Method.WEAVE).fill(FillInput(below=below, mask=mask, takes=1, sources=Sources(barred=right)))
    assert (sources_of(never)[:, 1] < 120).all()
    nowhere = np.zeros(mask.shape, bool)
    nowhere[:3, :3] = True
    with pytest.raises(BadMask, match="too little"):
        list(
            engine_for(Method.WEAVE).fill(
                FillInput(below=below, mask=mask, takes=1, sources=Sources(draw_from=nowhere))
            )
        )


def test_stages_fill_a_long_hole_from_true_picture_only(
    photograph: NDArray[Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    for module in ("plan", "stages"):
        monkeypatch.setattr(f"keen_sweep.core.fill.local.{module}.STAGE_LENGTH_PX", 30)
    below = crop(photograph)
    mask = mask_at(below.shape, 75, 100, 12, 70)
    fill_input = FillInput(below=below, mask=mask, takes=2, staged=True)
    first, second = engine_for(Method.WEAVE).fill(fill_input)
    assert first.provenance.staged is True
    for patch in (first, second):
        assert patch.offsets is not None
        assert np.array_equal(patch.offsets.any(axis=2), patch.alpha > 0)
        rows, columns = sources_of(patch).T
        assert not mask[rows, columns].any()
        assert np.array_equal(laid(fill_input, patch)[mask == 0], below[mask == 0])
    assert not np.array_equal(first.pixels, second.pixels)
    again = next(iter(engine_for(Method.WEAVE).fill(fill_input)))
    assert patch_to_bytes(again) == patch_to_bytes(first)


def test_a_fast_fill_is_a_fill(photograph: NDArray[Any]) -> None:
    below = crop(photograph)
    fill_input = FillInput(below=below, mask=mask_at(below.shape, 75, 100, 24, 30), takes=1, quality=Quality.FAST)
    (patch,) = engine_for(Method.WEAVE).fill(fill_input)
    assert np.array_equal(laid(fill_input, patch)[fill_input.mask == 0], below[fill_input.mask == 0])
    assert not fill_input.mask[tuple(sources_of(patch).T)].any()


def test_a_wide_wire_on_calm_ground_is_woven_where_it_crosses_texture(gravel: NDArray[Any]) -> None:
    """For nine tenths of its length calm, and as a whole judged so: yet not everywhere."""
    photo = np.full((200, 900, 3), 150, np.uint8)
    photo[:, 400:470] = gravel[:200, :70]
    mask = np.zeros(photo.shape[:2], np.uint8)
    mask[90:110, 20:880] = 255
    (part,) = parts_of(mask)
    routed = route(photo, part, mask == 0, Method.AUTO)
    assert routed.way == "close + weave"
    woven = np.zeros(mask.shape, bool)
    for bit in routed.weave:
        woven[bit.box.slices] |= bit.inside
    assert woven[100, 410:460].all(), "the crossing"
    assert woven[100].sum() < 260, "and not much else"
    all_gravel = np.ascontiguousarray(np.tile(gravel[:200, :450], (1, 2, 1)))
    assert route(all_gravel, part, mask == 0, Method.AUTO).way == "weave"


def test_the_first_take_can_be_had_before_the_others_are_compared(photograph: NDArray[Any]) -> None:
    below = crop(photograph)
    told: list[tuple[float, str]] = []
    fill_input = FillInput(
        below=below,
        mask=mask_at(below.shape, 80, 100, 14, 18),
        seed=5,
        takes=3,
        first_at_once=True,
        progress=lambda share, doing: told.append((share, doing)),
    )
    engine = engine_for(Method.WEAVE)
    takes = engine.fill(fill_input)
    first = next(takes)
    assert all(doing.startswith(("analysing", "trying")) for _, doing in told), "nothing else was finished"
    others = list(takes)
    assert [each.seed for each in (first, *others)] == [5, 6, 7]
    for one, other in ((first, others[0]), (first, others[1]), (others[0], others[1])):
        assert not np.array_equal(one.pixels, other.pixels)
    again = list(engine.fill(fill_input))
    for one, other in zip([first, *others], again, strict=True):
        assert np.array_equal(one.pixels, other.pixels)
