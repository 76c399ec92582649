"""From the numbers of the file to what a screen shows: 8 bit of sRGB, or of Display P3 where the screen has it."""

from __future__ import annotations

import io
from enum import StrEnum
from functools import lru_cache

import imagecodecs
import numba
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from keen_sweep.core.arrays import Doubles, EightBit, Floats, Pixels
from keen_sweep.core.photo.profiles import BLACK_POINT_FLAG, RELATIVE_INTENT, display_p3, srgb

# 16-bit steps to one 8-bit step.
LEVEL_STEP = 257
MAX_VALUE = 65535
# Makes the library compute every colour (cmsFLAGS_NOOPTIMIZE of lcms2.h).
NO_OPTIMISATION = 0x100
# Channels are additive where no colour is off by more than this, in linear light.
MAX_ADDITIVITY_ERROR = 1e-3


class Screen(StrEnum):
    """The colour space of a screen. Both have the same tone curve."""

    SRGB = "srgb"
    P3 = "p3"

    @property
    def profile(self) -> bytes:
        return srgb() if self is Screen.SRGB else display_p3()


def _ordered(order: int) -> NDArray[np.int64]:
    """A square of thresholds, 0 to 4**order - 1 (Bayer 1973)."""
    square = np.zeros((1, 1), np.int64)
    for _ in range(order):
        square = np.block([[4 * square, 4 * square + 2], [4 * square + 3, 4 * square + 1]])
    return square


# Side of the dither pattern, pixels; tiles begin at multiples of it.
DITHER_SIDE_PX = 16
# Added before the value is truncated: less than one 8-bit step, so that exact values stay exact.
DITHER_THRESHOLDS = (_ordered(4) * 2 + 1) * LEVEL_STEP // (2 * DITHER_SIDE_PX * DITHER_SIDE_PX)


@lru_cache(maxsize=16)
def _transform(icc: bytes, screen: Screen) -> ImageCms.ImageCmsTransform | None:
    """None for a profile that is the screen's own, and for one that is not of RGB or damaged."""
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        if profile.profile.xcolor_space.strip() != "RGB":
            return None
        transform = ImageCms.buildTransform(
            profile,
            ImageCms.ImageCmsProfile(io.BytesIO(screen.profile)),
            "RGB",
            "RGB",
            ImageCms.Intent.RELATIVE_COLORIMETRIC,
            ImageCms.Flags.BLACKPOINTCOMPENSATION,
        )
        # A picture that is in sRGB already, as most are, need not be converted for every look.
        grid = np.stack(np.meshgrid(*[np.arange(0, 256, 5, dtype=np.uint8)] * 3), axis=-1).reshape(52, -1, 3)
        return None if np.array_equal(_converted(grid, transform), grid) else transform
    except (ImageCms.PyCMSError, OSError):  # a damaged profile is kept in the file but not believed
        return None


def display_space(icc: bytes | None, screen: Screen) -> Screen:
    """Colour space in which a picture is displayed.

    Parameters
    ----------
    icc : bytes or None
        The picture's ICC profile.
    screen : Screen
        Colour space of the screen.

    Returns
    -------
    Screen
        The screen's; sRGB for a picture in sRGB or without a profile.
    """
    return screen if icc and _transform(icc, Screen.SRGB) is not None else Screen.SRGB


def for_screen(pixels: Pixels, icc: bytes | None, screen: Screen = Screen.SRGB) -> EightBit:
    """Convert pixels from their profile to a screen, relative colorimetric with black point compensation.

    16 bit are converted as 16 bit and dithered (ordered), so that a soft gradient has no bands.

    Parameters
    ----------
    pixels : (H, W, 3) uint8 or uint16
        The pixels.
    icc : bytes or None
        Their ICC profile.
    screen : Screen, optional
        Colour space of the screen.

    Returns
    -------
    (H, W, 3) uint8
        The pixels in the space given by `display_space`.
    """
    screen = display_space(icc, screen)
    transform = _transform(icc, screen) if icc else None
    if pixels.dtype == np.uint8:
        return pixels if transform is None else _converted(pixels, transform)
    return _dithered(pixels if transform is None or icc is None else _converted_deep(pixels, icc, screen))


def _converted(eight: EightBit, transform: ImageCms.ImageCmsTransform) -> EightBit:
    shown = ImageCms.applyTransform(Image.fromarray(np.ascontiguousarray(eight)), transform)
    assert shown is not None
    return np.asarray(shown)


def _converted_deep(pixels: Pixels, icc: bytes, screen: Screen) -> Pixels:
    """uint16 (H, W, 3) in a profile -> uint16 in a screen's colours."""
    light = _light(icc, screen)
    if light is None:
        return _by_library(pixels, icc, screen)
    out = np.empty(pixels.shape, np.uint16)
    _encoded(pixels, light, out)
    return out


def _by_library(pixels: Pixels, icc: bytes, screen: Screen) -> Pixels:
    """The same for profiles of any kind; it takes many times as long. Without a table made beforehand, in which dark
    tones come out a step and more wrong."""
    shown = imagecodecs.cms_transform(
        np.ascontiguousarray(pixels), icc, screen.profile, colorspace="rgb", outcolorspace="rgb",
        outdtype=np.uint16, intent=RELATIVE_INTENT, flags=BLACK_POINT_FLAG | NO_OPTIMISATION,
    )  # fmt: skip
    return np.asarray(shown)


@lru_cache(maxsize=4)
def _light(icc: bytes, screen: Screen) -> Floats | None:
    """How much linear light of the screen's primaries each step of each channel of a profile is, (3, 65536, 3); None
    where channels do not add up, as they do in profiles of three primaries and a curve."""
    ends = np.eye(3)[:, None]
    to_linear = np.linalg.inv(_xyz_of(ends, screen.profile).reshape(3, 3))
    ramps = np.zeros((3, MAX_VALUE + 1, 3))
    for channel in range(3):
        ramps[channel, :, channel] = np.arange(MAX_VALUE + 1) / MAX_VALUE
    light = (_xyz_of(ramps, icc) @ to_linear).astype(np.float32)
    some = np.random.default_rng(0).integers(0, MAX_VALUE + 1, (64, 1, 3))
    summed = sum(light[channel, some[..., channel]] for channel in range(3))
    xyz = _xyz_of(some / MAX_VALUE, icc) @ to_linear
    return light if np.abs(summed - xyz).max() < MAX_ADDITIVITY_ERROR else None


def _xyz_of(colours: Doubles, icc: bytes) -> Doubles:
    """Colours (h, w, 3) of 0 to 1 in a profile as XYZ under D50."""
    xyz = imagecodecs.cms_transform(
        np.ascontiguousarray(colours), icc, imagecodecs.cms_profile("xyz"), colorspace="rgb", outcolorspace="xyz",
        intent=RELATIVE_INTENT, flags=NO_OPTIMISATION,
    )  # fmt: skip
    return np.asarray(xyz, np.float64)


@numba.njit(cache=True, nogil=True)
def _encoded(pixels: Pixels, light: Floats, out: NDArray[np.uint16]) -> None:
    """Light of three channels together, as sRGB and Display P3 encode it (IEC 61966-2-1)."""
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            for c in range(3):
                linear = light[0, pixels[y, x, 0], c] + light[1, pixels[y, x, 1], c] + light[2, pixels[y, x, 2], c]
                linear = min(max(linear, np.float32(0)), np.float32(1))
                if linear <= np.float32(0.0031308):
                    value = np.float32(12.92) * linear
                else:
                    value = np.float32(1.055) * linear ** np.float32(1 / 2.4) - np.float32(0.055)
                out[y, x, c] = np.uint16(value * np.float32(65535) + np.float32(0.5))


def _dithered(pixels: Pixels) -> EightBit:
    height, width = pixels.shape[:2]
    tiled = np.tile(DITHER_THRESHOLDS, (-(-height // DITHER_SIDE_PX), -(-width // DITHER_SIDE_PX)))[
        :height, :width, None
    ]
    return ((pixels.astype(np.uint32) + tiled.astype(np.uint32)) // LEVEL_STEP).astype(np.uint8)
