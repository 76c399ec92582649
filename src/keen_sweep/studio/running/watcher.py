"""The watcher: looks into watched folders now and then, and takes up what was written there to its end."""

from __future__ import annotations

import threading
from pathlib import Path

from sqlmodel import col, select

from keen_sweep.store.library import Library
from keen_sweep.store.log import trouble
from keen_sweep.store.tables import Shoot
from keen_sweep.studio.gathering.watch import fresh_in, look_at, state_of

# Seconds. Folders on a network tell nobody that something changed: they are looked at.
LOOK_EVERY = 3.0


class Watcher:
    """One thread that looks into all watched folders of a library, one after another."""

    def __init__(self, library: Library, every: float = LOOK_EVERY) -> None:
        self._library, self._every = library, every
        # How each file was when it was seen last: one that changes still is being written.
        self._seen: dict[Path, tuple[int, int]] = {}
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._go, name="Watcher", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        """Look no more; what is being taken up is taken up."""
        self._stop.set()
        self._thread.join(timeout=5)

    def _go(self) -> None:
        while not self._stop.wait(self._every):
            try:
                self.look()
            except Exception as error:  # a share that is away, a full disk: it is looked at once that is over
                trouble("watched folder", error)

    def look(self) -> None:
        """Look once."""
        with self._library.session() as session:
            here = select(Shoot).where(col(Shoot.watched).is_not(None), col(Shoot.gone_at).is_(None))
            shoots = session.exec(here).all()
        seen: dict[Path, tuple[int, int]] = {}
        for shoot in shoots:
            for file, frame in fresh_in(self._library, shoot):
                if self._stop.is_set():
                    return
                try:
                    state = state_of(file)
                    if self._seen.get(file) == state:
                        look_at(self._library, shoot.id, file, frame)
                    else:
                        seen[file] = state
                except OSError:
                    # Gone again, or its share is.
                    continue
        self._seen = seen
