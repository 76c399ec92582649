"""What to point out about a stroke of a touch-up brush once it is made."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.sentences import sentence
from keen_sweep.core.touch.dab import Dab
from keen_sweep.core.touch.source import copy_source, source_box

# Share of a stroke that must come from the thing, or from beyond the picture, to be reported.
MIN_SHARE = 0.02
# Number of copies of one source that make a pattern.
MIN_REPEATS = 3
# Two sources are the same when they share this much of the smaller one.
MIN_COMMON_SHARE = 0.5
# Below this share of the source's fine detail, a stroke has gone soft.
MIN_DETAIL_SHARE = 0.75
# Number of weak strokes on top of each other that explain it.
MIN_WEAK_STROKES = 3


@dataclass(frozen=True)
class Caution:
    """A remark on a touch-up.

    Attributes
    ----------
    kind : {"thing", "edge", "pattern", "soft"}
        What it is about.
    text : str
        One sentence for the screen.
    """

    kind: Literal["thing", "edge", "pattern", "soft"]
    text: str


def cautions(
    dab: Dab, stroke: Stroke, before: Pixels, after: Pixels, thing: Bools, earlier: Sequence[Dab]
) -> list[Caution]:
    """Check a touch-up stroke for typical mistakes.

    Parameters
    ----------
    dab : Dab
        The touch-up.
    stroke : Stroke
        Its stroke.
    before : (H, W, 3) uint8 or uint16
        The picture before it.
    after : (H, W, 3) uint8 or uint16
        The picture after it.
    thing : (H, W) bool
        What is still to be removed and visible.
    earlier : sequence of Dab
        Earlier touch-ups, oldest first.

    Returns
    -------
    list of Caution
        The remarks.
    """
    picture = Box(x=0, y=0, width=before.shape[1], height=before.shape[0])
    box = dab.reach(picture)
    if dab.source is None or box.empty:
        return []
    out = []
    cover = stroke.cover(box) > 0
    marks = np.repeat(thing.astype(np.uint8)[..., None], 3, 2)
    from_thing, inside = copy_source(dab.source, box, picture, lambda window: marks[window.slices])
    covered = max(int(cover.sum()), 1)
    if (cover & inside & (from_thing[..., 0] > 0)).sum() > MIN_SHARE * covered:
        out.append(Caution("thing", sentence("The source runs into what is being removed, and copies it back in.")))
    if (cover & ~inside).sum() > MIN_SHARE * covered:
        out.append(Caution("edge", sentence("The source runs out of the picture, so part of this stroke did nothing.")))
    times = _laid_already(dab, picture, earlier) + 1
    if times >= MIN_REPEATS:
        out.append(
            Caution(
                "pattern",
                sentence("This patch is used for the {ordinal} time and shows as a pattern.", ordinal=_ordinal(times)),
            )
        )
    weak = [each for each in earlier if each.strength < 100 and _common(each.reach(picture), box) > MIN_COMMON_SHARE]
    if dab.strength < 100 and len(weak) + 1 >= MIN_WEAK_STROKES:
        source_pixels, _ = copy_source(dab.source, box, picture, lambda window: before[window.slices])
        kept = _detail(after[box.slices], cover) / max(_detail(source_pixels, cover), 1e-6)
        if kept < MIN_DETAIL_SHARE:
            text = sentence(
                "Repeated weak strokes have left {kept:.0%} of the grain here. One strong stroke keeps more.", kept=kept
            )
            out.append(Caution("soft", text))
    return out


def _laid_already(dab: Dab, picture: Box, earlier: Sequence[Dab]) -> int:
    """How many earlier strokes laid the same patch elsewhere; a copy of a copy counts as the first one."""
    origins: list[tuple[Box, Box]] = []
    for each in (*earlier, dab):
        if each.source is None:
            continue
        earlier_box = source_box(each.source, each.reach(picture))
        for origin, laid in reversed(origins):
            if _common(laid, earlier_box) > MIN_COMMON_SHARE:
                earlier_box = Box(
                    x=earlier_box.x - laid.x + origin.x,
                    y=earlier_box.y - laid.y + origin.y,
                    width=earlier_box.width,
                    height=earlier_box.height,
                )
                break
        origins.append((earlier_box, each.reach(picture)))
    own, place = origins[-1]
    return sum(
        _common(earlier_box, own) > MIN_COMMON_SHARE and _common(laid, place) < MIN_COMMON_SHARE
        for earlier_box, laid in origins[:-1]
    )


def _common(a: Box, b: Box) -> float:
    smaller = min(a.area, b.area)
    return a.intersect(b).area / smaller if smaller else 0.0


def _detail(pixels: Pixels, where: Bools) -> float:
    """Median strength of what a Gaussian of .8 pixels takes away: grain, not edges."""
    grey = pixels.astype(np.float32).mean(axis=2)
    fine = np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 0.8))
    return float(np.median(fine[where]))


def _ordinal(number: int) -> str:
    return {3: "third", 4: "fourth", 5: "fifth"}.get(number, f"{number}th")
