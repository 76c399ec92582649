"""Scouts at work: one process of low priority that looks at frames while nothing else has to be done."""

from __future__ import annotations

import multiprocessing
import os
import threading
import time
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future, ProcessPoolExecutor
from pathlib import Path

import numpy as np
from sqlmodel import col, select

from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.scout.find import Kind
from keen_sweep.core.scout.scouts import KINDS, look_for
from keen_sweep.store.library import Library
from keen_sweep.store.states import OPEN, RunState
from keen_sweep.store.tables import Run, Scouting
from keen_sweep.studio.events import note
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.originals import Originals
from keen_sweep.studio.queue import end_with_parent, end_workers
from keen_sweep.studio.scout import guard_for, keep_found

LOOK_EVERY, REPORT_EVERY = 0.3, 0.5
MOST_ATTEMPTS = 2


def scout(library: Library, scouting_id: int) -> None:
    """Let one scout look at one frame. What goes wrong is written into the row in a sentence."""
    started = time.monotonic()
    with library.session() as session:
        row = session.get(Scouting, scouting_id)
        if row is None or row.state != "running":
            return
        frame = frame_of(session, row.frame_id)
    kind: Kind = next(each for each in KINDS if each == row.kind)
    said = [0.0]

    def progress(share: float, doing: str) -> None:
        moment = time.monotonic()
        if moment - said[0] >= REPORT_EVERY:
            said[0] = moment
            _write(library, scouting_id, progress=share, doing=doing)

    try:
        pixels = np.asarray(Originals(library).pyramid(frame.original).level(0))
        found = look_for(kind, pixels, guard_for(library, row.frame_id), row.small, progress)
        with library.session() as session:
            if session.get(Scouting, scouting_id) is None:
                return  # asked anew meanwhile
            keep_found(library, session, frame, kind, found)
        _write(library, scouting_id, state=RunState.DONE, progress=1.0, seconds=time.monotonic() - started)
    except KeenSweepError as error:
        _write(library, scouting_id, state=RunState.FAILED, error=str(error))
    except MemoryError:
        _write(library, scouting_id, state=RunState.FAILED, error="There is not enough memory to look at this picture.")


def _write(library: Library, scouting_id: int, **changes: object) -> None:
    with library.session() as session:
        row = session.get(Scouting, scouting_id)
        if row is None:
            return
        for name, value in changes.items():
            setattr(row, name, value)
        session.add(row)
        note(session, "finds", frame=row.frame_id)


def work(folder: str, scouting_id: int) -> None:
    """What the scouts' process does for one look."""
    library = Library(Path(folder), ready=True)
    try:
        scout(library, scouting_id)
    finally:
        library.close()


def _quietly() -> None:
    """Painting and fills go first: scouts get what they leave over."""
    os.nice(19)
    end_with_parent()


def lowly() -> Executor:
    """One process of the lowest priority, started when there is something to look at."""
    return ProcessPoolExecutor(1, mp_context=multiprocessing.get_context("spawn"), initializer=_quietly)


class Scouts:
    """Hands waiting looks to their process, those of the frame asked for last first; none while a fill is at work."""

    def __init__(self, library: Library, executor: Callable[[], Executor] = lowly) -> None:
        self.library = library
        self._make_executor = executor
        self._executor: Executor | None = None
        self._running: tuple[int, Future[None]] | None = None
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._loop, name="scouts", daemon=True)

    def start(self) -> None:
        """Begin, with what a killed server left unfinished."""
        with self.library.session() as session:
            for row in session.exec(select(Scouting).where(Scouting.state == RunState.RUNNING)):
                row.state = RunState.WAITING
                session.add(row)
        self._thread.start()

    def stop(self) -> None:
        self._stop.set()
        self._thread.join(timeout=5)
        if self._executor is not None:
            end_workers(self._executor)

    def _loop(self) -> None:
        while not self._stop.wait(LOOK_EVERY):
            self._collect()
            if self._running is None:
                self._hand_out()

    def _collect(self) -> None:
        if self._running is None or not self._running[1].done():
            return
        scouting_id, future = self._running
        self._running = None
        error = future.exception()
        if error is None:
            return
        if isinstance(error, BrokenExecutor):
            self._executor = None
        why = "This scout broke off: perhaps there is not enough memory for it."
        with self.library.session() as session:
            row = session.get(Scouting, scouting_id)
            again = row is not None and row.attempts < MOST_ATTEMPTS and isinstance(error, BrokenExecutor)
        _write(
            self.library,
            scouting_id,
            **({"state": RunState.WAITING} if again else {"state": RunState.FAILED, "error": why}),
        )

    def _hand_out(self) -> None:
        with self.library.session(write=True) as session:
            if session.exec(select(Run.id).where(col(Run.state).in_(OPEN)).limit(1)).first() is not None:
                return
            waiting = select(Scouting).where(Scouting.state == RunState.WAITING)
            # The frame that was asked for last is the one that is looked at.
            newest = session.exec(waiting.order_by(col(Scouting.id).desc()).limit(1)).first()
            if newest is None:
                return
            own = waiting.where(Scouting.frame_id == newest.frame_id)
            row = session.exec(own.order_by(col(Scouting.id)).limit(1)).one()
            row.state, row.attempts, row.progress = RunState.RUNNING, row.attempts + 1, 0.0
            session.add(row)
            note(session, "finds", frame=row.frame_id)
        assert row.id is not None
        if self._executor is None:
            self._executor = self._make_executor()
        self._running = row.id, self._executor.submit(work, str(self.library.folder), row.id)
