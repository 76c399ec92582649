"""Second thoughts on a mark: advice, and proposals of what was forgotten."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.fill.half_hidden import half_hidden
from keen_sweep.core.fill.inventing import NARROW_RADIUS_PX, needs_inventing
from keen_sweep.core.mask.advice import Advice, advice_on, hidden_remark, rim_remark
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import areas_of, as_area
from keen_sweep.core.mask.edge import SEARCH_DISTANCE_PX
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.mirror import mirror_of
from keen_sweep.core.mask.remainder import remainder_of
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.shadow import shadow_of
from keen_sweep.core.mask.sun_projection import Sun
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.studio.open_frame import OpenFrame, open_frame

Belongs = Literal["shadow", "mirror", "rest"]
# A proposal that the mask covers this far is none.
MAX_COVERED_SHARE = 0.5
# Nothing is proposed for masks with more areas.
MAX_AREAS = 6
# Nothing is proposed for larger areas: the photographer would wait.
MAX_PROPOSAL_PIXELS = 2_500_000

# Surroundings in which a mask is compared with the rest of the picture, longer sides of it.
HIDDEN_ROOM_RATIO = 1.5


@dataclass(frozen=True)
class Proposal:
    """Something that seems to belong to the thing too, as a shape to add to the mark, and its outline."""

    kind: Belongs
    area: Area
    rings: list[Ring]


def advise(
    library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None
) -> tuple[list[Advice], list[Proposal]]:
    """What to think of before a sweep is filled."""
    current = open_frame(library, frame_id, revision_id)
    mask = current.mask(sweep_id)
    if mask.box.empty:
        return [], []
    proposals = []
    areas = areas_of(mask)
    for area in areas if len(areas) <= MAX_AREAS else []:
        if area.box.area > MAX_PROPOSAL_PIXELS:
            continue
        # Only what may be looked at is rendered: a large picture must not make a small mark slow.
        window = area.box.grow(round(2.7 * max(area.box.width, area.box.height)), current.box)
        seen = current.below(sweep_id, window)
        for kind, found, sun in _found(seen, _seen_from(window, area), _known_sun(current.stack)):
            back = Box(x=-window.x, y=-window.y, width=1, height=1)
            placed = _beyond(_seen_from(back, found), mask, current.guard)
            if placed is not None:
                shape = as_area(placed, library.files.add).model_copy(update={"sun": sun})
                proposals.append(Proposal(kind, shape, rings_of(placed)))
    window = mask.box.grow(SEARCH_DISTANCE_PX, current.box)
    own, free = _seen_from(window, mask), _seen_from(window, current.mask(sweep_id, unguarded=True))
    sweep = current.stack.sweep(sweep_id)
    mark = sweep.mark
    margin = mark.fit.margin
    rims = [shape.rim for shape in mark.shapes if isinstance(shape, Area) and shape.rim and not shape.erase]
    advice = [rim_remark(max(rims))] if rims else []
    advice += advice_on(current.below(sweep_id, window), own, free, margin, current.box.relative_to(window))
    # Where a mask leaves part of the thing, it is the thing's own edges that end there.
    if not sweep.lead and not any(each.kind in ("tight", "gap") for each in advice):
        advice += _hidden(current, sweep_id, areas)
    return advice, proposals


def _hidden(current: OpenFrame, sweep_id: str, areas: list[Mask]) -> list[Advice]:
    """At most one remark that something half hidden goes on behind a mask."""
    for area in areas if len(areas) <= MAX_AREAS else []:
        radius = cv2.distanceTransform((area.pixels >= MASK_THRESHOLD).astype(np.uint8), cv2.DIST_L2, 3).max()
        if area.box.area > MAX_PROPOSAL_PIXELS or radius <= NARROW_RADIUS_PX:
            continue
        window = area.box.grow(round(HIDDEN_ROOM_RATIO * max(area.box.width, area.box.height)), current.box)
        hole = np.zeros((window.height, window.width), np.bool_)
        hole[area.box.relative_to(window).slices] = area.pixels >= MASK_THRESHOLD
        below = current.below(sweep_id, window)
        found = half_hidden(below, hole)
        if found.says:
            return [hidden_remark(edges=True)]
        if needs_inventing(below, hole).needed:
            return [hidden_remark(edges=False)]
    return []


def _seen_from(window: Box, mask: Mask) -> Mask:
    """A mask as it lies in a window of the picture."""
    return Mask(mask.box.relative_to(window), mask.pixels)


def _found(below: np.ndarray, area: Mask, sun: Sun | None) -> list[tuple[Belongs, Mask, tuple[float, float] | None]]:
    out: list[tuple[Belongs, Mask, tuple[float, float] | None]] = []
    shadow = shadow_of(below, area, sun)
    if shadow is not None:
        out.append(("shadow", shadow.mask, (shadow.sun.across, shadow.sun.down)))
    mirror = mirror_of(below, area)
    if mirror is not None:
        out.append(("mirror", mirror[0], None))
    rest = remainder_of(below, area)
    if rest is not None:
        out.append(("rest", rest, None))
    return out


def _known_sun(stack: Stack) -> Sun | None:
    """The sun of a shadow that was accepted in this frame."""
    for sweep in stack.sweeps:
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
    if tight.empty or (pixels > 0).sum() < (1 - MAX_COVERED_SHARE) * area:
        return None
    box = tight.moved(found.box.x, found.box.y)
    return Mask(box, pixels[tight.slices])
