"""Reading and writing against Pillow and tifffile."""

import io
import struct
import zlib
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
import tifffile
from numpy.typing import NDArray
from PIL import Image, ImageCms

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.orientation import as_stored, upright
from keen_sweep.core.photo.picture import Written
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.write import encode_picture

ICC = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
XMP = b'<?xpacket begin="" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/"/><?xpacket end="w"?>'


def exif_block(orientation: int) -> bytes:
    block = Image.Exif()
    block[274] = orientation
    block[271] = "Orrin Optics"
    block[33432] = "garden guide"
    block.get_ifd(34665)[33434] = 0.004
    block.get_ifd(34665)[36867] = "2026:05:01 09:30:00"
    return block.tobytes()


def colours(dtype: type, shape: tuple[int, ...] = (37, 53, 3)) -> NDArray[Any]:
    return np.random.default_rng(4).integers(0, np.iinfo(dtype).max, shape, dtype=dtype, endpoint=True)


@pytest.mark.parametrize("orientation", range(1, 9))
def test_orientation_agrees_with_pillow_and_goes_back(tmp_path: Path, orientation: int) -> None:
    from PIL import ImageOps

    stored = colours(np.uint8)
    file = tmp_path / "a.png"
    Image.fromarray(stored).save(file, exif=exif_block(orientation))
    picture = read_picture(file)
    assert np.array_equal(picture.pixels, np.asarray(ImageOps.exif_transpose(Image.open(file))))
    assert np.array_equal(as_stored(upright(stored, orientation), orientation), stored)
    for kind in ("png", "tiff"):
        data = encode_picture(picture, kind)
        assert Image.open(io.BytesIO(data)).getexif().get(274, 1) == orientation
        # Pillow turns a TIFF upright as it loads it; these two leave the pixels as they are stored.
        kept = imagecodecs.png_decode(data) if kind == "png" else tifffile.imread(io.BytesIO(data))
        assert np.array_equal(kept, stored)


@pytest.mark.parametrize("kind", ["png", "tiff"])
@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("channels", [0, 2, 3, 4])
def test_lossless_formats_keep_every_bit(tmp_path: Path, kind: str, dtype: type, channels: int) -> None:
    pixels = colours(dtype, (37, 53) if channels == 0 else (37, 53, channels))
    file = tmp_path / f"a.{kind}"
    if kind == "png":
        file.write_bytes(imagecodecs.png_encode(pixels))
    else:
        extra = ["unassalpha"] if channels in (2, 4) else None
        tifffile.imwrite(file, pixels, photometric="rgb" if channels > 2 else "minisblack", extrasamples=extra)
    picture = read_picture(file)
    assert picture.depth == 8 * dtype().itemsize
    for out in ("png", "tiff"):
        data = encode_picture(picture, out)
        back = imagecodecs.png_decode(data) if out == "png" else tifffile.imread(io.BytesIO(data))
        assert back.dtype == dtype
        assert np.array_equal(back, pixels)


@pytest.mark.parametrize("source", ["jpeg", "png", "tiff"])
@pytest.mark.parametrize("target", ["jpeg", "png", "tiff"])
def test_profile_exif_xmp_and_resolution_travel(tmp_path: Path, source: Written, target: Written) -> None:
    file = tmp_path / "a"
    Image.fromarray(colours(np.uint8)).save(tmp_path / "first.png", icc_profile=ICC, exif=exif_block(6), dpi=(300, 300))
    first = read_picture(tmp_path / "first.png")
    from dataclasses import replace

    first = replace(first, metadata=replace(first.metadata, xmp=XMP))
    file.write_bytes(encode_picture(first, source))
    (tmp_path / "b").write_bytes(encode_picture(read_picture(file), target))
    with Image.open(tmp_path / "b") as image:
        assert image.format == {"jpeg": "JPEG", "png": "PNG", "tiff": "TIFF"}[target]
        assert image.info["icc_profile"] == ICC
        exif = image.getexif()
        assert exif[274] == 6
        assert exif[271] == "Orrin Optics"
        assert float(exif.get_ifd(34665)[33434]) == pytest.approx(0.004)
        assert exif.get_ifd(34665)[36867] == "2026:05:01 09:30:00"
        assert image.info["dpi"][0] == pytest.approx(300, abs=0.1)
    assert read_picture(tmp_path / "b").metadata.xmp == XMP


def test_planar_and_packed_tiffs_are_read_like_tifffile(tmp_path: Path) -> None:
    pixels = colours(np.uint16)
    wanted: list[dict[str, Any]] = [
        {"planarconfig": "separate"},
        {"compression": "lzw", "predictor": True},
        {"tile": (16, 16)},
        {"byteorder": ">"},
        {"bigtiff": True},
    ]
    for number, options in enumerate(wanted):
        file = tmp_path / f"{number}.tif"
        stored = np.moveaxis(pixels, -1, 0) if "planarconfig" in options else pixels
        tifffile.imwrite(file, stored, photometric="rgb", **options)
        assert np.array_equal(read_picture(file).pixels, pixels), options


def test_sixteen_bit_rounds_to_eight_for_jpeg(tmp_path: Path) -> None:
    ramp = np.repeat(np.linspace(0, 65535, 64).astype(np.uint16)[None, :, None], 16, axis=0).repeat(3, axis=2)
    (tmp_path / "a.png").write_bytes(imagecodecs.png_encode(ramp))
    with Image.open(io.BytesIO(encode_picture(read_picture(tmp_path / "a.png"), "jpeg"))) as image:
        assert np.abs(np.asarray(image).astype(int) - np.rint(ramp / 257).astype(int)).max() <= 2


def huge_png(width: int, height: int) -> bytes:
    body = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    chunk = struct.pack(">I", 13) + b"IHDR" + body + struct.pack(">I", zlib.crc32(b"IHDR" + body))
    return b"\x89PNG\r\n\x1a\n" + chunk


def jpeg_bytes() -> bytes:
    buffer = io.BytesIO()
    Image.fromarray(colours(np.uint8, (200, 200, 3))).save(buffer, "JPEG")
    return buffer.getvalue()


def tiff_bytes(**options: Any) -> bytes:
    buffer = io.BytesIO()
    tifffile.imwrite(buffer, colours(np.uint8, (200, 200, 3)), photometric="rgb", **options)
    return buffer.getvalue()


BAD = {
    "empty": (b"", "empty"),
    "text named .jpg": (b"hello, this is a text", "not JPEG, PNG, TIFF"),
    "huge header": (huge_png(100_000, 100_000), "too large"),
    "jpeg cut short": (jpeg_bytes()[:-3000], "cut short"),
    "jpeg head only": (jpeg_bytes()[:12], "damaged"),
    "tiff cut short": (tiff_bytes()[:-3000], "cut short"),
    "tiff head only": (b"II*\x00\x08\x00\x00\x00", "damaged"),
    "png cut short": (imagecodecs.png_encode(colours(np.uint8))[:-200], "cut short"),
    "png with broken data": (imagecodecs.png_encode(colours(np.uint16))[:400] + b"\x07" * 300, "cut short"),
    "float tiff": (None, "16 bit"),
}


@pytest.mark.parametrize("case", BAD)
def test_what_cannot_be_read_says_why(tmp_path: Path, case: str) -> None:
    data, words = BAD[case]
    file = tmp_path / "bad.jpg"
    if data is None:
        tifffile.imwrite(file, np.ones((8, 8, 3), np.float32), photometric="rgb")
    else:
        file.write_bytes(data)
    with pytest.raises(BadPicture, match=words):
        read_picture(file)


def test_four_inks_are_refused_with_advice(tmp_path: Path) -> None:
    Image.new("CMYK", (8, 8)).save(tmp_path / "a.jpg")
    with pytest.raises(BadPicture, match="RGB first"):
        read_picture(tmp_path / "a.jpg")


def test_a_missing_file_is_named_so(tmp_path: Path) -> None:
    with pytest.raises(BadPicture, match="cannot be read"):
        read_picture(tmp_path / "nothing.png")
