"""Advice on a mark, short and only where it applies: most bad fills are bad masks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from keen_sweep.core.arrays import EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.mask.areas import MAX_SPLIT_AREAS, areas_of
from keen_sweep.core.mask.edge import SEARCH_DISTANCE_PX, edge_profile, edge_within, margin_for
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.parts import parts_of
from keen_sweep.core.mask.slivers import slivers_of
from keen_sweep.core.sentences import sentence

Kind = Literal["tight", "rim", "gap", "guard", "large", "areas", "edge", "loose", "hidden"]
# A mask this long can be filled in stages, pixels.
MIN_STAGED_LENGTH_PX = 720
# Ratio of an edge's strength to its ground from which on the edge counts.
MIN_EDGE_RATIO = 2.2
# A mask is called too large when the thing's edge lies this far inside it, pixels.
MIN_LOOSE_PX = 14
# Room that the proposed margin leaves around the thing, pixels.
PROPOSED_ROOM_PX = 5
# Growth of a mask that closes its slivers, pixels.
GAP_GROWTH_PX = 2
# Area of a sliver that is worth a message, pixels: corners have small ones too.
MIN_GAP_AREA_PX = 60


@dataclass(frozen=True)
class Advice:
    """A remark on a mark that the photographer should consider before filling.

    Attributes
    ----------
    kind : Kind
        What the remark is about.
    text : str
        One sentence for the screen.
    margin : int or None
        Margin that would help, pixels; None where the remark is not about the margin.
    """

    kind: Kind
    text: str
    margin: int | None = None


def advice_on(pixels: Pixels, mask: Mask, free: Mask, margin: float, room: Box) -> list[Advice]:
    """Remarks on a mask before it is filled.

    Parameters
    ----------
    pixels : (h, w, 3) uint8 or uint16
        A window of the picture below the sweep.
    mask : Mask
        The mask, in the window.
    free : Mask
        The same mask without the guard.
    margin : float
        Margin that the mask has now, pixels.
    room : Box
        The whole picture, as seen from the window's corner.

    Returns
    -------
    list of Advice
        The remarks that apply, the most important first.
    """
    if mask.box.empty or not mask.pixels.any():
        return [_guarded()] if free.pixels.any() else []
    out = []
    place, spread, strength = edge_profile(pixels, mask)
    if strength >= MIN_EDGE_RATIO and abs(place) <= SEARCH_DISTANCE_PX / 4 and place + spread > 0:
        more = margin_for(pixels, mask)
        out.append(
            Advice(
                "tight",
                sentence(
                    "The mask ends on an edge, so part of the thing may be left. Grow it by {more} px.", more=more
                ),
                int(margin) + more,
            )
        )
    elif (room_inside := edge_within(pixels, mask)) >= MIN_LOOSE_PX:
        text = sentence(
            "The thing begins {room_inside} px inside the mask. A smaller mask keeps more of the picture.",
            room_inside=room_inside,
        )
        out.append(Advice("loose", text, int(margin) - room_inside + PROPOSED_ROOM_PX))
    if not out and _gaps(mask.pixels):
        out.append(
            Advice(
                "gap",
                sentence(
                    "A narrow gap in the mask may leave part of the thing. Grow the mask by {gap_growth_px} px.",
                    gap_growth_px=GAP_GROWTH_PX,
                ),
                int(margin) + GAP_GROWTH_PX,
            )
        )
    if free.box == mask.box and (free.pixels > mask.pixels).any():
        out.append(Advice("guard", sentence("The mark reaches into the guard. That part stays as it is.")))
    areas = areas_of(mask)
    many = len(areas_of(mask, MAX_SPLIT_AREAS)) if len(areas) == 1 else 1
    if many > 1:
        text = sentence(
            "{many} separate areas, filled together as one sweep. Use Split areas to get takes for each.", many=many
        )
        out.append(Advice("areas", text))
    elif len(areas) > 1:
        out.append(
            Advice(
                "areas", sentence("{count} separate areas. Each becomes a sweep with its own takes.", count=len(areas))
            )
        )
    rows, columns = _extent(mask.pixels)
    if max(rows[1] - rows[0], columns[1] - columns[0]) >= MIN_STAGED_LENGTH_PX:
        out.append(Advice("large", sentence("This mask is large. Filling it in stages may give a better result.")))
    top, left = rows[0] + mask.box.y, columns[0] + mask.box.x
    bottom, right = rows[1] + mask.box.y, columns[1] + mask.box.x
    if top <= room.y or left <= room.x or bottom >= room.bottom or right >= room.right:
        out.append(Advice("edge", sentence("The mask touches the edge of the picture, so there is less to copy from.")))
    return out


def rim_remark(pixels: int) -> Advice:
    """A remark that Cling included a soft rim beyond the edge of the thing.

    Parameters
    ----------
    pixels : int
        Largest width of the rim, pixels.

    Returns
    -------
    Advice
        The remark.
    """
    return Advice("rim", sentence("Blur, hair or shadow past the edge was included: up to {pixels} px.", pixels=pixels))


def hidden_remark(edges: bool) -> Advice:
    """A remark that something half hidden goes on behind the mask.

    Parameters
    ----------
    edges : bool
        Whether edges end at the mask; otherwise its surroundings occur nowhere else.

    Returns
    -------
    Advice
        The remark.
    """
    if not edges:
        return Advice(
            "hidden",
            sentence(
                "Something has to be invented here: the picture shows nothing like it elsewhere. "
                "Borrow from another frame, or use a model."
            ),
        )
    return Advice(
        "hidden",
        sentence(
            "Something has to be invented here: clear edges end at the mask. "
            "Draw how they go on, borrow from another frame, or use a model."
        ),
    )


def _guarded() -> Advice:
    return Advice("guard", sentence("The whole mark lies inside the guard: nothing will be filled."))


def _gaps(pixels: EightBit) -> bool:
    """Whether a gap of a mask holds the rim of what is to go rather than picture."""
    return any(part.area >= MIN_GAP_AREA_PX for part in parts_of(slivers_of(pixels > 0).astype(np.uint8)))


def _extent(pixels: EightBit) -> tuple[tuple[int, int], tuple[int, int]]:
    hard = pixels >= min(MASK_THRESHOLD, int(pixels.max()))
    rows, columns = np.flatnonzero(hard.any(axis=1)), np.flatnonzero(hard.any(axis=0))
    return (int(rows[0]), int(rows[-1]) + 1), (int(columns[0]), int(columns[-1]) + 1)
