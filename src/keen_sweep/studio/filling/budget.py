"""What services were paid, and what a shoot may still cost."""

from __future__ import annotations

from sqlmodel import Session, col, func, select

from keen_sweep.core.errors import NotFound
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Payment, Shoot
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note


def set_budget(library: Library, shoot_id: int, credits: float | None) -> None:
    """How many credits services may cost for a shoot, None for no limit. Raises NotFound."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None:
            raise NotFound("This shoot is not there any more.")
        shoot.budget = credits
        session.add(shoot)
        note(session, EventKind.SHOOTS, shoot=shoot_id)


def book(library: Library, frame: Frame, consent: str, receipt: str, credits: float) -> None:
    """Keep a payment as soon as it was made; a painting that is given again has its receipt already and is not booked
    twice."""
    with library.session() as session:
        if session.exec(select(Payment).where(Payment.receipt == receipt)).first() is not None:
            return
        session.add(Payment(shoot_id=frame.shoot_id, receipt=receipt, consent=consent, credits=credits))
        note(session, EventKind.SHOOTS, shoot=frame.shoot_id)


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


def spent_under(library: Library, consent: str) -> float:
    """Credits that were spent under one consent to a price, which several runs may share."""
    with library.session() as session:
        return session.exec(select(func.sum(col(Payment.credits))).where(Payment.consent == consent)).one() or 0.0


def _spent(session: Session, shoots: list[int]) -> dict[int, float]:
    wanted = select(Payment.shoot_id, func.sum(col(Payment.credits))).group_by(col(Payment.shoot_id))
    return dict(session.exec(wanted.where(col(Payment.shoot_id).in_(shoots))).all())
