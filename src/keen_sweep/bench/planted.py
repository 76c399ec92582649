"""Faults planted into exact truth, to see whether the second look finds them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from keen_sweep.bench.cases import Case
from keen_sweep.core.arrays import Bools, EightBit, Floats
from keen_sweep.core.review.snag import Laid, SnagKind


@dataclass(frozen=True)
class Planted:
    """A scene with one fault, and where it is (h, w)."""

    kind: SnagKind
    scene: Laid
    place: Bools


def clean(case: Case) -> Laid:
    """The truth as the fill: nothing is wrong with it."""
    after = np.where(case.mask[..., None], case.truth, case.photo)
    return Laid(case.photo, after, case.mask)


def planted(case: Case) -> list[Planted]:
    """Every fault that this case has room for."""
    ways: tuple[Callable[[Case], Planted | None], ...] = (blurred, copied, offset, left, cut)
    return [fault for way in ways if (fault := way(case)) is not None]


def blurred(case: Case) -> Planted | None:
    """The fill blurred by a Gaussian of two pixels."""
    if largest_disc(case.mask)[0] < 4:
        return None
    soft = np.asarray(cv2.GaussianBlur(case.truth, (0, 0), 2), np.uint8)
    return Planted(SnagKind.SOFTNESS, _with(case, soft, case.mask), case.mask)


def copied(case: Case) -> Planted | None:
    """A round patch from beside the hole laid into its middle, feathered."""
    radius, (x, y) = largest_disc(case.mask)
    if radius < 24:
        return None
    side = int(min(radius * 0.8, 60))
    shift = _shift_out(case.mask, x, y, side)
    if shift is None:
        return None
    moved = np.roll(case.truth, (-shift[1], -shift[0]), axis=(0, 1)).astype(np.float32)
    disc = np.zeros(case.mask.shape, np.float32)
    cv2.circle(disc, (x, y), side, 1.0, -1)
    alpha = np.asarray(cv2.GaussianBlur(disc, (0, 0), 1.5), np.float32)[..., None]
    laid = np.rint(case.truth + alpha * (moved - case.truth)).astype(np.uint8)
    return Planted(SnagKind.REPEAT, _with(case, laid, case.mask), alpha[..., 0] > 0.5)


def offset(case: Case) -> Planted | None:
    """The fill three per cent lighter."""
    if largest_disc(case.mask)[0] < 4:
        return None
    lighter = np.clip(case.truth.astype(np.float32) + 0.03 * 255, 0, 255).astype(np.uint8)
    rim = cv2.morphologyEx(case.mask.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((5, 5), np.uint8)) > 0
    return Planted(SnagKind.STEP_IN_TONE, _with(case, lighter, case.mask), rim)


def left(case: Case) -> Planted | None:
    """The mask cut short by a disc: that much of the thing stays."""
    thing = case.mask & (np.abs(case.photo.astype(int) - case.truth).max(axis=2) > 40)
    edge = thing & ~(cv2.erode(case.mask.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0)
    rows, columns = np.nonzero(edge)
    if len(rows) < 20:
        return None
    at = len(rows) // 3
    disc = np.zeros(case.mask.shape, np.uint8)
    size = int(np.clip(largest_disc(case.mask)[0] * 0.5, 5, 14))
    cv2.circle(disc, (int(columns[at]), int(rows[at])), size, 1, -1)
    stays = thing & (disc > 0)
    mask = case.mask & ~(disc > 0)
    if stays.sum() < 30 or not mask.any():
        return None
    after = np.where(mask[..., None], case.truth, case.photo)
    after = np.where(((disc > 0) & case.mask & ~thing)[..., None], case.truth, after)
    return Planted(SnagKind.LEFTOVER, Laid(case.photo, after, mask), stays)


def cut(case: Case) -> Planted | None:
    """The longest straight edge that crosses the hole moved aside by seven pixels inside of it."""
    grey = np.asarray(cv2.cvtColor(case.truth, cv2.COLOR_RGB2GRAY), np.uint8)
    found = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(grey)[0]
    best: tuple[float, Floats] | None = None
    for line in () if found is None else found[:, 0, :]:
        steps = np.linspace(0, 1, 200)[:, None]
        path = np.rint(line[:2] + steps * (line[2:] - line[:2])).astype(int)
        path = np.clip(path, 0, np.array(case.mask.shape[::-1]) - 1)
        inside = case.mask[path[:, 1], path[:, 0]]
        length = float(np.hypot(*(line[2:] - line[:2])))
        outside = np.flatnonzero(~inside)
        before = length * (inside.argmax() if inside.any() else 0) / 200
        if length * inside.mean() < 24 or len(outside) == 0 or before < 34 or _contrast(grey, line) < 14:
            continue
        if best is None or length > best[0]:
            best = length, line
    if best is None:
        return None
    line = best[1]
    along = (line[2:] - line[:2]) / best[0]
    normal = np.array([-along[1], along[0]])
    yy, xx = np.mgrid[0 : grey.shape[0], 0 : grey.shape[1]].astype(np.float32)
    away = np.abs((xx - line[0]) * normal[0] + (yy - line[1]) * normal[1])
    near = case.mask & (away < 20)
    moved: Any = cv2.remap(
        case.truth,
        (xx + 7 * normal[0]).astype(np.float32),
        (yy + 7 * normal[1]).astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REFLECT_101,
    )
    return Planted(SnagKind.BROKEN_LINE, _with(case, moved, near), near)


def _contrast(grey: EightBit, line: Floats) -> float:
    along = (line[2:] - line[:2]) / np.hypot(*(line[2:] - line[:2]))
    normal = np.array([-along[1], along[0]])
    steps = np.linspace(0.1, 0.9, 40)[:, None]
    points = line[:2] + steps * (line[2:] - line[:2])
    sides = []
    for side in (-2.5, 2.5):
        at = np.rint(points + side * normal).astype(int)
        at = np.clip(at, 0, np.array(grey.shape[::-1]) - 1)
        sides.append(grey[at[:, 1], at[:, 0]].astype(float))
    return float(abs(np.median(sides[1] - sides[0])))


def _with(case: Case, fill: EightBit, where: Bools) -> Laid:
    after = np.where(case.mask[..., None], case.truth, case.photo)
    return Laid(case.photo, np.where(where[..., None], fill, after).astype(np.uint8), case.mask)


def largest_disc(mask: Bools) -> tuple[float, tuple[int, int]]:
    """The largest disc in a mask: its radius and middle."""
    distance = cv2.distanceTransform(np.pad(mask.astype(np.uint8), 1), cv2.DIST_L2, 5)[1:-1, 1:-1]
    y, x = divmod(int(distance.argmax()), mask.shape[1])
    return float(distance.max()), (x, y)


def _shift_out(mask: Bools, x: int, y: int, side: int) -> tuple[int, int] | None:
    """The shortest shift to a disc that lies outside the mask and in the picture."""
    blocked = cv2.dilate(mask.astype(np.uint8), np.ones((2 * side + 1,) * 2, np.uint8)) > 0
    blocked[:side] = blocked[-side:] = True
    blocked[:, :side] = blocked[:, -side:] = True
    rows, columns = np.nonzero(~blocked)
    if len(rows) == 0:
        return None
    nearest = int(np.hypot(rows - y, columns - x).argmin())
    return int(columns[nearest] - x), int(rows[nearest] - y)
