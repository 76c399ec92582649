"""The second look: takes are reviewed after each fill and on demand; snags are dismissed."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import asdict

import numpy as np
from sqlmodel import col, delete, select

from keen_sweep.core.errors import Cancelled, KeenSweepError, NotFound
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.fit import MASK_THRESHOLD
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.review.judge import Judge, review_and_rank
from keen_sweep.core.review.review import GoOn, no_check
from keen_sweep.core.review.snag import Laid
from keen_sweep.core.review.taste import DEFAULT_TERMS
from keen_sweep.core.scout.found import FindKind
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Run, Snag, Take
from keen_sweep.store.words import EventKind, RunState
from keen_sweep.studio.choosing.take_in_context import in_place
from keen_sweep.studio.events import note
from keen_sweep.studio.filling.takes import take_by, takes_of
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.ranking.taste import remember

# A larger fill has no surroundings to be judged by, share of the picture.
MAX_FILL_SHARE = 0.4


def review_take(library: Library, take_id: int, judge: Judge = review_and_rank, go_on: GoOn = no_check) -> int:
    """Review one take anew; how many snags it has. What was dismissed stays so if it is found again. go_on may raise to
    leave the take as it is."""
    with library.session() as session:
        take = take_by(session, take_id)
        wire = select(Find).where(Find.sweep_id == take.sweep_id, Find.kind == FindKind.WIRES)
        was_wire = session.exec(wire).first() is not None
    current = open_frame(library, take.frame_id)
    if take.original != current.frame.original or not take.method.invents or take.width * take.height == 0:
        return 0
    sweep = current.stack.sweep(take.sweep_id)
    pick = None if sweep.provisional else sweep.pick
    patch = current.shelf.patch(take.patch)
    if (patch.alpha > 0).sum() > MAX_FILL_SHARE * current.box.area:
        return 0
    placed = in_place(current, take, patch)
    laid = Laid(to_eight_bit(placed.below), to_eight_bit(placed.after), placed.alpha >= MASK_THRESHOLD, was_wire)
    if not laid.hole.any():
        return 0
    snags, terms = judge(laid, go_on)
    rows = []
    for snag in snags:
        box = snag.box.moved(placed.window.x, placed.window.y)
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
                grading=snag.grading,
                mend=snag.mend,
                area=area.model_dump(mode="json"),
            )
        )
    with library.session() as session:
        take = take_by(session, take_id)
        gone = session.exec(select(Snag).where(Snag.take_id == take_id, col(Snag.dismissed))).all()
        dismissed = [(each.kind, Area.model_validate(each.area).box) for each in gone]
        session.exec(delete(Snag).where(col(Snag.take_id) == take_id))
        for row in rows:
            box = Area.model_validate(row.area).box
            row.dismissed = any(kind == row.kind and not box.intersect(old).empty for kind, old in dismissed)
            session.add(row)
        take.review, take.terms = terms.under(DEFAULT_TERMS), asdict(terms)
        session.add(take)
        note(session, EventKind.TAKE, shoot=current.frame.shoot_id, frame=current.frame.id)
    # Who was quicker than the second look has picked already.
    if pick is not None:
        # The review is written: that its sweep is gone meanwhile is no reason to say that it failed.
        with suppress(NotFound):
            remember(library, take.frame_id, take.sweep_id, pick)
    return len(rows)


def look_again(library: Library, run_id: int, judge: Judge = review_and_rank) -> None:
    """Review what was filled in a run's frame and has not been yet, newest first, for as long as no run waits: a fill
    is worth more than what is said of the last one, and does not wait for more than one check. What cannot be reviewed
    is left as it is."""

    def go_on() -> None:
        with library.session() as session:
            if session.exec(select(Run.id).where(Run.state == RunState.WAITING)).first() is not None:
                raise Cancelled(sentence("Fill this sweep first."))

    with library.session() as session:
        run = session.get(Run, run_id)
        frame_id = run.frame_id if run is not None else None
        unseen = select(Take).where(Take.frame_id == frame_id, col(Take.review).is_(None))
        takes = session.exec(unseen.order_by(col(Take.id).desc())).all()
    for take in takes:
        try:
            go_on()
            review_take(library, take.id, judge, go_on)
        except Cancelled:
            return
        except KeenSweepError:
            continue


def review_sweep(library: Library, frame_id: int, sweep_id: str, again: bool = False) -> int:
    """Review the takes of a sweep that have not been yet, all of them if again; how many snags were found."""
    with library.session() as session:
        frame_of(session, frame_id)
    own = [take for take in takes_of(library, sweep_id) if take.frame_id == frame_id]
    return sum(review_take(library, take.id) for take in own if again or take.review is None)


def dismiss(library: Library, frame_id: int, snag_id: int, dismissed: bool = True) -> None:
    """Wave a snag through, for good; or take that back. Raises NotFound."""
    with library.session() as session:
        snag = session.get(Snag, snag_id)
        if snag is None or snag.frame_id != frame_id:
            raise NotFound(sentence("This snag no longer exists: the take was reviewed again."))
        snag.dismissed = dismissed
        session.add(snag)
        note(session, EventKind.TAKE, shoot=frame_of(session, frame_id).shoot_id, frame=frame_id)
