"""Mend: do what a snag proposes, in one step that happens wholly or not at all."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

from keen_sweep.core.errors import BadRequest, Conflict, NotFound
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.review.mend import evened, regrown
from keen_sweep.core.review.snag import Mend
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Snag
from keen_sweep.studio.choosing.in_place import in_place
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.choosing.review import review_take
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.takes import keep_take, take_by
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.sitting import Sitting, sit

# How far the place of a snag is grown when it is filled again, pixels.
GROWN = 6


class Does(StrEnum):
    """What comes of a mend: a sweep that is being filled, or a take."""

    FILLING = "filling"
    TAKE = "take"


@dataclass(frozen=True)
class Mended:
    """What a mend did: the sweep that is being filled, or the take that was made."""

    sweep_id: str
    does: Does
    take: int | None = None


def mend(library: Library, frame_id: int, snag_id: int) -> Mended:
    """Do what a snag proposes. Raises NotFound, and whatever a fill raises."""
    with library.session() as session:
        snag = session.get(Snag, snag_id)
        if snag is None or snag.frame_id != frame_id:
            raise NotFound("This snag is not there any more: the take was reviewed again.")
    area = Area.model_validate(snag.area)
    here = sit(library, frame_id)
    if snag.mend not in (Mend.GROW, Mend.SPOT):
        return Mended(snag.sweep_id, Does.TAKE, _mended_take(here, snag, area))
    place = _grown(here, area)
    with library.together():
        if snag.mend is Mend.GROW:
            sweep_id = snag.sweep_id
            add_shapes(library, frame_id, sweep_id, [place])
        else:
            sweep_id, _ = new_sweep(library, frame_id, [place], f"{snag.kind.capitalize()}, mended")
        ask_fill(library, frame_id, sweep_id)
    return Mended(sweep_id, Does.FILLING)


def _mended_take(here: Sitting, snag: Snag, area: Area) -> int:
    """A copy of the snag's take with its grain regrown or its tone evened out; it is picked; its number."""
    library = here.library
    with library.session() as session:
        take = take_by(session, snag.take_id)
    if take.original != here.frame.original:
        raise Conflict("This take was made for another version of the picture: lay it again first.")
    patch = here.shelf.patch(take.patch)
    placed = in_place(here, take, patch)
    hole = placed.alpha > 0
    if snag.mend is Mend.GRAIN:
        place = area.cover(placed.window, library.files.read) > 0
        pixels = regrown(placed.after, hole, place & hole, take.seed)
        why = "its grain regrown"
    else:
        pixels = evened(placed.after, hole)
        why = "its tone evened out"
    box = patch.box.intersect(placed.window)
    inner = box.relative_to(placed.window).slices
    made = Patch(
        box=box,
        pixels=np.array(pixels[inner]),
        alpha=np.where(placed.alpha[inner] > 0, 255, 0).astype(np.uint8),
        method=MadeBy.MEND,
        seed=take.seed,
        energy=take.energy,
        parts=(PartReport(MadeBy.MEND, why, box, int(hole.sum())),),
        parameters={"quality": take.quality, "of": [take.id]},
    )
    with library.together():
        number = keep_take(library, take.frame_id, take.sweep_id, take.run_id, made)
        pick(library, take.frame_id, take.sweep_id, number)
    review_take(library, number)
    return number


def _grown(here: Sitting, area: Area) -> Area:
    """The place of a snag and a rim round it, as a shape to be filled."""
    box = area.box.grow(GROWN, here.box)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * GROWN + 1,) * 2)
    cover = np.asarray(cv2.dilate(area.cover(box, here.shelf.read), disc), np.uint8)
    if not cover.any():
        raise BadRequest("This snag has no place any more: review the take again.")
    return as_area(Mask(box, cover), here.library.files.add)
