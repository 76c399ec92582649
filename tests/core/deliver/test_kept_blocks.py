"""JPEGs of which only what changed is coded anew, held against Pillow's decoder."""

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from PIL import Image
from PIL.JpegImagePlugin import JpegImageFile
from skimage import data

from keen_sweep.core.deliver.kept_blocks import changed_units, jpeg_with_changes
from keen_sweep.core.deliver.segments import APP1_MARKER, XMP_PREFIX, segments
from keen_sweep.core.errors import BadPicture

# Pillow's names of the samplings, and the units they make, rows and columns.
SAMPLINGS = {"4:4:4": (8, 8), "4:2:2": (8, 16), "4:2:0": (16, 16)}


def _jpeg(path: Path, pixels: NDArray[Any], sampling: str = "4:2:0", **more: object) -> NDArray[Any]:
    Image.fromarray(pixels).save(path, "JPEG", quality=87, subsampling=sampling, **more)
    return _decoded(path.read_bytes())


def _decoded(data: bytes) -> NDArray[Any]:
    with Image.open(io.BytesIO(data)) as image:
        found = np.asarray(image)
    return np.repeat(found[..., None], 3, axis=2) if found.ndim == 2 else found


def _reach(changed: NDArray[Any], unit: tuple[int, int], rim: int) -> NDArray[Any]:
    """The pixels of units that hold a change, and so many round them."""
    units = changed_units(changed, *unit)
    full = np.kron(units, np.ones(unit, bool))[: changed.shape[0], : changed.shape[1]]
    framed = np.pad(full, rim)
    moved = [
        framed[rim + y : rim + y + full.shape[0], rim + x : rim + x + full.shape[1]]
        for y in range(-rim, rim + 1)
        for x in range(-rim, rim + 1)
    ]
    return np.asarray(np.any(moved, axis=0))


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    sampling=st.sampled_from(list(SAMPLINGS)),
    height=st.integers(17, 120),
    width=st.integers(17, 120),
    progressive=st.booleans(),
    place=st.tuples(st.floats(0, 0.9), st.floats(0, 0.9), st.floats(0.05, 0.4)),
)
def test_pixels_of_untouched_blocks_are_the_originals(
    tmp_path: Path, sampling: str, height: int, width: int, progressive: bool, place: tuple[float, float, float]
) -> None:
    file = tmp_path / "one.jpg"
    before = _jpeg(file, data.astronaut()[60 : 60 + height, 120 : 120 + width], sampling, progressive=progressive)
    after = before.copy()
    top, left, size = int(place[0] * height), int(place[1] * width), max(int(place[2] * min(height, width)), 1)
    after[top : top + size, left : left + size] = (30, 140, 90)
    made = _decoded(jpeg_with_changes(file, before, after))
    assert made.shape == before.shape
    changed = (before != after).any(axis=2)
    # A decoder smooths thinned colour across the edge of a block: the pixel next to a touched one may feel it.
    rim = 0 if sampling == "4:4:4" else 1
    far = ~_reach(changed, SAMPLINGS[sampling], rim)
    assert np.array_equal(made[far], before[far])
    # And what changed is there, as well as the original's own tables can say it.
    off, was = (np.abs(each[changed].astype(int) - after[changed]).mean() for each in (made, before))
    assert off < 8 + 0.5 * was


@pytest.mark.parametrize("sampling", SAMPLINGS)
def test_nothing_changed_is_the_same_picture(tmp_path: Path, sampling: str) -> None:
    file = tmp_path / "one.jpg"
    before = _jpeg(file, data.astronaut()[:133, :211], sampling)
    assert np.array_equal(_decoded(jpeg_with_changes(file, before, before)), before)


def test_what_is_coded_is_as_near_as_an_encoder_gets(tmp_path: Path) -> None:
    """All of a picture coded anew, beside libjpeg's own encoder with the same tables."""
    file = tmp_path / "one.jpg"
    before = _jpeg(file, data.astronaut(), "4:2:0")
    after = data.coffee()[:400, :512][: before.shape[0]]
    after = np.pad(after, ((0, before.shape[0] - 400), (0, 0), (0, 0)), mode="edge")
    made = _decoded(jpeg_with_changes(file, before, after))
    buffer = io.BytesIO()
    with Image.open(file) as image:
        assert isinstance(image, JpegImageFile)
        tables = image.quantization
    Image.fromarray(after).save(buffer, "JPEG", qtables=tables, subsampling="4:2:0")
    theirs = _decoded(buffer.getvalue())
    ours_off, theirs_off = (np.square(each.astype(float) - after).mean() for each in (made, theirs))
    assert ours_off <= theirs_off * 1.02


def test_a_grey_one_and_an_odd_one(tmp_path: Path) -> None:
    file = tmp_path / "grey.jpg"
    Image.fromarray(data.camera()[:77, :91]).save(file, quality=80)
    before = _decoded(file.read_bytes())
    after = before.copy()
    after[30:40, 50:60] = 200
    made = _decoded(jpeg_with_changes(file, before, after))
    far = ~_reach((before != after).any(axis=2), (8, 8), 0)
    assert np.array_equal(made[far], before[far])
    assert abs(int(made[35, 55, 0]) - 200) < 12


def test_four_inks_are_refused(tmp_path: Path) -> None:
    file = tmp_path / "inks.jpg"
    Image.fromarray(np.full((32, 32, 4), 90, np.uint8), "CMYK").save(file)
    nothing = np.zeros((32, 32, 3), np.uint8)
    with pytest.raises(BadPicture, match="CMYK"):
        jpeg_with_changes(file, nothing, nothing)


def test_segments_are_the_originals_byte_for_byte_and_xmp_is_replaced(tmp_path: Path) -> None:
    exif = Image.Exif()
    exif[0x010E] = "A garden"
    exif.get_ifd(0x8825)[2] = (51.0, 2.0, 3.5)
    file = tmp_path / "one.jpg"
    more: dict[str, Any] = {
        "exif": exif,
        "icc_profile": b"profile" * 40,
        "xmp": b"<x:xmpmeta xmlns:x='adobe:ns:meta/'/>",
        "comment": b"mine",
    }
    before = _jpeg(file, data.astronaut()[:64, :64], **more)
    after = before.copy()
    after[:8, :8] = 0
    kept = list(segments(jpeg_with_changes(file, before, after)))
    told = list(segments(file.read_bytes()))
    said = [each for each in told if 0xE0 <= each[0] <= 0xEF or each[0] == 0xFE]
    assert len(said) >= 5
    assert [each for each in kept if each in said] == said
    again = list(segments(jpeg_with_changes(file, before, after, b"<new/>")))
    assert (APP1_MARKER, XMP_PREFIX + b"<new/>") in again
    assert sum(body.startswith(XMP_PREFIX) for _, body in again) == 1
    assert [each for each in again if each in said] == [each for each in said if not each[1].startswith(XMP_PREFIX)]


def test_a_damaged_one_is_said_to_be(tmp_path: Path) -> None:
    with pytest.raises(BadPicture, match="damaged"):
        list(segments(b"\xff\xd8\xff\xe0\x00\x10JFIF"))
