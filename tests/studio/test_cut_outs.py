"""A picture whose transparency marks what is to be filled: delivered, it is opaque where a take lies."""

import io
import zipfile
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pytest
import tifffile
from numpy.typing import NDArray
from PIL import Image

from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio import desk
from keen_sweep.studio.choosing.arrange import show
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.delivering.deliver import deliver
from keen_sweep.studio.delivering.wanted import Kind, Wanted
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.shoots import make_shoot
from keen_sweep.studio.marking.draw import add_shapes
from tests.support.runs import fill_now
from tests.support.shell import keen_sweep

HOLE = (slice(50, 80), slice(60, 100))
# Half clear beside the hole; taken out of the mark, it stays to the bit.
FAINT = (slice(0, 20), slice(0, 30))


def cut_out(photograph: NDArray[Any], dtype: type, kind: str) -> tuple[bytes, NDArray[Any]]:
    """A file of a picture with a clear hole, and its alpha."""
    scale = 257 if dtype is np.uint16 else 1
    pixels = photograph[150:300, 200:400].astype(dtype) * dtype(scale)
    alpha = np.full(pixels.shape[:2], 255 * scale, dtype)
    alpha[HOLE] = 0
    alpha[FAINT] = 200 * scale
    form: Any = kind
    return encode_picture(Picture(pixels=pixels, format=form, alpha=alpha), form), alpha


def filled(library: Library, photograph: NDArray[Any], dtype: type, kind: str) -> tuple[Frame, str, NDArray[Any]]:
    data, alpha = cut_out(photograph, dtype, kind)
    incoming = library.incoming / "cut"
    incoming.write_bytes(data)
    frame = add_frame(library, make_shoot(library, "Cut-outs").id, f"cut.{kind}", incoming)
    (sweep,) = desk.desk(library, frame.id).sweeps
    corner = Stroke(points=((0.0, 0.0), (30.0, 20.0)), size=60, erase=True)
    add_shapes(library, frame.id, sweep.sweep.id, [corner])
    fill_now(library, frame, sweep.sweep.id, takes=1)
    take = desk.desk(library, frame.id).sweeps[0].takes[0].id
    pick(library, frame.id, sweep.sweep.id, take)
    return frame, sweep.sweep.id, alpha


def check_alpha(after: NDArray[Any], before: NDArray[Any]) -> None:
    assert after.dtype == before.dtype
    assert (after[HOLE] == np.iinfo(after.dtype).max).all(), "opaque where the take lies"
    outside = np.ones(before.shape, bool)
    # The mask has a margin.
    outside[40:90, 50:110] = False
    assert np.array_equal(after[outside], before[outside]), "elsewhere to the bit"


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("kind", ["png", "tiff"])
def test_a_delivered_cut_out_shows_its_fill(
    library: Library, photograph: NDArray[Any], dtype: type, kind: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("KEEN_SWEEP_ENGINE", "flat")
    frame, sweep, alpha = filled(library, photograph, dtype, kind)
    made = deliver(library, frame.id).data
    after = imagecodecs.png_decode(made) if kind == "png" else tifffile.imread(io.BytesIO(made))
    check_alpha(after[..., 3], alpha)
    show(library, frame.id, sweep, False)
    plain = deliver(library, frame.id).data
    assert plain == library.files.read(frame.original), "switched off it is as it came in"


def test_layered_files_keep_the_transparency(
    library: Library, photograph: NDArray[Any], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("KEEN_SWEEP_ENGINE", "flat")
    frame, _, alpha = filled(library, photograph, np.uint8, "png")
    with zipfile.ZipFile(io.BytesIO(deliver(library, frame.id, Wanted(kind=Kind.ORA)).data)) as ora:
        merged = imagecodecs.png_decode(ora.read("mergedimage.png"))
        lowest = imagecodecs.png_decode(ora.read("data/original.png"))
    check_alpha(merged[..., 3], alpha)
    assert np.array_equal(lowest[..., 3], alpha)
    pages = deliver(library, frame.id, Wanted(kind=Kind.LAYERS)).data
    with tifffile.TiffFile(io.BytesIO(pages)) as read:
        check_alpha(read.pages[0].asarray()[..., 3], alpha)
        assert np.array_equal(read.pages[1].asarray()[..., 3], alpha)


def test_from_a_shell_it_is_opaque_too(photograph: NDArray[Any], tmp_path: Path) -> None:
    data, alpha = cut_out(photograph, np.uint8, "png")
    photo, mask = tmp_path / "cut.png", tmp_path / "mask.png"
    photo.write_bytes(data)
    area = np.zeros(alpha.shape, np.uint8)
    area[HOLE] = 255
    mask.write_bytes(imagecodecs.png_encode(area))
    done = keen_sweep("fill", photo, "--mask", mask, "--out", tmp_path, "--takes", 1, "--quality", "fast")
    assert done.returncode == 0, done.stderr
    with Image.open(tmp_path / "take-1.png") as made:
        check_alpha(np.asarray(made)[..., 3], alpha)
