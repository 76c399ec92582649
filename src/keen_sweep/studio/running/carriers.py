"""Carriers: processes that carry sweeps over to other frames, while the desk is used for something else."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor

from sqlmodel import col, select

from keen_sweep.core.errors import KeenSweepError, NotTheSamePlace
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Carrying
from keen_sweep.store.words import EventKind, RunState
from keen_sweep.studio.carrying.carry import put_down, unseen, work_out
from keen_sweep.studio.events import note
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.running.at_work import library_at
from keen_sweep.studio.running.dispatcher import Dispatcher, write_down
from keen_sweep.studio.workers import Workers, lowly

# Longest time for one frame, seconds.
MAX_FRAME_SECONDS = 600.0
POLL_SECONDS = 0.15
MAX_ATTEMPTS = 2
WORKER_COUNT = 2
# One take of each sweep, picked when it arrives.
SINGLE_PICKED_FILL = Fill(takes=1, pick=True)


def carry_out(library: Library, carrying_id: int) -> None:
    """Carry over to one frame what a row says. What goes wrong is written into the row in a sentence."""
    with library.session() as session:
        row = session.get(Carrying, carrying_id)
        if row is None or row.state is not RunState.RUNNING:
            return
    try:
        worked = work_out(library, row.frame_id, row.sweeps, row.to_id, row.sensor, row.wide)
        if row.fill:
            worked = unseen(worked)
        with library.together():
            landed = put_down(library, worked)
            for each in landed:
                if row.fill and each.made is not None:
                    ask_fill(library, row.to_id, each.made, SINGLE_PICKED_FILL)
            _write(library, carrying_id, state=RunState.DONE, landed=[each.model_dump(mode="json") for each in landed])
    except KeenSweepError as error:
        elsewhere = isinstance(error, NotTheSamePlace)
        _write(library, carrying_id, state=RunState.FAILED, error=str(error), elsewhere=elsewhere)
    except MemoryError:
        _write(
            library,
            carrying_id,
            state=RunState.FAILED,
            error=sentence("There is not enough memory to align this frame."),
        )


def _write(library: Library, number: int, **changes: object) -> None:
    write_down(library, Carrying, number, EventKind.CARRYING, **changes)


def work(folder: str, carrying_id: int) -> None:
    """What a worker process does for one frame."""
    carry_out(library_at(folder), carrying_id)


class Carriers(Dispatcher):
    """Hands waiting rows, oldest first, to processes that start when there is something to carry."""

    def __init__(self, library: Library, executor: Callable[[int], Executor] = lowly) -> None:
        super().__init__(library, Workers(WORKER_COUNT, executor, seconds=MAX_FRAME_SECONDS), POLL_SECONDS)

    def start(self) -> None:
        """Begin, with what a killed server left unfinished."""
        with self.library.session() as session:
            for row in session.exec(select(Carrying).where(Carrying.state == RunState.RUNNING)):
                row.state = RunState.WAITING
                session.add(row)
        super().start()

    def _broken_off(self, number: int, error: BaseException) -> None:
        with self.library.session() as session:
            row = session.get(Carrying, number)
            again = row is not None and row.attempts < MAX_ATTEMPTS and isinstance(error, BrokenExecutor)
        if again:
            _write(self.library, number, state=RunState.WAITING)
        else:
            why = sentence("Carrying over broke off: perhaps there is not enough memory for it.")
            _write(self.library, number, state=RunState.FAILED, error=why)

    def _hand_out(self) -> bool:
        with self.library.session(write=True) as session:
            waiting = select(Carrying).where(Carrying.state == RunState.WAITING).order_by(col(Carrying.id)).limit(1)
            row = session.exec(waiting).first()
            if row is None:
                return False
            row.state, row.attempts = RunState.RUNNING, row.attempts + 1
            session.add(row)
            note(session, EventKind.CARRYING, frame=row.frame_id)
        self._workers.give(row.id, work, str(self.library.folder), row.id)
        return True
