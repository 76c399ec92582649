"""Marks of hurried hands over real things, made masks as on the desk, and put right until they are ready."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from keen_sweep.bench.field.hands import GESTURES_BY_HAND, correction
from keen_sweep.bench.field.photographs import FieldThing, field_things
from keen_sweep.bench.field.removal import Removal, beyond, missed, removal
from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import whole
from keen_sweep.core.mask.cling import cling_further
from keen_sweep.core.mask.fit import grow_mask
from keen_sweep.core.mask.mark_kind import How
from keen_sweep.core.mask.removable import removable_mask
from keen_sweep.core.mask.shape import mask_of

SEED_COUNT = 2
# The simulated hand gives up after this many strokes.
MAX_STROKES = 4


@dataclass(frozen=True)
class Marked:
    """What came of one mark: the first mask's scores, how alike thing and mask are before the margin (intersection over
    union), seconds, and how many strokes it took until it was ready; None where it never was."""

    photograph: str
    thing: str
    kept_back: bool
    hand: str
    first: Removal
    alike: float
    seconds: float
    strokes: int | None


def run_field(
    folder: Path, say: Callable[[str], None], hands: Iterable[str] = GESTURES_BY_HAND, kept_back: bool | None = None
) -> list[Marked]:
    """Every hand over every thing, SEED_COUNT times; only one half of them if kept_back says which.

    Photographs that are not in folder yet are fetched into it. Raises KeenSweepError where they cannot be had.
    """
    out = []
    for number, thing in enumerate(field_things(folder, say)):
        if kept_back not in (None, thing.kept_back):
            continue
        for place, (hand, (how, make)) in enumerate(GESTURES_BY_HAND.items()):
            if hand not in hands:
                continue
            for seed in range(SEED_COUNT):
                shape = make(thing.truth, np.random.default_rng((number, seed, place)))
                near = mask_of([shape], whole(thing.picture)).full(*thing.picture.shape[1::-1]) > 0
                out.append(_marked(thing, hand, how, near))
    return out


def _marked(thing: FieldThing, hand: str, how: How, near: Bools) -> Marked:
    height, width = thing.picture.shape[:2]
    started = time.perf_counter()
    found = removable_mask(thing.picture, near, how)
    margin = found.fit.margin
    seconds = time.perf_counter() - started
    bare = found.mask.full(width, height) > 0
    alike = float((bare & thing.truth).sum() / max(int((bare | thing.truth).sum()), 1))
    score = first = removal(_grown(bare, margin), thing.truth, thing.belongs)
    strokes = 1
    while not score.ready and strokes < MAX_STROKES:
        strokes += 1
        bare = _corrected(thing, bare, _grown(bare, margin))
        score = removal(_grown(bare, margin), thing.truth, thing.belongs)
    return Marked(
        thing.photograph, thing.name, thing.kept_back, hand, first, alike, seconds, strokes if score.ready else None
    )


def _grown(bare: Bools, margin: float) -> Bools:
    return grow_mask(np.where(bare, 255, 0).astype(np.uint8), margin) > 0


def _corrected(thing: FieldThing, bare: Bools, mask: Bools) -> Bools:
    """The mask after one more stroke of Cling over the largest thing that is wrong with it."""
    left, more = missed(mask, thing.truth), beyond(mask, thing.truth, thing.belongs)
    # What is left out costs a removal more than what is too much.
    erase = 5 * left.sum() < more.sum()
    stroke = correction(more if erase else left)
    picture = whole(thing.picture)
    near = mask_of([stroke], picture).full(picture.width, picture.height) > 0
    found = cling_further(thing.picture, near).full(picture.width, picture.height) > 0
    return bare & ~found if erase else bare | found


def table(marked: list[Marked]) -> str:
    """By half and hand: means, and shares of what is ready at once and after two strokes."""
    lines = [
        "| half | hand | marks | left out | too much | ready | ready in two strokes | likeness | seconds |",
        "|---|---|---|---|---|---|---|---|---|",
    ]
    for kept in (False, True):
        for hand in dict.fromkeys(each.hand for each in marked):
            some = [each for each in marked if each.hand == hand and each.kept_back == kept]
            if some:
                lines.append(_row("kept back" if kept else "looked at", hand, some))
    return "\n".join(lines)


def _row(half: str, hand: str, some: list[Marked]) -> str:
    left, more = (np.mean([getattr(each.first, what) for each in some]) for what in ("left_out", "too_much"))
    ready = np.mean([each.first.ready for each in some])
    two = np.mean([each.strokes is not None and each.strokes <= 2 for each in some])
    alike, seconds = np.mean([each.alike for each in some]), np.mean([each.seconds for each in some])
    return (
        f"| {half} | {hand} | {len(some)} | {left:.3f} | {more:.2f} | {ready:.2f} | {two:.2f} | {alike:.2f} "
        f"| {seconds:.2f} |"
    )


def by_thing(marked: list[Marked], hand: str) -> str:
    """One row a thing for one hand, worst first."""
    lines = ["| photograph | thing | left out | too much | strokes |", "|---|---|---|---|---|"]
    things = dict.fromkeys((each.photograph, each.thing) for each in marked)
    rows = []
    for photograph, thing in things:
        some = [e for e in marked if (e.photograph, e.thing, e.hand) == (photograph, thing, hand)]
        left, more = np.mean([e.first.left_out for e in some]), np.mean([e.first.too_much for e in some])
        strokes = ", ".join("never" if e.strokes is None else str(e.strokes) for e in some)
        rows.append((left, f"| {photograph} | {thing} | {left:.3f} | {more:.2f} | {strokes} |"))
    return "\n".join([*lines, *(row for _, row in sorted(rows, reverse=True))])
