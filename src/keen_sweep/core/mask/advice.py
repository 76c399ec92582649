"""Advice on a mark, short and only where it applies: most bad fills are bad masks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.areas import MOST_SPLIT, areas_of
from keen_sweep.core.mask.edge import LOOKED_AT, edge_profile, edge_within, margin_for
from keen_sweep.core.mask.fit import HALF
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.parts import parts_of
from keen_sweep.core.mask.slivers import slivers_of

Kind = Literal["tight", "rim", "gap", "guard", "large", "areas", "edge", "loose"]
# From here on a mask is long enough for stages, pixels; and so much stronger than its ground is an edge.
LONG = 720
STRONG = 2.2
# From how far inside the mask the edge of the thing must lie before the mask is called too large, and how much room the
# proposed margin leaves round the thing, pixels.
LOOSE_PX = 14
SPARED_PX = 5
# By how much a mask grows so that its slivers are closed, and how large one is that is worth a word, pixels: corners
# have small ones too.
GAP = 2
LEAST_GAP = 60


@dataclass(frozen=True)
class Advice:
    """One sentence, what it is about, and the margin that would help where it is about that."""

    kind: Kind
    text: str
    margin: int | None = None


def advice_on(pixels: Pixels, mask: Mask, free: Mask, margin: float, room: Box) -> list[Advice]:
    """What to think of before a mask is filled.

    pixels (h, w, 3) of a window below the sweep; mask there as it is; free: the same without the guard; margin: that
    it has now; room: the whole picture, seen from the window's corner.
    """
    if mask.box.empty or not mask.pixels.any():
        return [_guarded()] if free.pixels.any() else []
    out = []
    place, spread, strength = edge_profile(pixels, mask)
    if strength >= STRONG and abs(place) <= LOOKED_AT / 4 and place + spread > 0:
        more = margin_for(pixels, mask)
        out.append(
            Advice(
                "tight",
                f"The mask ends on an edge, so part of the thing may be left. Grow it by {more} px.",
                int(margin) + more,
            )
        )
    elif (room_inside := edge_within(pixels, mask)) >= LOOSE_PX:
        text = f"The thing begins {room_inside} px inside the mask. A smaller mask keeps more of the picture."
        out.append(Advice("loose", text, int(margin) - room_inside + SPARED_PX))
    if not out and _gaps(mask.pixels):
        out.append(
            Advice(
                "gap",
                f"A narrow gap in the mask may leave part of the thing. Grow the mask by {GAP} px.",
                int(margin) + GAP,
            )
        )
    if free.box == mask.box and (free.pixels > mask.pixels).any():
        out.append(Advice("guard", "The mark reaches into the guard. That part stays as it is."))
    areas = areas_of(mask)
    many = len(areas_of(mask, MOST_SPLIT)) if len(areas) == 1 else 1
    if many > 1:
        text = f"{many} separate areas, filled together as one sweep. Use Split areas to get takes for each."
        out.append(Advice("areas", text))
    elif len(areas) > 1:
        out.append(Advice("areas", f"{len(areas)} separate areas. Each becomes a sweep with its own takes."))
    rows, columns = _extent(mask.pixels)
    if max(rows[1] - rows[0], columns[1] - columns[0]) >= LONG:
        out.append(Advice("large", "This mask is large. Filling it in stages may give a better result."))
    top, left = rows[0] + mask.box.y, columns[0] + mask.box.x
    bottom, right = rows[1] + mask.box.y, columns[1] + mask.box.x
    if top <= room.y or left <= room.x or bottom >= room.bottom or right >= room.right:
        out.append(Advice("edge", "The mask touches the edge of the picture, so there is less to copy from."))
    return out


def rim_taken(pixels: int) -> Advice:
    """What cling saw past the edge of a thing and took in."""
    return Advice("rim", f"Blur, hair or shadow past the edge was included: up to {pixels} px.")


def _guarded() -> Advice:
    return Advice("guard", "The whole mark lies inside the guard: nothing will be filled.")


def _gaps(pixels: EightBit) -> bool:
    """Whether a gap of a mask holds the rim of what is to go rather than picture."""
    return any(part.area >= LEAST_GAP for part in parts_of(slivers_of(pixels > 0).astype(np.uint8)))


def _extent(pixels: EightBit) -> tuple[tuple[int, int], tuple[int, int]]:
    hard = pixels >= min(HALF, int(pixels.max()))
    rows, columns = np.flatnonzero(hard.any(axis=1)), np.flatnonzero(hard.any(axis=0))
    return (int(rows[0]), int(rows[-1]) + 1), (int(columns[0]), int(columns[-1]) + 1)
