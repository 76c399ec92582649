"""Everything that reads what comes from outside: what it is given when all is well, and how it may say no.

Shared by the tests and by the fuzzer (fuzz/parsers.py).
"""

from __future__ import annotations

import io
import json
import tempfile
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pillow_heif
import tifffile
from numpy.typing import NDArray
from PIL import Image
from pydantic import ValidationError

from keen_sweep.core.box import Box
from keen_sweep.core.deliver.ledger import Entry, Ledger, Way
from keen_sweep.core.deliver.xmp import ledger_in, with_ledger
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.model.facts import Facts
from keen_sweep.core.fill.patch import Patch, patch_from_bytes, patch_to_bytes
from keen_sweep.core.mask.area import area_from_bytes, area_to_bytes
from keen_sweep.core.mask.check import read_mask
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.xmp_packet import packet_of
from keen_sweep.document.mark import drawing_from_bytes
from keen_sweep.document.stack import Stack
from keen_sweep.remote.wire import About, PaintingOut, Quote
from tests.support.raws import write_dng

SIDE = 24


@dataclass(frozen=True)
class Parser:
    """given: good files; parse: what is done with one; refusals: the errors by which it may say no."""

    given: tuple[bytes, ...]
    parse: Callable[[bytes], object]
    refusals: tuple[type[Exception], ...] = (KeenSweepError,)


def on_disk(read: Callable[[Path], object]) -> Callable[[bytes], object]:
    def parse(data: bytes) -> object:
        with tempfile.NamedTemporaryFile() as file, warnings.catch_warnings():
            warnings.simplefilter("ignore")
            file.write(data)
            file.flush()
            return read(Path(file.name))

    return parse


def _pixels(depth: type = np.uint8) -> NDArray[Any]:
    most = np.iinfo(depth).max
    return np.random.default_rng(3).integers(0, most, (SIDE, SIDE + 8, 3)).astype(depth)


def _saved(kind: str, **options: Any) -> bytes:
    out = io.BytesIO()
    Image.fromarray(_pixels()).save(out, kind, **options)
    return out.getvalue()


def _tiff(**options: Any) -> bytes:
    out = io.BytesIO()
    tifffile.imwrite(out, _pixels(np.uint16), photometric="rgb", **options)
    return out.getvalue()


def _heif() -> bytes:
    out = io.BytesIO()
    pillow_heif.from_pillow(Image.fromarray(_pixels())).save(out)
    return out.getvalue()


def _dng() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        write_dng(Path(folder) / "a.dng", np.full((SIDE, SIDE + 8, 3), 0.4))
        return (Path(folder) / "a.dng").read_bytes()


def _packet() -> bytes:
    entry = Entry(name="Left rod", way=Way.WOVEN, share=1.5, sisters=("b.png",))
    return with_ledger(None, Ledger(frame="a.png", entries=(entry,)), datetime(2026, 1, 2, tzinfo=UTC), "test")


def _patch() -> bytes:
    pixels = _pixels()
    alpha = np.full(pixels.shape[:2], 200, np.uint8)
    return patch_to_bytes(Patch(Box(x=2, y=3, width=SIDE + 8, height=SIDE), pixels, alpha, MadeBy.WEAVE, 3))


def _json(**told: object) -> bytes:
    return json.dumps(told).encode()


@cache
def parsers() -> dict[str, Parser]:
    exif = Image.Exif()
    exif[274] = 6
    icc = bytes(imagecodecs.cms_profile("srgb"))
    pictures = (
        bytes(imagecodecs.png_encode(_pixels())),
        bytes(imagecodecs.png_encode(_pixels(np.uint16))),
        _saved("PNG", exif=exif, icc_profile=icc),
        _saved("JPEG", exif=exif, icc_profile=icc, xmp=_packet()),
        _saved("JPEG", progressive=True),
        _tiff(),
        _tiff(compression="lzw", predictor=True),
        _tiff(tile=(16, 16), compression="zlib"),
        _tiff(bigtiff=True),
        _saved("WEBP", lossless=True),
        _saved("AVIF"),
        _heif(),
        _dng(),
    )
    whole = Picture(pixels=_pixels(), format="png")
    mask = np.zeros((SIDE, SIDE + 8), np.uint8)
    mask[4:9, 5:12] = 255
    stroke = {"kind": "stroke", "points": [[5, 5], [20, 20]], "size": 6}
    filed = {"kind": "stroke", "file": "0" * 64, "box": {"x": 2, "y": 2, "width": 21, "height": 21}}
    sweep = {"kind": "sweep", "id": "a", "name": "Rod", "mark": {"shapes": [filed]}, "method": "auto"}
    told = (ValidationError,)
    return {
        "pictures": Parser(pictures, on_disk(read_picture)),
        "packets in files": Parser(pictures, on_disk(packet_of), ()),
        "masks": Parser((bytes(imagecodecs.png_encode(mask)),), on_disk(lambda path: read_mask(path, whole))),
        "packets": Parser((_packet(),), ledger_in, ()),
        "areas": Parser((area_to_bytes(mask),), area_from_bytes),
        "patches": Parser((_patch(),), patch_from_bytes),
        "drawings": Parser((_json(**stroke),), drawing_from_bytes, (ValueError,)),
        "stacks": Parser((_json(version=2, layers=[sweep]),), Stack.model_validate_json, told),
        "what a service says": Parser(
            (_json(name="a", version="1", most=512, multiple=8), _json(id="a1", state="done", credits=2.0)),
            lambda data: [_quiet(each, data) for each in (About, PaintingOut, Quote)],
            (),
        ),
        "files beside models": Parser((_json(range=[0, 1], hole=1, blank=True),), Facts.model_validate_json, told),
    }


def _quiet(shape: type[About | PaintingOut | Quote], data: bytes) -> object:
    try:
        return shape.model_validate_json(data)
    except ValidationError:
        return None
