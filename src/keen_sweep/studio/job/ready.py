"""How far the work on the frames of a job is, read from the library: what was done before is not done again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from sqlmodel import Session, col, func, select

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Find, Frame, Snag, Take
from keen_sweep.studio.gathering.states import Standing, standings
from keen_sweep.studio.ranking.offered import offered


@dataclass(frozen=True)
class Candidate:
    """A take that may be picked: whether it is offered first, how the review judged it, and how strong the worst is
    that it has to say of it, 0 for nothing."""

    take: Take
    offered: bool
    worst: float

    @property
    def judged(self) -> bool:
        """Whether the review could say something of it: nothing is known of one that is too large to be reviewed."""
        return self.take.review is not None or not self.take.method.invents


def kept_of(library: Library, frame: Frame) -> int:
    """How many finds of a frame were kept already, whatever became of them."""
    kept = select(func.count(col(Find.id))).where(Find.frame_id == frame.id, col(Find.sweep_id).is_not(None))
    with library.session() as session:
        return session.exec(kept).one()


def takes_by_sweep(session: Session, frames: Sequence[Frame]) -> dict[str, list[Take]]:
    """The takes of some frames as they are now, by sweep, oldest first."""
    original = {frame.id: frame.original for frame in frames}
    own: defaultdict[str, list[Take]] = defaultdict(list)
    for take in session.exec(select(Take).where(col(Take.frame_id).in_(original)).order_by(col(Take.id))):
        if take.original == original[take.frame_id]:
            own[take.sweep_id].append(take)
    return dict(own)


def candidates(library: Library, frame: Frame) -> dict[str, list[Candidate]]:
    """The takes of a frame by sweep, the one that is offered first before the others, which follow as the review likes
    them."""
    with library.session() as session:
        own = takes_by_sweep(session, [frame])
        first = offered(session, [frame])
        # What shows only after grading is no reason to look at a frame before it is delivered.
        wrong = select(Snag).where(
            Snag.frame_id == frame.id, col(Snag.dismissed).is_(False), col(Snag.grading).is_(None)
        )
        snags = session.exec(wrong).all()
    worst: defaultdict[int, float] = defaultdict(float)
    for snag in snags:
        worst[snag.take_id] = max(worst[snag.take_id], snag.strength)
    out = {}
    for sweep, takes in own.items():
        listed = [Candidate(take, take.id == first.get(sweep), worst[take.id]) for take in takes]
        out[sweep] = sorted(listed, key=lambda each: (not each.offered, each.take.review or 0.0, each.take.seed))
    return out


def standing_of(library: Library, frame: Frame) -> tuple[Frame, Standing]:
    """A frame as it is now, and how far it is."""
    with library.session() as session:
        now = session.get_one(Frame, frame.id)
        return now, standings(session, [now])[now.id]
