"""What a cluster's worker does: a fill comes in as bytes, takes go out as bytes.

It needs no library, no database, and none of the server's files.
"""

from __future__ import annotations

import pickle
import time
from collections.abc import Callable
from dataclasses import replace
from enum import StrEnum
from typing import Any

import cv2
from distributed import Queue, get_worker

from keen_sweep import __version__
from keen_sweep.core.errors import BadRequest, Cancelled
from keen_sweep.core.fill.engine import Engine, FillInput
from keen_sweep.core.fill.patch import patch_to_bytes
from keen_sweep.core.sentences import sentence

# Interval between two progress reports, seconds.
PROGRESS_SECONDS = 0.25
# Between the version and the pickled job.
VERSION_SEPARATOR = b"\n"


class Said(StrEnum):
    """What a message is about."""

    BEGUN = "begun"
    PROGRESS = "progress"
    TAKE = "take"
    ENDED = "ended"


def packed(*what: Any) -> bytes:
    """Something to be sent, behind the version it is for."""
    return __version__.encode() + VERSION_SEPARATOR + pickle.dumps(what, protocol=5)


def unpacked(data: bytes) -> tuple[Any, ...]:
    """The inverse. Raises BadRequest when it was sent by another version, whose objects are not even looked at."""
    head, _, what = data.partition(VERSION_SEPARATOR)
    version = head.decode(errors="replace")
    if version != __version__:
        raise BadRequest(
            sentence(
                "A machine of the cluster has Keen Sweep {version}, this one {needed_version}: install the same.",
                version=__version__,
                needed_version=version,
            )
        )
    return tuple(pickle.loads(what))


def fill_away(name: str, data: bytes) -> None:
    """Make a fill; what there is to say goes into the queue of that name. It stops when nobody wants it any more."""
    worker = get_worker()
    key, cores, last_report = worker.get_current_task(), int(worker.state.nthreads), [0.0]
    said = Queue(name)
    said.put([Said.BEGUN])

    def progress(share: float, doing: str) -> None:
        moment = time.monotonic()
        if moment - last_report[0] < PROGRESS_SECONDS:
            return
        last_report[0] = moment
        task = worker.state.tasks.get(key)
        if task is None or task.state == "cancelled":
            raise Cancelled(sentence("The fill was cancelled."))
        said.put([Said.PROGRESS, share, doing])

    try:
        cv2.setNumThreads(cores)
        engine, given = _fill_input(data)
        for patch in engine.fill(replace(given, cores=cores, progress=progress)):
            said.put([Said.TAKE, patch_to_bytes(patch), patch.seconds])
    finally:
        said.put([Said.ENDED])
        said.close()


def _fill_input(data: bytes) -> tuple[Engine, FillInput]:
    engine, given = unpacked(data)
    return engine, given


def do_away(data: bytes) -> bytes:
    """Do something else that takes time, and give back what came of it."""
    do, given = unpacked(data)
    made: Callable[..., Any] = do
    return packed(made(*given))
