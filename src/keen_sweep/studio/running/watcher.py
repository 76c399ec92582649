"""The watcher: looks into watched folders now and then, and takes up what was written there to its end."""

from __future__ import annotations

from pathlib import Path

from sqlmodel import col, select

from keen_sweep.store.library import Library
from keen_sweep.store.tables import Shoot
from keen_sweep.studio.gathering.watch import fresh_in, look_at, state_of
from keen_sweep.studio.running.regularly import Regularly

# Folders on a network do not report changes: they are polled, seconds.
POLL_SECONDS = 3.0


class Watcher(Regularly):
    """One thread that looks into all watched folders of a library, one after another."""

    def __init__(self, library: Library, every: float = POLL_SECONDS) -> None:
        super().__init__("watched folder", self.look, every)
        self._library = library
        # How each file was when it was seen last: one that changes still is being written.
        self._seen: dict[Path, tuple[int, int]] = {}

    def look(self) -> None:
        """Look once."""
        with self._library.session() as session:
            query = select(Shoot).where(col(Shoot.watched).is_not(None), col(Shoot.gone_at).is_(None))
            shoots = session.exec(query).all()
        seen: dict[Path, tuple[int, int]] = {}
        for shoot in shoots:
            for file, frame in fresh_in(self._library, shoot):
                if self.stopping:
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
