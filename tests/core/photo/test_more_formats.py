"""Raw files, WebP, AVIF, HEIF, four inks and L*a*b*, against their encoders and against formulas."""

import io
import struct
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pillow_heif
import pytest
import tifffile
from numpy.typing import NDArray
from PIL import Image, ImageCms
from skimage import color, data

from keen_sweep.core.errors import BadPicture
from keen_sweep.core.photo.profiles import ROMM_POWER, cmyk_to_srgb, lab_to_romm, srgb, to_xyz, wide_gamut
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.sniff import sniff
from tests.support.raws import MATRIX, write_dng, write_unknown
from tests.support.sure import sure

CUP = np.ascontiguousarray(data.coffee()[80:176, 100:228])


def _romm_to_srgb(pixels: NDArray[Any]) -> NDArray[Any]:
    """ROMM RGB of 16 bit to linear sRGB under D65, by the formulas of the standards; Bradford (ICC.1, annex E)."""
    xyz = (pixels / 65535) ** ROMM_POWER @ to_xyz().T
    adapt = np.array(
        [[0.9555766, -0.0230393, 0.0631636], [-0.0282895, 1.0099416, 0.0210077], [0.0122982, -0.0204830, 1.3299098]]
    )
    return np.asarray(xyz @ adapt.T @ np.array(MATRIX).T)


def test_a_raw_file_is_developed_by_the_cameras_white_balance(tmp_path: Path) -> None:
    scene = np.full((96, 128, 3), 0.2)
    scene[:, 64:] = (0.30, 0.18, 0.08)
    write_dng(tmp_path / "one.dng", scene)
    assert sniff(tmp_path / "one.dng") == "raw"
    picture = read_picture(tmp_path / "one.dng")
    assert (picture.format, picture.depth, picture.pixels.shape) == ("raw", 16, (96, 128, 3))
    assert picture.metadata.icc == wide_gamut()
    assert picture.converted == "developed neutrally"
    grey, wood = (picture.pixels[20:70, at : at + 30].reshape(-1, 3).mean(axis=0) for at in (15, 80))
    assert np.ptp(grey) < 0.02 * grey.mean()
    assert np.allclose(_romm_to_srgb(wood) / _romm_to_srgb(grey).mean(), np.array([0.30, 0.18, 0.08]) / 0.2, atol=0.06)


def test_a_raw_file_is_turned_upright_and_says_so(tmp_path: Path) -> None:
    scene = np.full((96, 128, 3), 0.1)
    scene[:40] = 0.6
    write_dng(tmp_path / "one.dng", scene, orientation=6)
    picture = read_picture(tmp_path / "one.dng")
    assert picture.pixels.shape == (128, 96, 3)
    assert picture.pixels[:, 70:].mean() > 2 * picture.pixels[:, :40].mean()
    assert picture.metadata.orientation == 1
    block = Image.Exif()
    block.load(sure(picture.metadata.exif))
    assert block[274] == 1
    assert block[270] == "a raw garden"


def test_a_raw_file_that_is_cut_short_is_damaged(tmp_path: Path) -> None:
    write_dng(tmp_path / "one.dng", np.full((96, 128, 3), 0.2))
    content = (tmp_path / "one.dng").read_bytes()
    (tmp_path / "two.dng").write_bytes(content[: len(content) // 3])
    with pytest.raises(BadPicture, match="damaged or cut short"):
        read_picture(tmp_path / "two.dng")


def test_a_raw_file_of_a_camera_that_nobody_knows_says_what_to_do(tmp_path: Path) -> None:
    write_unknown(tmp_path / "one.vlr")
    with pytest.raises(BadPicture, match="aw files of this camera are not supported: develop it"):
        read_picture(tmp_path / "one.vlr")


def test_a_tiff_of_colours_stays_a_tiff(tmp_path: Path) -> None:
    tifffile.imwrite(tmp_path / "a.tif", CUP, photometric="rgb")
    assert sniff(tmp_path / "a.tif") == "tiff"


@pytest.mark.parametrize("kind", ["webp", "avif", "heif"])
def test_packed_pictures_are_what_was_packed(tmp_path: Path, kind: str) -> None:
    exif = Image.Exif()
    exif[0x010E] = "a cup"
    file = tmp_path / f"a.{kind}"
    more: dict[str, Any] = {"exif": exif.tobytes(), "icc_profile": srgb()}
    image = Image.fromarray(CUP)
    if kind == "webp":
        image.save(file, lossless=True, exact=True, **more)
    elif kind == "avif":
        image.save(file, quality=100, subsampling="4:4:4", **more)
    else:
        pillow_heif.from_pillow(image).save(file, quality=-1, chroma=444, matrix_coefficients=0, exif=exif.tobytes())
    assert sniff(file) == kind
    picture = read_picture(file)
    assert (picture.format, picture.depth) == (kind, 8)
    apart = np.abs(picture.pixels.astype(int) - CUP)
    assert apart.max() <= (0 if kind != "avif" else 3)
    block = Image.Exif()
    block.load(sure(picture.metadata.exif))
    assert block[0x010E] == "a cup"
    if kind != "heif":
        assert picture.metadata.icc == srgb()


def test_ten_bits_fill_the_range_of_sixteen(tmp_path: Path) -> None:
    ramp = np.linspace(0, 1023, 64 * 64).round().astype(np.uint16).reshape(64, 64)
    deep = np.repeat(ramp[..., None], 3, axis=2)
    (tmp_path / "a.avif").write_bytes(imagecodecs.avif_encode(deep, level=100, bitspersample=10))
    picture = read_picture(tmp_path / "a.avif")
    assert picture.depth == 16
    assert np.abs(picture.pixels.astype(int) - np.rint(deep / 1023 * 65535)).max() <= 2 * 65535 / 1023
    sixteen = pillow_heif.from_bytes(mode="RGB;16", size=(64, 64), data=(deep * 64).astype("<u2").tobytes())
    sixteen.save(tmp_path / "a.heic", quality=-1, chroma=444, matrix_coefficients=0)
    picture = read_picture(tmp_path / "a.heic")
    assert picture.depth == 16
    assert np.abs(picture.pixels.astype(int) - deep.astype(int) * 64).max() <= 200


def test_the_wide_profile_says_the_numbers_that_it_was_made_of() -> None:
    profile = ImageCms.ImageCmsProfile(io.BytesIO(wide_gamut()))
    assert profile.profile.xcolor_space.strip() == "RGB"
    assert np.allclose(sure(profile.profile.red_primary)[1][:2], (0.7347, 0.2653), atol=2e-3)
    assert np.allclose(sure(profile.profile.blue_primary)[1][:2], (0.0366, 0.0001), atol=2e-3)
    # The white of the primaries is that of the standard.
    assert np.allclose(to_xyz().sum(axis=1), (0.9642, 1.0, 0.8249))
    transform = ImageCms.buildTransform(profile, ImageCms.createProfile("sRGB"), "RGB", "RGB")
    grey = ImageCms.applyTransform(Image.new("RGB", (4, 4), (128, 128, 128)), transform)
    linear = (128 / 255) ** ROMM_POWER
    wanted = round((1.055 * linear ** (1 / 2.4) - 0.055) * 255)
    assert np.abs(np.asarray(grey).astype(int) - wanted).max() <= 1


def test_lab_is_what_the_formulas_of_the_cie_say() -> None:
    """Against scikit-image's own conversion, by way of XYZ under D50."""
    light, a, b = np.meshgrid([20, 50, 80], [-30, 0, 40], [-20, 0, 30], indexing="ij")
    lab = np.stack([light, a, b], axis=-1).reshape(-1, 1, 3).astype(float)
    wanted = color.lab2xyz(lab, illuminant="D50")
    eight = np.concatenate([np.rint(lab[..., :1] * 2.55), lab[..., 1:]], axis=-1).astype(np.int16).astype(np.uint8)
    sixteen = np.concatenate([np.rint(lab[..., :1] * 655.35), lab[..., 1:] * 256], axis=-1).astype(np.int32)
    for stored, off in ((eight, 6e-3), (sixteen.astype(np.uint16), 1e-3)):
        xyz = (lab_to_romm(stored) / 65535) ** ROMM_POWER @ to_xyz().T
        assert np.abs(xyz - wanted).max() < off


def _ink_profile() -> bytes:
    """A profile of four inks that mix as light would: a table of two points an ink to L*a*b* (ICC.1:2001-04, 6.5.6)."""
    corners = []
    for number in range(16):
        inks = [(number >> (3 - k)) & 1 for k in range(4)]
        rgb = np.array([[[(1 - inks[k]) * (1 - 0.9 * inks[3]) for k in range(3)]]]) * 0.9 + 0.05
        light, a, b = color.rgb2lab(rgb, illuminant="D50").ravel()
        corners += [round(light * 2.55), round(a + 128), round(b + 128)]
    straight = bytes(range(256))
    one = struct.pack(">9i", *(65536 if k in (0, 4, 8) else 0 for k in range(9)))
    table = b"mft1" + struct.pack(">IBBBB", 0, 4, 3, 2, 0) + one + straight * 4 + bytes(corners) + straight * 3
    tags = {b"desc": b"desc" + struct.pack(">II", 0, 5) + b"inks\0" + b"\0" * 79, b"A2B0": table}
    at, head, bodies = 128 + 4 + 24, b"", b""
    for name, body in tags.items():
        head += name + struct.pack(">II", at + len(bodies), len(body))
        bodies += body + b"\0" * (-len(body) % 4)
    first = struct.pack(">I4sI4s4s4s", at + len(bodies), b"\0" * 4, 0x02400000, b"prtr", b"CMYK", b"Lab ")
    first += b"\0" * 12 + b"acsp" + b"\0" * 28 + struct.pack(">3i", 63190, 65536, 54061)
    return first.ljust(128, b"\0") + struct.pack(">I", len(tags)) + head + bodies


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_four_inks_become_red_green_and_blue_by_their_profile(tmp_path: Path, dtype: type) -> None:
    most = np.iinfo(dtype).max
    inks: NDArray[Any] = np.zeros((40, 60, 4), dtype)
    inks[:, 20:40, 0] = most  # cyan
    inks[:, 40:, 3] = most  # black
    tifffile.imwrite(tmp_path / "a.tif", inks, photometric="separated", iccprofile=_ink_profile())
    picture = read_picture(tmp_path / "a.tif")
    assert picture.converted == "converted from CMYK to sRGB by its profile"
    assert picture.metadata.icc == srgb()
    assert picture.pixels.dtype == dtype
    paper, cyan, black = (picture.pixels[20, at] / most for at in (10, 30, 50))
    assert paper.min() > 0.9
    assert cyan[0] < 0.45
    assert min(cyan[1:]) > 0.85
    assert black.max() < 0.35
    if dtype is np.uint8:
        Image.fromarray(inks, "CMYK").save(tmp_path / "a.jpg", quality=95, icc_profile=_ink_profile())
        from_jpeg = read_picture(tmp_path / "a.jpg")
        assert np.abs(from_jpeg.pixels[20, 30].astype(int) - picture.pixels[20, 30]).max() <= 6


def test_inks_without_a_profile_or_with_a_wrong_one_are_refused() -> None:
    inks = np.zeros((4, 4, 4), np.uint8)
    with pytest.raises(BadPicture, match="without a colour profile"):
        cmyk_to_srgb(inks, None)
    with pytest.raises(BadPicture, match="not a CMYK profile, or is damaged"):
        cmyk_to_srgb(inks, b"nothing of the kind")
    with pytest.raises(BadPicture, match="not a CMYK profile, or is damaged"):
        cmyk_to_srgb(inks, srgb())
