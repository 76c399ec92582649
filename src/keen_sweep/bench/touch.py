"""How long touch-ups take, as multiples of plain work on the same picture in the same run."""

from __future__ import annotations

import time
from collections.abc import Callable

import cv2
import numpy as np

from keen_sweep.core.box import Box
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.touch.dab import Source
from keen_sweep.document.render import render
from keen_sweep.document.shelf import InMemory
from keen_sweep.document.stack import Stack
from keen_sweep.document.touch import Touch

WIDTH_PX = 6000
HEIGHT_PX = 4000
DAB_COUNT = 3_000
REPEAT_COUNT = 3


def run_touch(tell: Callable[[str], None]) -> str:
    """A long clone stroke and a round heal on a made-up picture of 24 MP; a table."""
    random = np.random.default_rng(0)
    picture = random.integers(0, 256, (HEIGHT_PX, WIDTH_PX, 3), dtype=np.uint8)
    pyramid = Pyramid.of(picture)
    turns = np.linspace(0, 12, DAB_COUNT)
    spread = 1 + turns / 40
    points = np.column_stack([2600 + 900 * np.cos(turns) * spread, 1900 + 700 * np.sin(turns) * spread])
    long = Stroke(points=tuple(map(tuple, points.tolist())), size=60, softness=0.3)
    clone = _touch("clone", long, (700.0, 300.0))
    dab = Stroke(points=((3000.5, 2000.5),), size=200)
    heal = _touch("heal", dab, (400.0, 10.0))
    shelf = InMemory(drawings={"clone": long, "heal": dab})
    box = dab.box
    moved = np.ascontiguousarray(picture[2010 - 150 : 2010 + 150, 3400 - 150 : 3400 + 150])
    window = np.ascontiguousarray(picture[2000 - 150 : 2000 + 150, 3000 - 150 : 3000 + 150])
    mask = np.zeros((300, 300), np.uint8)
    cv2.circle(mask, (150, 150), 100, 255, -1)
    plain = _seconds(picture.copy)
    blur = _seconds(lambda: cv2.GaussianBlur(picture, (0, 0), 2))
    seamless = _seconds(lambda: cv2.seamlessClone(moved, window, mask, (150, 150), cv2.NORMAL_CLONE))
    whole = _seconds(lambda: render(pyramid, Stack(layers=(clone,)), shelf, clone.box))
    tile = _seconds(lambda: render(pyramid, Stack(layers=(clone,)), shelf, Box(x=2560, y=1024, width=512, height=512)))
    healing = _seconds(lambda: render(pyramid, Stack(layers=(heal,)), shelf, box))
    rows = [
        f"| clone, {DAB_COUNT:,} dabs, all of it | {whole / plain:.2f} | {whole / blur:.2f} blurs of the picture |",
        f"| clone, {DAB_COUNT:,} dabs, one tile | {tile / plain:.2f} | {tile / blur:.2f} blurs of the picture |",
        f"| heal, 200 px | {healing / plain:.2f} | {healing / seamless:.2f} seamlessClones |",
    ]
    text = "\n".join(["| 24 MP | copies of the picture | |", "|---|---|---|", *rows])
    tell(text)
    return text


def _touch(brush: str, stroke: Stroke, away: tuple[float, float]) -> Touch:
    x, y = stroke.points[0]
    source = Source(at=(x + away[0], y + away[1]), to=(x, y))
    return Touch.model_validate({"id": brush, "brush": brush, "stroke": brush, "box": stroke.box, "source": source})


def _seconds(work: Callable[[], object]) -> float:
    """The best of a few times."""
    best = float("inf")
    for _ in range(REPEAT_COUNT):
        started = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - started)
    return best
