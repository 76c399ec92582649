"""What services were paid, and what a shoot may still cost."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, col, func, select

from keen_sweep.core.errors import NotFound
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Payment, Run, Shoot
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.filling.fill import FillRequest


def set_budget(library: Library, shoot_id: int, credits: float | None) -> None:
    """How many credits services may cost for a shoot, None for no limit. Raises NotFound."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None:
            raise NotFound(sentence("This shoot no longer exists."))
        shoot.budget = credits
        session.add(shoot)
        note(session, EventKind.SHOOTS, shoot=shoot_id)


@dataclass(frozen=True)
class Agreement:
    """What a run may still spend. left: credits that were agreed to and not spent yet, by this run or another under the
    same consent; paid: credits that this run has paid already, before it was broken off; takes: how many were asked for
    in all, those that are ready included."""

    left: float
    paid: float
    takes: int


def agreement_for(library: Library, run: Run, asked: FillRequest) -> Agreement:
    """What of the credits agreed to for a run is left, and what it has paid before it was broken off."""
    with library.session() as session:
        total = select(func.sum(col(Payment.credits)))
        paid = session.exec(total.where(Payment.run_id == run.id)).one() or 0.0
        spent = session.exec(total.where(Payment.consent == asked.consent)).one() or 0.0
    return Agreement(max(asked.credits - spent, 0.0), paid, asked.takes)


def book(library: Library, run: Run, consent: str, receipt: str, credits: float) -> None:
    """Keep a payment as soon as it was made; a painting that is given again has its receipt already and is not booked
    twice."""
    with library.session() as session:
        if session.exec(select(Payment).where(Payment.receipt == receipt)).first() is not None:
            return
        shoot = session.get_one(Frame, run.frame_id).shoot_id
        session.add(Payment(shoot_id=shoot, run_id=run.id, receipt=receipt, consent=consent, credits=credits))
        note(session, EventKind.SHOOTS, shoot=shoot)


def budget_left(library: Library, shoot_id: int) -> float | None:
    """Credits that a shoot may still cost; None where there is no limit."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None or shoot.budget is None:
            return None
        return max(shoot.budget - _spent(session, [shoot_id]).get(shoot_id, 0.0), 0.0)


def spent_in(library: Library, shoots: list[int]) -> dict[int, float]:
    """Credits that were spent in some shoots, by shoot."""
    with library.session() as session:
        return _spent(session, shoots)


def _spent(session: Session, shoots: list[int]) -> dict[int, float]:
    wanted = select(Payment.shoot_id, func.sum(col(Payment.credits))).group_by(col(Payment.shoot_id))
    return dict(session.exec(wanted.where(col(Payment.shoot_id).in_(shoots))).all())
