"""The second look: takes are reviewed after each fill and on demand, snags dismissed and mended."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from pydantic import BaseModel
from sqlmodel import Session, col, delete, select

from keen_sweep.core.box import Box, box_of
from keen_sweep.core.errors import BadRequest, KeenSweepError, NotFound
from keen_sweep.core.fill.patch import PartReport, Patch, lay
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mark import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.render import render
from keen_sweep.core.review.mend import evened, regrown
from keen_sweep.core.review.rank import rank
from keen_sweep.core.review.review import review, room_for, with_visibility
from keen_sweep.core.review.snag import Scene
from keen_sweep.core.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.states import RunState
from keen_sweep.store.tables import Find, Frame, Run, Snag, Take
from keen_sweep.studio.choose import pick
from keen_sweep.studio.events import note
from keen_sweep.studio.fill import ask_fill
from keen_sweep.studio.history import frame_of, revision_of, stack_of
from keen_sweep.studio.mark import add_shapes, new_sweep
from keen_sweep.studio.originals import Originals
from keen_sweep.studio.takes import keep_take

# A fill of more than this share of the picture has no surroundings to be judged by.
LARGEST_SHARE = 0.4
# How far the place of a snag is grown when it is filled again, pixels.
GROWN = 6
# Ways that make nothing up: there is nothing to review.
UNREVIEWED = ("reflection", "backdrop")


class Mended(BaseModel):
    """What a mend did: the sweep that is being filled, or the take that was made."""

    sweep_id: str
    take: int | None = None
    does: Literal["filling", "take"]


def review_take(library: Library, originals: Originals, take_id: int) -> int:
    """Review one take anew; how many snags it has. What was dismissed stays so if it is found again."""
    with library.session() as session:
        take, frame = _take(session, take_id)
        stack = stack_of(revision_of(session, frame))
        wire = session.exec(select(Find).where(Find.sweep_id == take.sweep_id, Find.kind == "wires")).first()
    if take.method in UNREVIEWED or take.width * take.height == 0:
        return 0
    patch = originals.patch(take.patch)
    if (patch.alpha > 0).sum() > LARGEST_SHARE * frame.width * frame.height:
        return 0
    scene, window = _scene(originals, frame, stack, take, patch, wire is not None)
    if not scene.hole.any():
        return 0
    snags = with_visibility(scene, review(scene))
    judged = rank(scene, snags)
    rows = []
    for snag in snags:
        box = snag.box.relative_to(Box(x=-window.x, y=-window.y, width=0, height=0))
        area = as_area(Mask(box, np.where(snag.place, 255, 0).astype(np.uint8)), library.files.add)
        rows.append(
            Snag(
                frame_id=take.frame_id,
                sweep_id=take.sweep_id,
                take_id=take_id,
                kind=snag.kind,
                strength=snag.strength,
                why=snag.why,
                visible=snag.visible,
                mend=snag.mend,
                area=area.model_dump(),
            )
        )
    with library.session() as session:
        take, _ = _take(session, take_id)
        gone = session.exec(select(Snag).where(Snag.take_id == take_id, col(Snag.dismissed))).all()
        dismissed = [(each.kind, Area.model_validate(each.area).box) for each in gone]
        session.exec(delete(Snag).where(col(Snag.take_id) == take_id))
        for row in rows:
            box = Area.model_validate(row.area).box
            row.dismissed = any(kind == row.kind and not box.intersect(old).empty for kind, old in dismissed)
            session.add(row)
        take.review = judged
        session.add(take)
        note(session, "take", shoot=frame.shoot_id, frame=frame.id)
    return len(rows)


def look_again(library: Library, run_id: int) -> None:
    """Review what was filled in a run's frame and has not been yet, newest first, for as long as no run waits: a fill
    is worth more than what is said of the last one. What cannot be reviewed is left as it is."""
    with library.session() as session:
        run = session.get(Run, run_id)
        frame_id = run.frame_id if run is not None else None
        takes = session.exec(
            select(Take).where(Take.frame_id == frame_id, col(Take.review).is_(None)).order_by(col(Take.id).desc())
        ).all()
    originals = Originals(library)
    for take in takes:
        with library.session() as session:
            if session.exec(select(Run.id).where(Run.state == RunState.WAITING)).first() is not None:
                return
        try:
            if take.id is not None:
                review_take(library, originals, take.id)
        except KeenSweepError:
            continue


def review_sweep(library: Library, originals: Originals, frame_id: int, sweep_id: str, again: bool = False) -> int:
    """Review the takes of a sweep that have not been yet, all of them if again; how many snags were found."""
    with library.session() as session:
        frame_of(session, frame_id)
        takes = session.exec(select(Take).where(Take.frame_id == frame_id, Take.sweep_id == sweep_id)).all()
    wanted = [take.id for take in takes if take.id is not None and (again or take.review is None)]
    return sum(review_take(library, originals, take_id) for take_id in wanted)


def dismiss(library: Library, frame_id: int, snag_id: int, dismissed: bool = True) -> None:
    """Wave a snag through, for good; or take that back. Raises NotFound."""
    with library.session() as session:
        snag = _snag(session, frame_id, snag_id)
        snag.dismissed = dismissed
        session.add(snag)
        note(session, "take", shoot=frame_of(session, frame_id).shoot_id, frame=frame_id)


def mend(library: Library, originals: Originals, frame_id: int, snag_id: int) -> Mended:
    """Do what a snag proposes. Raises NotFound, and whatever a fill raises."""
    with library.session() as session:
        snag = _snag(session, frame_id, snag_id)
    area = Area.model_validate(snag.area)
    if snag.mend == "grow":
        add_shapes(library, frame_id, snag.sweep_id, [_grown(library, frame_id, area)])
        ask_fill(library, frame_id, snag.sweep_id)
        return Mended(sweep_id=snag.sweep_id, does="filling")
    if snag.mend == "spot":
        name = f"{snag.kind}, mended"
        sweep_id, _ = new_sweep(library, frame_id, [_grown(library, frame_id, area)], name[0].upper() + name[1:])
        ask_fill(library, frame_id, sweep_id)
        return Mended(sweep_id=sweep_id, does="filling")
    take = _mended_take(library, originals, snag, area)
    return Mended(sweep_id=snag.sweep_id, take=take, does="take")


@dataclass(frozen=True)
class _Laid:
    """A take in its surroundings at full depth."""

    below: Pixels
    after: Pixels
    alpha: np.ndarray
    window: Box


def _laid(originals: Originals, frame: Frame, stack: Stack, take: Take, patch: Patch) -> _Laid:
    picture = Box(x=0, y=0, width=frame.width, height=frame.height)
    tight = box_of(patch.alpha)
    hole = tight.relative_to(Box(x=-patch.box.x, y=-patch.box.y, width=0, height=0))
    window = room_for(hole, picture)
    known = any(sweep.id == take.sweep_id for sweep in stack.sweeps)
    below = render(originals.pyramid(frame.original), stack.below(take.sweep_id) if known else stack, originals, window)
    after = below.copy()
    lay(after, window, patch)
    alpha = np.zeros(below.shape[:2], np.uint8)
    common = patch.box.intersect(window)
    alpha[common.relative_to(window).slices] = patch.alpha[common.relative_to(patch.box).slices]
    return _Laid(below, after, alpha, window)


def _scene(originals: Originals, frame: Frame, stack: Stack, take: Take, patch: Patch, wire: bool) -> tuple[Scene, Box]:
    laid = _laid(originals, frame, stack, take, patch)
    return Scene(to_eight_bit(laid.below), to_eight_bit(laid.after), laid.alpha > 127, wire), laid.window


def _mended_take(library: Library, originals: Originals, snag: Snag, area: Area) -> int:
    """A copy of the snag's take with its grain regrown or its tone evened out; it is picked; its number."""
    with library.session() as session:
        take, frame = _take(session, snag.take_id)
        stack = stack_of(revision_of(session, frame))
    patch = originals.patch(take.patch)
    laid = _laid(originals, frame, stack, take, patch)
    hole = laid.alpha > 0
    if snag.mend == "grain":
        place = area.cover(laid.window, library.files.read) > 0
        pixels = regrown(laid.after, hole, place & hole, take.seed)
        why = "its grain regrown"
    else:
        pixels = evened(laid.after, hole)
        why = "its tone evened out"
    box = patch.box.intersect(laid.window)
    made = Patch(
        box=box,
        pixels=np.array(pixels[box.relative_to(laid.window).slices]),
        alpha=np.where(laid.alpha[box.relative_to(laid.window).slices] > 0, 255, 0).astype(np.uint8),
        method="mend",
        seed=take.seed,
        energy=take.energy,
        parts=(PartReport("mend", why, box, int(hole.sum())),),
        parameters={"quality": take.quality},
    )
    number = keep_take(library, take.frame_id, take.sweep_id, take.run_id, made)
    pick(library, take.frame_id, take.sweep_id, number)
    review_take(library, originals, number)
    return number


def _grown(library: Library, frame_id: int, area: Area) -> Area:
    """The place of a snag and a rim round it, as a shape to be filled."""
    with library.session() as session:
        frame = frame_of(session, frame_id)
    box = area.box.grow(GROWN, Box(x=0, y=0, width=frame.width, height=frame.height))
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * GROWN + 1,) * 2)
    cover = np.asarray(cv2.dilate(area.cover(box, library.files.read), disc), np.uint8)
    if not cover.any():
        raise BadRequest("This snag has no place any more: review the take again.")
    return as_area(Mask(box, cover), library.files.add)


def _take(session: Session, take_id: int) -> tuple[Take, Frame]:
    take = session.get(Take, take_id)
    if take is None:
        raise NotFound("This take is not there any more.")
    return take, frame_of(session, take.frame_id)


def _snag(session: Session, frame_id: int, snag_id: int) -> Snag:
    snag = session.get(Snag, snag_id)
    if snag is None or snag.frame_id != frame_id:
        raise NotFound("This snag is not there any more: the take was reviewed again.")
    return snag
