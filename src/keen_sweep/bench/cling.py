"""How well cling finds things from careless marks, beside GrabCut alone and the mark's own hull."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from keen_sweep.bench.scribbles import Thing, box_round, hull_of, outline_round, scribble_over, things
from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.box import box_of, whole
from keen_sweep.core.mask.cling import cling
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.shape import Shape, mask_of

TRY_COUNT = 2


@dataclass(frozen=True)
class Outcome:
    """Likeness to the truth (intersection over union) of cling, GrabCut alone and the hull; seconds of cling.

    mark: what it was found from.
    """

    thing: str
    kind: str
    mark: str
    cling: float
    grabcut: float
    hull: float
    seconds: float


def run_cling(tell: Callable[[str], None]) -> list[Outcome]:
    """Two scribbles over every thing, two outlines round it, and two boxes as a detector gives them."""
    out: list[Outcome] = []
    for number, thing in enumerate(things()):
        random = np.random.default_rng(number)
        for _ in range(TRY_COUNT):
            marks: dict[str, tuple[How, Shape]] = {
                "scribble": ("scribble", scribble_over(thing.truth, random)),
                "outline": ("outline", outline_round(thing.truth, random)),
                # By chance of its own, so that the others are what they were.
                "box": ("outline", box_round(thing.truth, np.random.default_rng((number, len(out))))),
            }
            for mark, (how, shape) in marks.items():
                out.append(_one(thing, mark, how, shape))
        scribble, outline, box = (each.cling for each in out[-3:])
        tell(f"{thing.name}: {scribble:.2f} from a scribble, {outline:.2f} from an outline, {box:.2f} from a box")
    return out


def _one(thing: Thing, mark: str, how: How, shape: Shape) -> Outcome:
    picture = whole(thing.picture)
    near = mask_of([shape], picture).full(picture.width, picture.height) > 0
    started = time.perf_counter()
    found = cling(thing.picture, near, how).full(picture.width, picture.height) > 0
    seconds = time.perf_counter() - started
    others = grabcut(thing.picture, near), hull_of(shape, picture)
    clung, alone, hull = (_iou(each, thing.truth) for each in (found, *others))
    return Outcome(thing.name, thing.kind, mark, clung, alone, hull, seconds)


def grabcut(picture: EightBit, near: Bools) -> Bools:
    """GrabCut as OpenCV has it: the mark is probably the thing, what is far from it is not; at most 320 x 320."""
    box = box_of(near)
    around = box.grow(int(0.5 * np.sqrt(box.area)) + 12, whole(picture))
    scale = min(1.0, 320 / np.sqrt(around.area))
    size = (round(around.width * scale), round(around.height * scale))
    pixels = cv2.resize(picture[around.slices], size, interpolation=cv2.INTER_AREA)
    mark = cv2.resize(near[around.slices].astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    out = np.zeros(near.shape, bool)
    if not mark.any():
        return out
    away = cv2.distanceTransform((~mark).astype(np.uint8), cv2.DIST_L2, 5)
    labels = np.where(mark, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    labels[away > 0.6 * np.sqrt(mark.sum())] = cv2.GC_BGD
    cv2.setRNGSeed(0)
    try:
        cv2.grabCut(pixels, labels, (0, 0, 1, 1), np.zeros((1, 65)), np.zeros((1, 65)), 5, cv2.GC_INIT_WITH_MASK)
    except cv2.error:
        return near
    thing = ((labels == cv2.GC_FGD) | (labels == cv2.GC_PR_FGD)).astype(np.uint8)
    out[around.slices] = cv2.resize(thing, (around.width, around.height), interpolation=cv2.INTER_NEAREST) > 0
    return out


def table(found: list[Outcome]) -> str:
    """Mean likeness by kind, and over all with the 20th percentile."""
    lines = [
        "| from a | kind | things | cling | 20th percentile | GrabCut alone | hull | below its hull | seconds |",
        "|---|---|---|---|---|---|---|---|---|",
    ]
    for mark in dict.fromkeys(each.mark for each in found):
        mine = [each for each in found if each.mark == mark]
        for kind in [*dict.fromkeys(each.kind for each in mine), "all"]:
            some = [each for each in mine if kind in (each.kind, "all")]
            values = np.array([each.cling for each in some])
            below = sum(each.cling < each.hull for each in some)
            lines.append(
                f"| {mark} | {kind} | {len(some)} | {values.mean():.2f} | {np.percentile(values, 20):.2f} "
                f"| {np.mean([e.grabcut for e in some]):.2f} | {np.mean([e.hull for e in some]):.2f} | {below} "
                f"| {np.mean([e.seconds for e in some]):.2f} |"
            )
    return "\n".join(lines)


def _iou(a: Bools, b: Bools) -> float:
    return float((a & b).sum() / max(int((a | b).sum()), 1))
