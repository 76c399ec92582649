"""The dispatcher: rows of the database handed to workers one after another, by a thread that looks now and then."""

from __future__ import annotations

import threading
from abc import ABC, abstractmethod

from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.log import happened, trouble
from keen_sweep.store.tables import Carrying, Scouting
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.workers import Workers

# Pause after a round that failed, seconds.
PAUSE_SECONDS = 1.0


class Dispatcher(ABC):
    """What the queue of fills, the scouts and the carriers have in common; each says which row is next, and what
    becomes of one whose process broke off."""

    def __init__(self, library: Library, workers: Workers, every: float) -> None:
        """every: how often it looks, seconds."""
        self.library, self._workers, self._every = library, workers, every
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._go, name=type(self).__name__, daemon=True)
        # Rows whose end could not be written down yet.
        self._unsaid: list[tuple[int, BaseException]] = []

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    @property
    def alive(self) -> bool:
        """Whether it goes round."""
        return self._thread.is_alive()

    @property
    def busy(self) -> int:
        """How many rows are at work."""
        return self._workers.busy

    def stop(self) -> None:
        """Stop handing out rows and end the processes; what they were at waits for the next start."""
        self._stop.set()
        self._workers.wait_no_more()
        self._thread.join(timeout=5)
        self._workers.stop()

    def _go(self) -> None:
        while not self._stop.wait(self._every):
            try:
                self._round()
            except Exception as error:  # a full disk, a share that is away: it goes on once that is over
                trouble("round", error, of=type(self).__name__)
                self._stop.wait(PAUSE_SECONDS)

    def _round(self) -> None:
        for number, error in self._workers.ended():
            note_ended(type(self).__name__, number, error)
            if error is not None:
                self._unsaid.append((number, error))
        while self._unsaid:
            self._broken_off(*self._unsaid[0])
            self._unsaid.pop(0)
        while self._workers.free and self._hand_out():
            pass
        self._after()

    @abstractmethod
    def _hand_out(self) -> bool:
        """Give the next row to a worker, if there is one."""

    @abstractmethod
    def _broken_off(self, number: int, error: BaseException) -> None:
        """A row's process died, took too long, or failed in a way that should not happen."""

    def _after(self) -> None:  # noqa: B027 - most have nothing to do then
        """Once a round."""


def note_ended(of: str, number: int, error: BaseException | None) -> None:
    """Write into the log that a process has done with a row."""
    if error is None:
        happened("ended", of=of, number=number)
    else:
        trouble(sentence("broken off"), error, of=of, number=number)


def write_down(
    library: Library, table: type[Scouting | Carrying], number: int, kind: EventKind, **changes: object
) -> None:
    """Change a row that may be gone by now, and tell of it."""
    with library.session() as session:
        row: Scouting | Carrying | None = session.get(table, number)  # type: ignore[assignment]
        if row is None:
            return
        for name, value in changes.items():
            setattr(row, name, value)
        session.add(row)
        note(session, kind, frame=row.frame_id)
