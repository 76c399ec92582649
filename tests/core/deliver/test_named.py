"""Names by a pattern, and pictures for the web."""

from datetime import date
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from skimage import data

from keen_sweep.core.deliver.for_web import for_web
from keen_sweep.core.deliver.named import Facts, collisions, file_name
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.photo.display import for_screen
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.profiles import srgb, wide_gamut

ONE = Facts(name="ov-0412", shoot="Orrin Vale", number=7, count=120, size=6_000, day=date(2026, 11, 27))


@pytest.mark.parametrize(
    ("pattern", "wanted"),
    [
        ("{name}-swept", "ov-0412-swept.jpg"),
        ("{shoot}/{date}/{number}_{name}", "Orrin Vale/2026-11-27/007_ov-0412.jpg"),
        ("{name} {size}px", "ov-0412 6000px.jpg"),
        ("a:b*c", "a_b_c.jpg"),
    ],
)
def test_patterns(pattern: str, wanted: str) -> None:
    assert file_name(pattern, ONE, ".jpg") == wanted


@pytest.mark.parametrize("pattern", ["", " ", "../{name}", "/{name}", "{name}/", "...", "{nme}", "a//b", "x" * 300])
def test_patterns_that_make_no_name(pattern: str) -> None:
    with pytest.raises(BadRequest):
        file_name(pattern, ONE, ".jpg")


@given(st.text(max_size=40), st.text(max_size=40))
def test_no_pattern_and_no_name_leave_the_folder(pattern: str, name: str) -> None:
    facts = Facts(name=name or "a", shoot="b/../c", number=1, count=1, size=10, day=ONE.day)
    try:
        made = file_name("{shoot}" + pattern.replace("{", "").replace("}", "") + "{name}", facts, ".png")
    except BadRequest:
        return
    assert not made.startswith("/")
    assert ".." not in made.split("/")
    assert "\0" not in made


def test_names_that_meet() -> None:
    assert collisions(["a.jpg", "b.jpg", "A.jpg", "c.jpg"]) == ["A.jpg", "a.jpg"]
    assert collisions(["a.jpg", "b.jpg"]) == []


def _picture(pixels: NDArray[Any], icc: bytes | None) -> Picture:
    return Picture(pixels=pixels, format="tiff", metadata=Metadata(icc=icc, orientation=1))


def test_for_the_web_is_srgb_of_eight_bits_and_so_long() -> None:
    deep = np.ascontiguousarray(data.coffee()).astype(np.uint16) * 257
    made = for_web(_picture(deep, wide_gamut()), 300, sharpen=False)
    assert made.pixels.dtype == np.uint8
    assert max(made.pixels.shape[:2]) == 300
    assert made.metadata.icc == srgb()
    full = for_web(_picture(deep, wide_gamut()), 10_000, sharpen=True)
    assert full.pixels.shape == deep.shape
    # Against the other way there is from a profile to a screen.
    assert np.abs(full.pixels.astype(int) - for_screen(deep, wide_gamut())).mean() < 1.5


def test_what_is_in_srgb_already_stays_as_it_is() -> None:
    eight = np.ascontiguousarray(data.coffee())
    for icc in (None, srgb()):
        assert np.array_equal(for_web(_picture(eight, icc), 10_000, sharpen=True).pixels, eight)


def test_sharpening_raises_slopes_and_leaves_flat_ground_alone() -> None:
    step = np.full((64, 64, 3), 90, np.uint8)
    step[:, 33:] = (160, 150, 140)
    soft, sharp = (for_web(_picture(step, None), 40, sharpen).pixels.astype(int) for sharpen in (False, True))
    assert np.ptp(sharp[20, 10:30, 1]) > np.ptp(soft[20, 10:30, 1])
    assert np.array_equal(sharp[:, :10], soft[:, :10])
