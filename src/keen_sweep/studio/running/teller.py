"""The teller: sends the notices that are due, while a library is served."""

from __future__ import annotations

import threading

from keen_sweep.store.library import Library
from keen_sweep.store.log import trouble
from keen_sweep.studio.notices import send_due

# Seconds.
LOOK_EVERY = 1.0


class Teller:
    """One thread that sends what is due; one at a time, so that they arrive in order while they arrive at all."""

    def __init__(self, library: Library, every: float = LOOK_EVERY) -> None:
        self._library, self._every = library, every
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._go, name="Teller", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        """Send no more; what is due waits for the next start."""
        self._stop.set()
        self._thread.join(timeout=5)

    def _go(self) -> None:
        while not self._stop.wait(self._every):
            try:
                send_due(self._library)
            except Exception as error:  # a full disk, a library that is away: it goes on once that is over
                trouble("notices", error)
