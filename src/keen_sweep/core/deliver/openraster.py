"""The layered file: OpenRaster (specification 0.0.6, openraster.org), which painting programs open."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
import zipfile
from collections.abc import Sequence

import cv2
import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.deliver.layers import Layer, layer_png
from keen_sweep.core.photo.display import for_screen
from keen_sweep.core.photo.picture import Metadata, Picture
from keen_sweep.core.photo.png import encode

# Longer side of the embedded thumbnail, pixels (OpenRaster allows 256).
THUMBNAIL_SIDE_PX = 256


def openraster(
    original: Pixels,
    merged: Pixels,
    layers: Sequence[Layer],
    metadata: Metadata,
    alphas: tuple[Pixels, Pixels] | None = None,
) -> bytes:
    """Encode layers as an OpenRaster file in the original's bit depth, with its profile.

    Parameters
    ----------
    original : (H, W, 3) uint8 or uint16
        The lowest layer.
    merged : (H, W, 3) of the same dtype
        All visible layers together.
    layers : sequence of Layer
        The other layers, bottom to top.
    metadata : Metadata
        Metadata of the original.
    alphas : pair of (H, W), or None, optional
        Transparency of the original and of the merged picture.

    Returns
    -------
    bytes
        The file.
    """
    clear, merged_clear = alphas or (None, None)
    height, width = original.shape[:2]
    image = ET.Element("image", {"version": "0.0.6", "w": str(width), "h": str(height)})
    if metadata.resolution:
        image.set("xres", str(round(metadata.resolution[0])))
        image.set("yres", str(round(metadata.resolution[1])))
    stack = ET.SubElement(image, "stack")
    icc = metadata.icc
    named = [(f"data/layer{number:03}.png", layer) for number, layer in enumerate(layers, start=1)]
    # The topmost comes first.
    for source, layer in reversed(named):
        place = {"x": str(layer.box.x), "y": str(layer.box.y), "opacity": f"{layer.opacity:.4g}"}
        shown = {"visibility": "visible" if layer.shown else "hidden", "composite-op": "svg:src-over"}
        ET.SubElement(stack, "layer", {"name": layer.name, "src": source, **place, **shown})
    lowest = {"name": "As shot", "src": "data/original.png", "x": "0", "y": "0", "visibility": "visible"}
    ET.SubElement(stack, "layer", lowest)

    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_STORED) as out:
        # First and unpacked, so that the kind of the file is at a known place.
        out.writestr("mimetype", "image/openraster")
        text = ET.tostring(image, encoding="utf-8", xml_declaration=True)
        out.writestr("stack.xml", text, zipfile.ZIP_DEFLATED)
        out.writestr("data/original.png", _plain(original, icc, clear))
        for source, layer in named:
            out.writestr(source, layer_png(layer, icc))
        out.writestr("mergedimage.png", _plain(merged, icc, merged_clear))
        out.writestr("Thumbnails/thumbnail.png", _plain(_small(merged, icc), None))
    return buffer.getvalue()


def _plain(pixels: Pixels, icc: bytes | None, alpha: Pixels | None = None) -> bytes:
    return encode(Picture(pixels=pixels, format="png", alpha=alpha, metadata=Metadata(icc=icc)))


def _small(pixels: Pixels, icc: bytes | None) -> Pixels:
    height, width = pixels.shape[:2]
    share = min(1.0, THUMBNAIL_SIDE_PX / max(height, width))
    size = (max(round(width * share), 1), max(round(height * share), 1))
    return np.asarray(cv2.resize(for_screen(pixels, icc), size, interpolation=cv2.INTER_AREA), np.uint8)
