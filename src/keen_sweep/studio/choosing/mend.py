"""Mend: do what a snag proposes, in one step that happens wholly or not at all; or what all of a take propose."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np
from sqlmodel import col, select

from keen_sweep.core.errors import BadRequest, Conflict, NotFound
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.fill.patch import PartReport, Patch
from keen_sweep.core.fill.provenance import Provenance
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.review.mend import even_tone, regrain
from keen_sweep.core.review.snag import Mend
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Snag, Take
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.choosing.review import review_take
from keen_sweep.studio.choosing.take_in_context import in_place
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.takes import MadeFor, keep_take, take_by
from keen_sweep.studio.marking.draw import add_shapes, new_sweep
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# Growth of the place of a snag when it is filled again, pixels.
GROWTH_PX = 6


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
            raise NotFound(sentence("This snag no longer exists: the take was reviewed again."))
    area = Area.model_validate(snag.area)
    current = open_frame(library, frame_id)
    if snag.mend not in (Mend.GROW, Mend.SPOT):
        grain = [area] if snag.mend is Mend.GRAIN else []
        take = _kept(current, _mended(current, snag.take_id, grain, snag.mend is Mend.TONE))
        review_take(library, take)
        return Mended(snag.sweep_id, Does.TAKE, take)
    place = _grown(current, area)
    with library.together():
        if snag.mend is Mend.GROW:
            return _taken_in(library, snag, [place])
        return _on_top(library, frame_id, [place], f"{snag.kind.capitalize()}, mended")


def mend_all(library: Library, frame_id: int, take_id: int) -> Mended:
    """Do what all snags of a take propose that were not waved through. What was left out is taken in, and all is filled
    again; otherwise grain and tone become a take of its own, and the places that are left are filled as one sweep on
    top. Raises NotFound, and whatever a fill raises."""
    with library.session() as session:
        found = select(Snag).where(Snag.take_id == take_id, Snag.frame_id == frame_id, ~col(Snag.dismissed))
        snags = session.exec(found.order_by(col(Snag.strength).desc())).all()
    if not snags:
        raise NotFound(sentence("The second look found nothing to mend in this take."))
    current = open_frame(library, frame_id)
    areas = {each: [Area.model_validate(snag.area) for snag in snags if snag.mend is each] for each in Mend}
    if areas[Mend.GROW]:
        with library.together():
            return _taken_in(library, snags[0], [_grown(current, area) for area in areas[Mend.GROW]])
    wanted = areas[Mend.GRAIN] or areas[Mend.TONE]
    better = _mended(current, take_id, areas[Mend.GRAIN], bool(areas[Mend.TONE])) if wanted else None
    places = [_grown(current, area) for area in areas[Mend.SPOT]]
    with library.together():
        take = _kept(current, better) if better else None
        done = Mended(snags[0].sweep_id, Does.TAKE, take)
        if places:
            done = _on_top(library, frame_id, places, "Mended")
    if take is not None:
        review_take(library, take)
    return done


def _taken_in(library: Library, snag: Snag, places: list[Area]) -> Mended:
    """A snag's sweep with places added to its mark, being filled again."""
    add_shapes(library, snag.frame_id, snag.sweep_id, list(places))
    ask_fill(library, snag.frame_id, snag.sweep_id)
    return Mended(snag.sweep_id, Does.FILLING)


def _on_top(library: Library, frame_id: int, places: list[Area], name: str) -> Mended:
    """A sweep of places, on top of all others, being filled."""
    sweep_id, _ = new_sweep(library, frame_id, list(places), name)
    ask_fill(library, frame_id, sweep_id)
    return Mended(sweep_id, Does.FILLING)


def _kept(current: OpenFrame, better: tuple[Take, Patch]) -> int:
    """The number of a take that stands in for another one from now on: it is kept and picked."""
    take, made = better
    with current.library.together():
        number = keep_take(
            current.library, take.frame_id, take.sweep_id, take.run_id, made, MadeFor(take.original, take.below)
        )
        pick(current.library, take.frame_id, take.sweep_id, number)
    return number


def _mended(current: OpenFrame, take_id: int, grain: list[Area], tone: bool) -> tuple[Take, Patch]:
    """A take, and a copy of it with its grain regrown in places and its tone matched. Raises Conflict."""
    with current.library.session() as session:
        take = take_by(session, take_id)
    if take.original != current.frame.original:
        raise Conflict(sentence("This take was made for another version of the picture. Lay it again first."))
    patch = current.shelf.patch(take.patch)
    placed = in_place(current, take, patch)
    hole = placed.alpha > 0
    pixels, did = placed.after, []
    if tone:
        pixels = even_tone(pixels, hole)
        did.append(sentence("its tone matched"))
    if grain:
        place = np.any([area.cover(placed.window, current.library.files.read) > 0 for area in grain], axis=0)
        pixels = regrain(pixels, hole, place & hole, take.seed)
        did.append(sentence("its grain regrown"))
    box = patch.box.intersect(placed.window)
    inner = box.relative_to(placed.window).slices
    made = Patch(
        box=box,
        pixels=np.array(pixels[inner]),
        alpha=np.where(placed.alpha[inner] > 0, 255, 0).astype(np.uint8),
        method=MadeBy.MEND,
        seed=take.seed,
        energy=take.energy,
        parts=(PartReport(MadeBy.MEND, ", ".join(did), box, int(hole.sum())),),
        provenance=Provenance(quality=take.quality, of=(take.id,)),
    )
    return take, made


def _grown(current: OpenFrame, area: Area) -> Area:
    """The place of a snag and a rim round it, as a shape to be filled."""
    box = area.box.grow(GROWTH_PX, current.box)
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * GROWTH_PX + 1,) * 2)
    cover = np.asarray(cv2.dilate(area.cover(box, current.shelf.read), disc), np.uint8)
    if not cover.any():
        raise BadRequest(sentence("This snag no longer has a place. Review the take again."))
    return as_area(Mask(box, cover), current.library.files.add)
