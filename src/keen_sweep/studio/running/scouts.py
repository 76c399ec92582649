"""Scouts at work: one process of low priority that looks at frames while nothing else has to be done."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor

import numpy as np
from sqlmodel import col, select

from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.scout.scouts import search_for
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run, Scouting
from keen_sweep.store.words import OPEN_STATES, EventKind, RunState
from keen_sweep.studio.events import note
from keen_sweep.studio.finding.finds import keep_found
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.running.at_work import library_at
from keen_sweep.studio.running.dispatcher import Dispatcher, write_down
from keen_sweep.studio.workers import Workers, lowly

# Longest time for one search, seconds.
MAX_SEARCH_SECONDS = 1_800.0
POLL_SECONDS = 0.3
PROGRESS_SECONDS = 0.5
MAX_ATTEMPTS = 2


def scout(library: Library, scouting_id: int) -> None:
    """Let one scout look at one frame. What goes wrong is written into the row in a sentence."""
    started = time.monotonic()
    with library.session() as session:
        row = session.get(Scouting, scouting_id)
        if row is None or row.state is not RunState.RUNNING:
            return
    said = [0.0]

    def progress(share: float, doing: str) -> None:
        moment = time.monotonic()
        if moment - said[0] >= PROGRESS_SECONDS:
            said[0] = moment
            _write(library, scouting_id, progress=share, doing=doing)

    try:
        current = open_frame(library, row.frame_id)
        picture = current.seen() if row.again else np.asarray(current.pyramid.level(0))
        found = search_for(row.kind, picture, current.guard, row.small, progress)
        with library.session() as session:
            if session.get(Scouting, scouting_id) is None:
                return  # asked anew meanwhile
            keep_found(library, session, current.frame, row.kind, found, current.standing if row.again else ())
        _write(library, scouting_id, state=RunState.DONE, progress=1.0, seconds=time.monotonic() - started)
    except KeenSweepError as error:
        _write(library, scouting_id, state=RunState.FAILED, error=str(error))
    except MemoryError:
        _write(
            library,
            scouting_id,
            state=RunState.FAILED,
            error=sentence("There is not enough memory to look at this picture."),
        )


def _write(library: Library, number: int, **changes: object) -> None:
    write_down(library, Scouting, number, EventKind.FINDS, **changes)


def work(folder: str, scouting_id: int) -> None:
    """What the scouts' process does for one look."""
    scout(library_at(folder), scouting_id)


class Scouts(Dispatcher):
    """Hands waiting looks to their process, those of the frame asked for last first; none while a fill is at work."""

    def __init__(self, library: Library, executor: Callable[[int], Executor] = lowly) -> None:
        # Their process starts when there is something to look at.
        super().__init__(library, Workers(1, executor, seconds=MAX_SEARCH_SECONDS), POLL_SECONDS)

    def start(self) -> None:
        """Begin, with what a killed server left unfinished."""
        with self.library.session() as session:
            for row in session.exec(select(Scouting).where(Scouting.state == RunState.RUNNING)):
                row.state = RunState.WAITING
                session.add(row)
        super().start()

    def _broken_off(self, number: int, error: BaseException) -> None:
        with self.library.session() as session:
            row = session.get(Scouting, number)
            again = row is not None and row.attempts < MAX_ATTEMPTS and isinstance(error, BrokenExecutor)
        if again:
            _write(self.library, number, state=RunState.WAITING)
        else:
            why = sentence("This scout stopped. There may not be enough memory for it.")
            _write(self.library, number, state=RunState.FAILED, error=why)

    def _hand_out(self) -> bool:
        with self.library.session(write=True) as session:
            if session.exec(select(Run.id).where(col(Run.state).in_(OPEN_STATES)).limit(1)).first() is not None:
                return False
            waiting = select(Scouting).where(Scouting.state == RunState.WAITING)
            # The frame that was asked for last is the one that is looked at.
            newest = session.exec(waiting.order_by(col(Scouting.id).desc()).limit(1)).first()
            if newest is None:
                return False
            own = waiting.where(Scouting.frame_id == newest.frame_id)
            row = session.exec(own.order_by(col(Scouting.id)).limit(1)).one()
            row.state, row.attempts, row.progress = RunState.RUNNING, row.attempts + 1, 0.0
            session.add(row)
            note(session, EventKind.FINDS, frame=row.frame_id)
        self._workers.give(row.id, work, str(self.library.folder), row.id)
        return True
