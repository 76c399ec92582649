"""An application without workers."""

import pytest


class NoQueue:
    alive, busy = True, 0

    def __init__(self, *_: object) -> None: ...
    def start(self) -> None: ...
    def stop(self) -> None: ...


def no_queues(patch: pytest.MonkeyPatch) -> None:
    patch.setattr("keen_sweep.api.app.Queue", NoQueue)
    patch.setattr("keen_sweep.studio.running.background.Scouts", NoQueue)
    patch.setattr("keen_sweep.studio.running.background.Carriers", NoQueue)
