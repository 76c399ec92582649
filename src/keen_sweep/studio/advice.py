"""Second thoughts on a mark: advice, and proposals of what was forgotten."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.mask.advice import Advice, advice_on
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import areas_of, as_area
from keen_sweep.core.mask.mark import Mask, guard_of, mask_of
from keen_sweep.core.mask.mirror import mirror_of
from keen_sweep.core.mask.rest import rest_of
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.shadow import Sun, shadow_of
from keen_sweep.core.stack import Stack, render
from keen_sweep.store.library import Library
from keen_sweep.studio.mark import state_of
from keen_sweep.studio.originals import Originals

# A proposal that the mask covers this far already is none; and above so many areas nothing is proposed.
COVERED, MOST_AREAS = 0.5, 6


@dataclass(frozen=True)
class Proposal:
    """Something that seems to belong to the thing too, as a shape to add to the mark, and its outline."""

    kind: Literal["shadow", "mirror", "rest"]
    area: Area
    rings: list[Ring]


def advise(
    library: Library, originals: Originals, frame_id: int, sweep_id: str, revision_id: int | None = None
) -> tuple[list[Advice], list[Proposal]]:
    """What to think of before a sweep is filled."""
    frame, stack = state_of(library, frame_id, revision_id)
    mark, load = stack.sweep(sweep_id).mark, library.files.read
    guard = guard_of(stack.guard, frame.width, frame.height, load)
    mask = mask_of(mark, frame.width, frame.height, load, guard)
    if mask.box.empty:
        return [], []
    free = mask if guard is None else mask_of(mark, frame.width, frame.height, load)
    below = render(originals.pyramid(frame.original), stack.below(sweep_id), originals.patch)
    proposals = []
    areas = areas_of(mask)
    for area in areas if len(areas) <= MOST_AREAS else []:
        for kind, found, sun in _found(below, area, _known_sun(stack)):
            placed = _beyond(found, mask, guard)
            if placed is not None:
                shape = as_area(placed, library.files.add).model_copy(update={"sun": sun})
                proposals.append(Proposal(kind, shape, rings_of(placed)))
    return advice_on(below, mask, free, mark.fit.margin), proposals


def _found(
    below: np.ndarray, area: Mask, sun: Sun | None
) -> list[tuple[Literal["shadow", "mirror", "rest"], Mask, tuple[float, float] | None]]:
    out: list[tuple[Literal["shadow", "mirror", "rest"], Mask, tuple[float, float] | None]] = []
    shadow = shadow_of(below, area, sun)
    if shadow is not None:
        out.append(("shadow", shadow.mask, (shadow.sun.across, shadow.sun.down)))
    mirror = mirror_of(below, area)
    if mirror is not None:
        out.append(("mirror", mirror[0], None))
    rest = rest_of(below, area)
    if rest is not None:
        out.append(("rest", rest, None))
    return out


def _known_sun(stack: Stack) -> Sun | None:
    """The sun of a shadow that was accepted in this frame."""
    for sweep in stack.layers:
        for shape in sweep.mark.shapes:
            if isinstance(shape, Area) and shape.sun is not None:
                return Sun(*shape.sun)
    return None


def _beyond(found: Mask, mask: Mask, guard: np.ndarray | None) -> Mask | None:
    """What a proposal adds to a mask, tightly boxed; None if that is little."""
    pixels = found.pixels.copy()
    area = int((pixels > 0).sum())
    common = found.box.intersect(mask.box)
    if not common.empty:
        covered = mask.pixels[common.relative_to(mask.box).slices] > 0
        pixels[common.relative_to(found.box).slices][covered] = 0
    if guard is not None:
        pixels[guard[found.box.slices]] = 0
    tight = box_of(pixels > 0)
    if tight.empty or (pixels > 0).sum() < (1 - COVERED) * area:
        return None
    box = Box(x=tight.x + found.box.x, y=tight.y + found.box.y, width=tight.width, height=tight.height)
    return Mask(box, pixels[tight.slices])
