"""Work that nobody waits for any more."""

from __future__ import annotations

from collections.abc import Sequence

from sqlmodel import Session, col, select

from keen_sweep.store.moment import now
from keen_sweep.store.tables import Run
from keen_sweep.store.words import RunState


def call_off(session: Session, frames: Sequence[int]) -> None:
    """Stop the fills of some frames, at once where they wait, soon where they are being worked on."""
    for run in session.exec(select(Run).where(col(Run.frame_id).in_(frames))):
        if run.state is RunState.WAITING:
            run.state, run.ended_at = RunState.CANCELLED, now()
        elif run.state is RunState.RUNNING:
            run.state = RunState.STOPPING
        session.add(run)
