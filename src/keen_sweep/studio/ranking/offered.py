"""Which take is offered first."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence

from sqlmodel import Session, col, func, select

from keen_sweep.core.fill.borrow.engine import MIN_FIRST_SHARE
from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.review.taste import Terms
from keen_sweep.store.tables import Frame, Take
from keen_sweep.studio.ranking.taste import learned


def best_of(takes: Sequence[Take], taste: Terms | None) -> int | None:
    """The take that is offered first: one that is mostly true pixels, if there is one; the one the review likes best,
    as the photographer's picks weigh it if they do, and before there is one, the engine."""
    if not takes:
        return None
    borrowed = [take for take in takes if take.method is MadeBy.BORROW]
    true = [take for take in borrowed if (take.provenance.borrowed or 0.0) >= MIN_FIRST_SHARE]
    if true:
        return min(true, key=lambda take: (take.energy, take.seed)).id
    competing = [take for take in takes if not take.method.by_hand]
    terms = [Terms(**take.terms) for take in competing if take.terms is not None]
    if competing and taste is not None and len(terms) == len(competing):
        ranked = zip(terms, competing, strict=True)
        return min(ranked, key=lambda each: (each[0].under(taste), each[1].seed))[1].id
    if competing and all(take.review is not None for take in competing):
        return min(competing, key=lambda take: (take.review or 0.0, take.seed)).id
    return min(takes, key=lambda take: (take.energy, take.seed)).id


def offered(session: Session, frames: Iterable[Frame]) -> dict[str, int]:
    """The take that is offered first of every sweep of some frames that has takes, by the sweep's id."""
    original = {frame.id: frame.original for frame in frames}
    own: defaultdict[str, list[Take]] = defaultdict(list)
    rows = select(Take).where(col(Take.frame_id).in_(original)).order_by(col(Take.id))
    for take in session.exec(rows):
        if take.original == original[take.frame_id]:
            own[take.sweep_id].append(take)
    taste = learned(session).order
    return {sweep: best for sweep, takes in own.items() if (best := best_of(takes, taste)) is not None}


def newest(session: Session, frames: Iterable[Frame]) -> dict[str, int]:
    """The newest take of every sweep of some frames that has takes, by the sweep's id."""
    wanted = col(Take.frame_id).in_([frame.id for frame in frames])
    rows = session.exec(select(Take.sweep_id, func.max(Take.id)).where(wanted).group_by(col(Take.sweep_id)))
    return dict(rows.all())
