"""All that is at work while a library is served: fills, scouts, carriers, the watcher, and the log of it."""

from __future__ import annotations

import logging
import os
import time
from collections.abc import Callable

from sqlmodel import col, func, select

from keen_sweep.core.errors import LibraryTrouble
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.log import close_log, happened, open_log
from keen_sweep.store.tables import Run
from keen_sweep.store.words import RunState
from keen_sweep.studio.gathering.gone import forget_old
from keen_sweep.studio.notices import send_due
from keen_sweep.studio.running.ahead import load_later
from keen_sweep.studio.running.carriers import Carriers
from keen_sweep.studio.running.queue import Queue
from keen_sweep.studio.running.regularly import Regularly
from keen_sweep.studio.running.scouts import Scouts
from keen_sweep.studio.running.watcher import Watcher

# Interval between two looks for notices to send, seconds.
NOTICE_SECONDS = 1.0
# Interval between two looks for deleted shoots whose time is over, seconds.
CLEANUP_SECONDS = 3600.0


class Background:
    """Opened, it works off what waits in a library until it is closed."""

    def __init__(self, library: Library, make_queue: Callable[[Library], Queue] = Queue) -> None:
        self.library, self._make_queue = library, make_queue
        self._began = time.monotonic()
        self._log: logging.Handler | None = None

    def open(self) -> None:
        """Raises Conflict when another process serves the library, LibraryTrouble when it cannot be written."""
        self.library.claim()
        try:
            self._log = open_log(self.library.folder)
            self.library.clear_incoming()
        except OSError as error:
            raise LibraryTrouble(
                sentence("The library cannot be written: {reason}.", reason=error.strerror or error)
            ) from error
        happened("opened", schema=self.library.revision)
        forget_old(self.library)
        self.queue, self.scouts = self._make_queue(self.library), Scouts(self.library)
        self.carriers, self.watcher = Carriers(self.library), Watcher(self.library)
        # One thread sends them, so that they arrive in order while they arrive at all.
        self.teller = Regularly("notices", lambda: send_due(self.library), NOTICE_SECONDS)
        self.forgetter = Regularly(sentence("deleted shoots"), lambda: forget_old(self.library), CLEANUP_SECONDS)
        for each in (self.queue, self.scouts, self.carriers, self.watcher, self.teller, self.forgetter):
            each.start()
        self._loading = load_later()

    def close(self) -> None:
        self._loading.cancel()
        for each in (self.forgetter, self.teller, self.watcher, self.carriers, self.scouts, self.queue):
            each.stop()
        happened("closed")
        if self._log is not None:
            close_log(self._log)

    @property
    def up(self) -> float:
        """Seconds since it began."""
        return time.monotonic() - self._began

    def in_the_way(self) -> str:
        """What is in the way of working, in a sentence; nothing if nothing is."""
        if not (os.access(self.library.folder, os.W_OK) and os.access(self.library.database, os.W_OK)):
            return sentence("The library is not there, or cannot be written.")
        try:
            with self.library.session() as session:
                session.exec(select(func.count(col(Run.id)))).one()
        except LibraryTrouble as error:
            return str(error)
        if not all(each.alive for each in (self.queue, self.scouts, self.carriers)):
            return sentence("Nothing is worked off any more: start the application again.")
        return ""

    def at_work(self) -> dict[str, int]:
        """How many fills, looks and carryings are at work, and how many fills wait."""
        with self.library.session() as session:
            waiting = session.exec(select(func.count(col(Run.id))).where(Run.state == RunState.WAITING)).one()
        return {
            "filling": self.queue.busy,
            "waiting": waiting,
            "scouting": self.scouts.busy,
            "carrying": self.carriers.busy,
        }
