"""Runs carried out in the process of the test."""

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run
from keen_sweep.store.words import RunState
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.running.carry_out import carry_out


def carried_out(library: Library, run: Run) -> Run:
    """A run as a worker leaves it."""
    with library.session() as session:
        row = session.get_one(Run, run.id)
        row.state = RunState.RUNNING
        session.add(row)
    carry_out(library, run.id)
    with library.session() as session:
        return session.get_one(Run, run.id)


def fill_now(library: Library, frame: Frame, sweep: str, takes: int = 3) -> Run:
    return carried_out(library, ask_fill(library, frame.id, sweep, Fill(takes=takes, quality="fast")))
