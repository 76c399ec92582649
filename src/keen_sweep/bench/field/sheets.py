"""Real things taken away as they come from one zigzag: before and after, side by side, for somebody who looks."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np

from keen_sweep.bench.field.hands import GESTURES_BY_HAND
from keen_sweep.bench.field.photographs import FieldThing, field_things
from keen_sweep.core.arrays import EightBit
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.fill.engine import FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.mask.fit import MASK_THRESHOLD, fit_mask
from keen_sweep.core.mask.removable import removable_mask
from keen_sweep.core.mask.shape import mask_of

HAND_NAME = "zigzag"
# Size of a picture on a sheet, pixels.
CELL_WIDTH_PX = 420
CELL_HEIGHT_PX = 320
# Number of things on a sheet.
THINGS_PER_SHEET = 6


def fill_sheets(folder: Path, out: Path, say: Callable[[str], None], kept_back: bool | None) -> None:
    """Write sheet-1.png and so on into out: for each thing the picture with its mask's outline, and the first take."""
    rows: list[EightBit] = []
    for number, thing in enumerate(field_things(folder, lambda _: None)):
        if kept_back in (None, thing.kept_back):
            rows.append(_row(number, thing))
            say(f"{thing.photograph}, {thing.name}: filled")
    for sheet, start in enumerate(range(0, len(rows), THINGS_PER_SHEET), start=1):
        cv2.imwrite(str(out / f"sheet-{sheet}.png"), np.vstack(rows[start : start + THINGS_PER_SHEET])[..., ::-1])


def _row(number: int, thing: FieldThing) -> EightBit:
    how, make = GESTURES_BY_HAND[HAND_NAME]
    picture = whole(thing.picture)
    shape = make(thing.truth, np.random.default_rng((number, 0, 0)))
    near = mask_of([shape], picture).full(picture.width, picture.height) > 0
    found = removable_mask(thing.picture, near, how)
    full = found.mask.full(picture.width, picture.height)
    area = fit_mask(full, np.zeros_like(full), found.fit)
    mask = area >= MASK_THRESHOLD
    after = _filled(thing.picture, area)
    before = thing.picture.copy()
    for plane, colour in ((near, (24, 167, 181)), (mask, (229, 56, 109))):
        rings, _ = cv2.findContours(plane.astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
        cv2.drawContours(before, rings, -1, colour, max(round(max(mask.shape) / 500), 1))
    box = box_of(mask)
    view = box.grow(max(box.width, box.height) // 2, picture)
    cells = [_cell(each[view.slices]) for each in (before, after)] + [_cell(after)]
    return np.hstack(cells)


def _filled(picture: EightBit, area: EightBit) -> EightBit:
    """The first take."""
    given = FillInput(below=picture, mask=area, takes=1, quality=Quality.FINE, seed=0)
    patch = next(iter(engine_for(Method.AUTO).fill(given)))
    after = picture.copy()
    after[patch.box.slices] = patch.pixels
    return after


def _cell(pixels: EightBit) -> EightBit:
    scale = min(CELL_WIDTH_PX / pixels.shape[1], CELL_HEIGHT_PX / pixels.shape[0])
    size = (max(round(pixels.shape[1] * scale), 1), max(round(pixels.shape[0] * scale), 1))
    way = cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR
    out = np.full((CELL_HEIGHT_PX + 4, CELL_WIDTH_PX + 4, 3), 255, np.uint8)
    out[: size[1], : size[0]] = cv2.resize(np.ascontiguousarray(pixels), size, interpolation=way)
    return out
