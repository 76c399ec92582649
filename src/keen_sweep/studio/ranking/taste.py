"""What a photographer picks, remembered, and what is learned from it: it stays in the library."""

from __future__ import annotations

from dataclasses import asdict, dataclass

from sqlmodel import Session, col, delete, func, select

from keen_sweep.core.fill.method import MadeBy
from keen_sweep.core.review.taste import DEFAULT_TERMS, Choice, Terms, taste_of
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Picked, Take, Taste

# Only the newest picks count: preferences change.
MAX_PICKS = 400


@dataclass(frozen=True)
class Learned:
    """followed: whether picks may put takes in order; picks: of how many sweeps it is known which take was picked;
    weights: what they speak for, None while ours foretell them as well."""

    followed: bool
    picks: int
    weights: Terms | None

    @property
    def order(self) -> Terms | None:
        """The weights by which takes are put in order, if they are not ours."""
        return self.weights if self.followed else None


def learned(session: Session) -> Learned:
    """What was learned from this library's picks."""
    row = session.get(Taste, 1) or Taste()
    picks = session.exec(select(func.count(col(Picked.id)))).one()
    return Learned(row.followed, picks, Terms(**row.weights) if row.weights else None)


def remember(library: Library, frame_id: int, sweep_id: str, pick: str | None) -> None:
    """Keep which of a sweep's takes is picked, by its patch, as far as they were looked at, and learn from it."""
    with library.session(write=True) as session:
        known = session.exec(select(Picked).where(Picked.sweep_id == sweep_id)).first()
        own = session.exec(select(Take).where(Take.sweep_id == sweep_id, Take.frame_id == frame_id)).all()
        # What is made by hand, and true pixels, are not picked for how a fill looks.
        seen = [take for take in own if take.terms and not take.method.by_hand and take.method is not MadeBy.BORROW]
        picked = [take.terms for take in seen if take.patch == pick and take.terms]
        others = [take.terms for take in seen if take.patch != pick and take.terms]
        if known is not None:
            session.delete(known)
            session.flush()
        if picked and others:
            session.add(Picked(sweep_id=sweep_id, picked=picked[0], others=others))
        elif known is None:
            return
    _learn(library)


def follow(library: Library, followed: bool) -> None:
    """Whether picks put takes in order."""
    with library.session() as session:
        row = session.get(Taste, 1) or Taste()
        row.followed = followed
        session.add(row)


def forget(library: Library) -> None:
    """Begin anew: no pick so far counts any more."""
    with library.session() as session:
        session.exec(delete(Picked))
    _learn(library)


def saved(library: Library) -> dict[str, object]:
    """All that is known of picks, as JSON: the terms of what was picked and of what was not, the weights."""
    with library.session() as session:
        rows = session.exec(select(Picked).order_by(col(Picked.id))).all()
        learned_taste = learned(session)
        return {
            "ours": asdict(DEFAULT_TERMS),
            "yours": None if learned_taste.weights is None else asdict(learned_taste.weights),
            "followed": learned_taste.followed,
            "picks": [{"at": row.at.isoformat(), "picked": row.picked, "others": row.others} for row in rows],
        }


def _learn(library: Library) -> None:
    with library.session() as session:
        newest = select(Picked).order_by(col(Picked.id).desc()).limit(MAX_PICKS)
        choices = [
            Choice(Terms(**row.picked), tuple(Terms(**each) for each in row.others)) for row in session.exec(newest)
        ]
    weights = taste_of(choices)
    with library.session() as session:
        row = session.get(Taste, 1) or Taste()
        row.weights = None if weights is None else asdict(weights)
        session.add(row)
