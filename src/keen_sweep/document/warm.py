"""Compile every numba kernel once, so that no user waits for it: they are cached on disk beside the code."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

import numpy as np

from keen_sweep.core.arrays import Pixels
from keen_sweep.core.box import Box, whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.weave.incoherent import in_larger_pieces
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import mask_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.methods.least_seams import least_seams
from keen_sweep.core.photo.display import for_screen
from keen_sweep.core.photo.profiles import wide_gamut
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.sentences import sentence
from keen_sweep.core.touch.dab import Brush, Source
from keen_sweep.document.render import render
from keen_sweep.document.shelf import InMemory
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.document.touch import Touch


def warm(tell: Callable[[str], None]) -> None:
    """Run strokes, fills by both ways and renders on a tiny picture, in 8 and in 16 bit."""
    random = np.random.default_rng(0)
    drawn = (
        Stroke(points=((24.0, 30.0), (36.0, 30.0)), size=10),
        Stroke(points=((50.0, 50.0),), size=4, softness=0.5),
        Outline(points=((56.0, 20.0), (60.0, 20.0), (58.0, 26.0))),
    )
    # Borrowing needs sisters, and of what is compiled that alone.
    least_seams(
        np.zeros((2, 4, 4), np.float32), np.zeros((2, 4, 4, 3), np.float32), np.ones((4, 4), np.bool_), 1.0, 1.0
    )
    # Noise is rarely incoherent enough.
    hole = np.zeros((40, 40), np.bool_)
    hole[4:-4, 4:-4] = True
    offsets = random.integers(-4, 5, (40, 40, 2)).astype(np.int32)
    colours = random.random((40, 40, 3)).astype(np.float32)
    in_larger_pieces(colours, hole, offsets, np.ones_like(hole), (0, 0), np.zeros_like(hole))
    for dtype, top in ((np.uint8, 255), (np.uint16, 65535)):
        tell(sentence("kernels for {bits} bit", bits=np.iinfo(dtype).bits))
        pixels: Pixels = (random.random((72, 80, 3)) * top).astype(dtype)
        mask = mask_of(drawn, whole(pixels)).full(80, 72)
        patches: dict[str, Patch] = {}
        for method in (Method.CLOSE, Method.WEAVE, Method.AUTO):
            (patches["0"],) = engine_for(method).fill(FillInput(below=pixels, mask=mask, takes=1))
        stroke = Stroke(points=((40.0, 60.0), (50.0, 60.0)), size=12, softness=0.3)
        strokes, source = {"1": stroke}, Source(at=(60.5, 40.5), to=(40.5, 60.5))
        clone = Touch(id="b", brush=Brush.CLONE, stroke="1", box=stroke.box, source=source)
        layers = (Sweep(id="a", name="a", pick="0"), clone)
        stack = Stack(layers=(*layers, clone.model_copy(update={"id": "c", "brush": Brush.HEAL})))
        with tempfile.TemporaryDirectory() as folder:
            Pyramid.of(pixels).save(Path(folder))
            saved = Pyramid.open(Path(folder))
            assert saved is not None
            for pyramid in (Pyramid([pixels]), saved):
                for_screen(render(pyramid, stack, InMemory(patches, strokes)), wide_gamut())
                # A window that cuts the patch on all sides: its arrays have gaps then, which is another kernel.
                render(pyramid, stack, InMemory(patches, strokes), Box(x=12, y=12, width=12, height=12), 1)
