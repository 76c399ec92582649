"""Colour profiles that are written along, and conversion by those that came with a file.

A profile of three primaries and a power of tone is laid out as in ICC.1:2001-04 (version 2.4): matrix and curves.
"""

from __future__ import annotations

import struct
from functools import cache

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.arrays import Doubles, Pixels
from keen_sweep.core.errors import BadPicture
from keen_sweep.core.sentences import sentence

# Chromaticities x, y of red, green and blue of ROMM RGB (ISO 22028-2:2013); its white is D50, the white of the
# profile connection space, so nothing is adapted.
ROMM_CHROMATICITIES = ((0.7347, 0.2653), (0.1596, 0.8404), (0.0366, 0.0001))
# Exponent of its tone curve.
ROMM_POWER = 1.8
D50_WHITE = (0.9642, 1.0, 0.8249)
RELATIVE_INTENT = 1
BLACK_POINT_FLAG = 0x2000
CMYK_CONVERSION = sentence("converted from CMYK to sRGB by its profile")
LAB_CONVERSION = sentence("converted from L*a*b* to ROMM RGB")


def to_xyz(primaries: tuple[tuple[float, float], ...] = ROMM_CHROMATICITIES) -> Doubles:
    """Matrix from linear RGB to XYZ under D50.

    Parameters
    ----------
    primaries : tuple of tuple of 2 float, optional
        Chromaticities x, y of red, green and blue, as stated for D50.

    Returns
    -------
    (3, 3) float64
        The matrix; its white is that of the primaries.
    """
    columns = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in primaries]).T
    return np.asarray(columns * np.linalg.solve(columns, np.array(D50_WHITE)), np.float64)


@cache
def wide_gamut() -> bytes:
    """ICC profile of ROMM RGB.

    Returns
    -------
    bytes
        The profile.
    """
    matrix = to_xyz()
    # A curve of one entry is a power, in fixed point of eight bits.
    curve = b"curv" + struct.pack(">IIH", 0, 1, round(ROMM_POWER * 256)) + b"\0\0"
    tags = {
        b"desc": _description("ROMM RGB, power 1.8"),
        b"cprt": b"text" + struct.pack(">I", 0) + b"No copyright, use freely\0",
        b"wtpt": _xyz(D50_WHITE),
        **{name: _xyz(tuple(matrix[:, k])) for k, name in enumerate((b"rXYZ", b"gXYZ", b"bXYZ"))},
        **dict.fromkeys((b"rTRC", b"gTRC", b"bTRC"), curve),
    }
    at, table, bodies = 128 + 4 + 12 * len(tags), b"", b""
    for name, body in tags.items():
        table += name + struct.pack(">II", at + len(bodies), len(body))
        bodies += body + b"\0" * (-len(body) % 4)
    size = at + len(bodies)
    head = struct.pack(">I4sI4s4s4s", size, b"\0" * 4, 0x02400000, b"mntr", b"RGB ", b"XYZ ")
    head += struct.pack(">6H4s", 2026, 1, 1, 0, 0, 0, b"acsp") + b"\0" * 28
    head += b"".join(struct.pack(">i", round(each * 65536)) for each in D50_WHITE)
    return head.ljust(128, b"\0") + struct.pack(">I", len(tags)) + table + bodies


def _xyz(values: tuple[float, ...]) -> bytes:
    return b"XYZ " + struct.pack(">I3i", 0, *(round(each * 65536) for each in values))


def _description(text: str) -> bytes:
    plain = text.encode("ascii") + b"\0"
    return b"desc" + struct.pack(">II", 0, len(plain)) + plain + b"\0" * 78


# Chromaticities of Display P3 as x, y, Y per primary (SMPTE EG 432-1, as CSS Color 4, 10.3, gives them); its tone
# curve is that of sRGB.
P3_CHROMATICITIES = (0.680, 0.320, 1.0, 0.265, 0.690, 1.0, 0.150, 0.060, 1.0)
D65_WHITE = (0.3127, 0.3290, 1.0)


@cache
def display_p3() -> bytes:
    """ICC profile of Display P3.

    Returns
    -------
    bytes
        The profile.
    """
    tone = np.arange(1024) / 1023
    linear = np.where(tone <= 0.04045, tone / 12.92, ((tone + 0.055) / 1.055) ** 2.4)
    steps = np.rint(linear * 65535).astype(np.uint16)
    return bytes(
        imagecodecs.cms_profile("rgb", whitepoint=D65_WHITE, primaries=P3_CHROMATICITIES, transferfunction=steps)
    )


@cache
def srgb() -> bytes:
    """ICC profile of sRGB (IEC 61966-2-1).

    Returns
    -------
    bytes
        The profile.
    """
    return bytes(imagecodecs.cms_profile("srgb"))


def cmyk_to_srgb(stored: Pixels, profile: bytes | None) -> Pixels:
    """Convert CMYK to sRGB of the same depth, relative colorimetric with black point compensation.

    Parameters
    ----------
    stored : (H, W, 4) uint8 or uint16
        Ink amounts; 0 is no ink.
    profile : bytes or None
        ICC profile, which alone says what the inks look like.

    Returns
    -------
    (H, W, 3) of the same dtype
        sRGB.

    Raises
    ------
    BadPicture
        The profile is missing or not for four inks.
    """
    if not profile:
        raise BadPicture(sentence("This picture is CMYK without a colour profile: convert it to RGB first."))
    try:
        made = imagecodecs.cms_transform(
            np.ascontiguousarray(stored),
            profile,
            srgb(),
            colorspace="cmyk",
            outcolorspace="rgb",
            outdtype=stored.dtype,
            intent=RELATIVE_INTENT,
            flags=BLACK_POINT_FLAG,
        )
    except (imagecodecs.CmsError, ValueError, TypeError) as error:
        raise BadPicture(
            sentence("The colour profile of this picture is not a CMYK profile, or is damaged.")
        ) from error
    return np.asarray(made)


def lab_to_romm(stored: Pixels) -> NDArray[np.uint16]:
    """Convert L*a*b* as stored in TIFF 6.0 (section 23: a*, b* signed) to ROMM RGB.

    Parameters
    ----------
    stored : (H, W, 3) uint8 or uint16
        L*, a*, b*.

    Returns
    -------
    (H, W, 3) uint16
        ROMM RGB.
    """
    deep = stored.dtype.itemsize == 2
    light = stored[..., 0].astype(np.float64) * (100 / (65535 if deep else 255))
    signed = stored[..., 1:].astype(np.int16 if deep else np.int8).astype(np.float64) / (256 if deep else 1)
    y = (light + 16) / 116
    f = np.stack([y + signed[..., 0] / 500, y, y - signed[..., 1] / 200], axis=-1)
    # CIE 15:2004, the inverse of L*a*b*.
    xyz = np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29)) * D50_WHITE
    linear = np.clip(xyz @ np.linalg.inv(to_xyz()).T, 0, 1)
    return np.rint(linear ** (1 / ROMM_POWER) * 65535).astype(np.uint16)
