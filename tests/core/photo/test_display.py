"""What a screen shows of a picture: colours by published formulas, gradients without bands."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import cv2
import imagecodecs
import numpy as np
import pytest
from numpy.typing import NDArray

from keen_sweep.core.arrays import Doubles
from keen_sweep.core.photo.display import (
    DITHER_SIDE_PX,
    Screen,
    _by_library,
    _converted_deep,
    _light,
    display_space,
    for_screen,
)
from keen_sweep.core.photo.png import encode_for_display, read
from keen_sweep.core.photo.profiles import ROMM_POWER, display_p3, srgb, to_xyz, wide_gamut

# From XYZ under D50 to linear sRGB: IEC 61966-2-1 with the Bradford adaptation of ICC.1 (annex E), as published by
# B. Lindbloom (from memory).
TO_SRGB = np.array(
    [
        [3.1338561, -1.6168667, -0.4906146],
        [-0.9787684, 1.9161415, 0.0334540],
        [0.0719453, -0.2289914, 1.4052427],
    ]
)
# The same to linear Display P3: the inverse of the matrix of its primaries under D50, as CSS Color 4 (section 10.3) and
# B. Lindbloom's formula give it (from memory).
TO_P3 = np.linalg.inv(
    np.array(
        [
            [0.5151187, 0.2919778, 0.1571035],
            [0.2411892, 0.6922441, 0.0665668],
            [-0.0010505, 0.0418791, 0.7840713],
        ]
    )
)
TO_SCREEN = {Screen.SRGB: TO_SRGB, Screen.P3: TO_P3}


def shown_by_formula(romm: Doubles, screen: Screen) -> Doubles:
    """8 bit of a screen's colours, not rounded, of ROMM RGB (n, 3) of 0 to 1 by a power of 1.8, which a profile tells
    to 1/256."""
    linear = (romm ** (round(ROMM_POWER * 256) / 256)) @ to_xyz().T @ TO_SCREEN[screen].T
    linear = linear.clip(0, 1)
    return np.asarray(np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055) * 255)


@pytest.mark.parametrize("screen", Screen)
@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_wide_gamut_colours_are_those_of_the_formula(dtype: type[np.uint8 | np.uint16], screen: Screen) -> None:
    """Colours that a screen can show, in ROMM RGB (ISO 22028-2)."""
    top = np.iinfo(dtype).max
    grid = np.stack(np.meshgrid(*[np.linspace(0.25, 0.75, 9)] * 3), axis=-1).reshape(-1, 3)
    linear = (grid**ROMM_POWER) @ to_xyz().T @ TO_SCREEN[screen].T
    inside = ((linear > 0.002) & (linear < 0.998)).all(axis=1)
    assert inside.sum() > 200
    romm = np.rint(grid[inside] * top)
    # Each colour as a square of the size of the pattern, whose mean is what is seen.
    squares: NDArray[Any] = (
        np.repeat(np.repeat(romm[:, None, None], DITHER_SIDE_PX, 1), DITHER_SIDE_PX, 2)
        .reshape(-1, DITHER_SIDE_PX, 3)
        .astype(dtype)
    )
    seen = for_screen(squares, wide_gamut(), screen).reshape(-1, DITHER_SIDE_PX * DITHER_SIDE_PX, 3).mean(axis=1)
    off = np.abs(seen - shown_by_formula(romm / top, screen))
    assert off.max() < (1.1 if dtype is np.uint8 else 0.2)


def test_a_colour_beyond_the_screen_is_shown_as_the_nearest_and_not_as_another() -> None:
    green = np.zeros((DITHER_SIDE_PX, DITHER_SIDE_PX, 3), np.uint16)
    green[..., 1] = 65535
    assert np.array_equal(for_screen(green, wide_gamut())[0, 0], [0, 255, 0])


@pytest.mark.parametrize("icc", [None, wide_gamut()])
def test_a_soft_gradient_of_sixteen_bits_has_no_bands(icc: bytes | None) -> None:
    """Over 1,024 pixels it rises by three steps of the screen: what is seen of it, over a few pixels, rises evenly."""
    rise = np.linspace(30_000, 30_000 + 3 * 257, 1_024)
    picture = np.repeat(np.tile(np.rint(rise).astype(np.uint16), (64, 1))[..., None], 3, axis=2)
    seen = for_screen(picture, icc).astype(float)
    soft = cv2.blur(seen, (32, 32))[32, 32:-32, 1]
    line = np.polyval(np.polyfit(np.arange(len(soft)), soft, 1), np.arange(len(soft)))
    assert np.abs(soft - line).max() < 0.15
    rounded = np.rint(picture[0, :, 1] / 257)
    assert np.abs(cv2.blur(rounded[None], (32, 1))[0, 32:-32] - line).max() > 0.3 or icc, "it has without a pattern"


def test_what_is_a_step_of_the_screen_exactly_is_shown_exactly_and_tiles_fit() -> None:
    levels = np.arange(256, dtype=np.uint16).reshape(16, 16)
    exact = np.repeat((levels * 257)[..., None], 3, axis=2)
    assert np.array_equal(for_screen(exact, None)[..., 0], levels)
    deep = np.random.default_rng(3).integers(0, 65536, (64, 96, 3)).astype(np.uint16)
    whole = for_screen(deep, None)
    assert np.array_equal(whole[32:48, 48:96], for_screen(deep[32:48, 48:96], None))
    assert whole.dtype == np.uint8


def reference(deep: NDArray[np.uint16]) -> Doubles:
    """By the same library in double precision, without a pattern."""
    srgb = imagecodecs.cms_profile("srgb")
    given = deep.astype(np.float64) / 65535
    told = imagecodecs.cms_transform(
        given, wide_gamut(), srgb, colorspace="rgb", outcolorspace="rgb", intent=1, flags=0x2000
    )
    return np.asarray(told, np.float64) * 255


@pytest.mark.parametrize("screen", Screen)
def test_profiles_of_any_kind_are_converted_as_the_library_does(screen: Screen) -> None:
    """Quick where channels add up, and by the library itself where they do not: both show the same."""
    deep = np.random.default_rng(5).integers(0, 65536, (64, 64, 3)).astype(np.uint16)
    quick, slow = _converted_deep(deep, wide_gamut(), screen), _by_library(deep, wide_gamut(), screen)
    assert np.abs(quick.astype(int) - slow).max() <= 40, "a sixth of a step of the screen"
    assert _light(wide_gamut(), screen) is not None


def test_dark_tones_of_wide_gamut_keep_their_steps() -> None:
    """By way of eight bits the darkest tones would come together."""
    ramp = np.repeat(np.tile(np.linspace(0, 2_600, 512).astype(np.uint16), (DITHER_SIDE_PX, 1))[..., None], 3, axis=2)
    seen = cv2.blur(for_screen(ramp, wide_gamut()).astype(float), (DITHER_SIDE_PX, DITHER_SIDE_PX))[8, 16:-16]
    assert np.abs(seen - cv2.blur(reference(ramp), (DITHER_SIDE_PX, DITHER_SIDE_PX))[8, 16:-16]).max() < 0.35


def test_a_screen_of_wider_gamut_shows_what_one_of_srgb_has_to_clip() -> None:
    """A green of Display P3 that sRGB does not have: as it is on the one, the nearest on the other."""
    green = np.zeros((DITHER_SIDE_PX, DITHER_SIDE_PX, 3), np.uint8)
    green[..., 1] = 255
    assert np.array_equal(for_screen(green, display_p3(), Screen.P3), green)
    wide = np.rint(shown_by_formula(np.array([[0.3, 0.6, 0.2]]), Screen.P3))
    assert np.array_equal(
        for_screen(np.full((DITHER_SIDE_PX, DITHER_SIDE_PX, 3), wide, np.uint8), display_p3(), Screen.P3)[0, 0], wide[0]
    )
    assert for_screen(green, display_p3())[0, 0, 1] == 255
    assert for_screen(green, display_p3())[0, 0, 0] == 0


def test_a_picture_of_srgb_is_shown_in_srgb_on_any_screen() -> None:
    """It has nothing that the other could show, and needs no conversion."""
    assert display_space(None, Screen.P3) is display_space(srgb(), Screen.P3) is Screen.SRGB
    assert display_space(b"no profile", Screen.P3) is Screen.SRGB
    assert display_space(display_p3(), Screen.P3) is display_space(wide_gamut(), Screen.P3) is Screen.P3
    assert display_space(wide_gamut(), Screen.SRGB) is Screen.SRGB


def test_what_is_looked_at_says_what_its_colours_are(tmp_path: Path) -> None:
    pixels = np.random.default_rng(1).integers(0, 256, (20, 30, 3)).astype(np.uint8)
    for icc in (None, display_p3()):
        file = tmp_path / "tile.png"
        file.write_bytes(encode_for_display(pixels, icc))
        again = read(file)
        assert np.array_equal(again.pixels, pixels)
        assert again.metadata.icc == icc
