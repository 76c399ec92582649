"""Layered files: OpenRaster read by other readers and put together again by its rules, and TIFFs of pages."""

import io
import xml.etree.ElementTree as ET
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pyora
import tifffile
from numpy.typing import NDArray
from PIL import Image
from skimage import data

from keen_sweep.core.box import Box
from keen_sweep.core.deliver.layered_tiff import layered_tiff
from keen_sweep.core.deliver.layers import Layer, layer_of_change
from keen_sweep.core.deliver.openraster import openraster
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import Patch, lay
from keen_sweep.core.photo.picture import Metadata
from keen_sweep.core.photo.profiles import srgb
from tests.support.sure import sure

BASE = np.ascontiguousarray(data.coffee()[:120, :160])


def _patch(x: int, y: int, value: int, dtype: type[np.uint8 | np.uint16]) -> Patch:
    ramp = np.tile(np.linspace(0, 255, 40).astype(np.uint8), (30, 1))
    pixels: NDArray[Any] = np.full((30, 40, 3), value, dtype)
    return Patch(box=Box(x=x, y=y, width=40, height=30), pixels=pixels, alpha=ramp, method=MadeBy.WEAVE, seed=0)


def _scene(dtype: type[np.uint8 | np.uint16]) -> tuple[NDArray[Any], NDArray[Any], list[Layer]]:
    base: NDArray[Any] = BASE.astype(dtype) * (257 if dtype is np.uint16 else 1)
    patches = [_patch(10, 20, 40, dtype), _patch(30, 35, 200, dtype), _patch(90, 60, 120, dtype)]
    layers = [
        Layer(f"sweep {k}", each.box, each.pixels, each.alpha, 0.5 if k == 2 else 1.0) for k, each in enumerate(patches)
    ]
    merged = base.copy()
    for each, amount in zip(patches, (100, 100, 50), strict=True):
        lay(merged, Box(x=0, y=0, width=160, height=120), each, amount)
    hidden = Layer("switched off", patches[0].box, patches[0].pixels, patches[0].alpha, shown=False)
    return base, merged, [*layers, hidden]


def _composed(data: bytes) -> NDArray[Any]:
    """What a reader makes of a file by the rules of its specification: from the bottom up, source over, 8 bit."""
    with zipfile.ZipFile(io.BytesIO(data)) as file:
        image = ET.fromstring(file.read("stack.xml"))
        whole = Image.new("RGBA", (int(image.attrib["w"]), int(image.attrib["h"])))
        for layer in reversed(sure(image.find("stack")).findall("layer")):
            if layer.get("visibility") == "hidden":
                continue
            with Image.open(io.BytesIO(file.read(layer.attrib["src"]))) as found:
                own = found.convert("RGBA")
            amount = float(layer.get("opacity", "1"))
            alpha = own.getchannel("A").point([round(level * amount) for level in range(256)])
            own.putalpha(alpha)
            placed = Image.new("RGBA", whole.size)
            placed.paste(own, (int(layer.attrib["x"]), int(layer.attrib["y"])))
            whole = Image.alpha_composite(whole, placed)
    return np.asarray(whole)[..., :3]


def test_layers_put_together_are_the_merged_picture() -> None:
    base, merged, layers = _scene(np.uint8)
    file = openraster(base, merged, layers, Metadata(icc=srgb()))
    assert np.abs(_composed(file).astype(int) - merged).max() <= 1
    with zipfile.ZipFile(io.BytesIO(file)) as read:
        first = read.infolist()[0]
        assert (first.filename, first.compress_type) == ("mimetype", zipfile.ZIP_STORED)
        assert read.read("mimetype") == b"image/openraster"
        with Image.open(io.BytesIO(read.read("mergedimage.png"))) as image:
            assert np.array_equal(np.asarray(image), merged)
            assert image.info["icc_profile"] == srgb()
        with Image.open(io.BytesIO(read.read("data/original.png"))) as image:
            assert np.array_equal(np.asarray(image), base)
        with Image.open(io.BytesIO(read.read("Thumbnails/thumbnail.png"))) as image:
            assert image.size == (160, 120)


def test_an_independent_reader_opens_it(tmp_path: Path) -> None:
    base, merged, layers = _scene(np.uint8)
    file = tmp_path / "a.ora"
    file.write_bytes(openraster(base, merged, layers, Metadata()))
    project = pyora.Project.load(str(file))
    assert project.dimensions == (160, 120)
    names = [layer.name for layer in project.children_recursive]
    assert names == [*(layer.name for layer in reversed(layers)), "As shot"]
    assert [layer.name for layer in project.children_recursive if not layer.visible] == ["switched off"]
    made = np.asarray(project.get_image_data(use_original=True).convert("RGB"))
    assert np.array_equal(made, merged)


def test_sixteen_bits_stay_sixteen() -> None:
    base, merged, layers = _scene(np.uint16)
    with zipfile.ZipFile(io.BytesIO(openraster(base, merged, layers, Metadata()))) as read:
        for name in ("data/original.png", "data/layer001.png", "mergedimage.png"):
            assert read.read(name)[24] == 16


def test_a_page_for_each_layer() -> None:
    base, merged, layers = _scene(np.uint16)
    made = layered_tiff(base, merged, layers, Metadata(icc=srgb(), resolution=(300.0, 300.0)))
    with tifffile.TiffFile(io.BytesIO(made)) as tiff:
        pages = [page.aspage() for page in tiff.pages]
        names = [page.tags[285].value for page in pages]
        assert names == ["Merged", "As shot", "sweep 0", "sweep 1", "sweep 2", "switched off (switched off)"]
        assert np.array_equal(tiff.pages[0].asarray(), merged)
        assert np.array_equal(tiff.pages[1].asarray(), base)
        layer = pages[3]
        assert layer.asarray().shape == (30, 40, 4)
        across, down = layer.tags[286].value, layer.tags[287].value
        assert (across[0] / across[1] * 300, down[0] / down[1] * 300) == (30, 35)
        assert layer.tags[34675].value == srgb()


def test_what_a_touch_up_changed_is_a_layer() -> None:
    after = BASE.copy()
    after[50:60, 70:90] = 255 - after[50:60, 70:90]
    layer = layer_of_change("Clone", BASE, after)
    assert layer is not None
    assert layer.box == Box(x=70, y=50, width=20, height=10)
    assert layer_of_change("Clone", BASE, BASE) is None
