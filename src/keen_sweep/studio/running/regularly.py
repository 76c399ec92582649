"""One thread that does something again and again, as long as a library is served."""

from __future__ import annotations

import threading
from collections.abc import Callable

from keen_sweep.store.log import trouble


class Regularly:
    """What goes wrong is written into the log, and it goes on: a disk that is full, a share that is away come back."""

    def __init__(self, what: str, do: Callable[[], object], every: float) -> None:
        """what: as the log calls it; every: how long is waited between two times, seconds."""
        self._what, self._do, self._every = what, do, every
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._go, name=what, daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        """Do it no more; what is being done is done."""
        self._stop.set()
        self._thread.join(timeout=5)

    @property
    def stopping(self) -> bool:
        return self._stop.is_set()

    def _go(self) -> None:
        while not self._stop.wait(self._every):
            try:
                self._do()
            except Exception as error:
                trouble(self._what, error)
