"""A Dask cluster: other machines that fill, asked through the same executor interface as the processes of this one.

Whatever has to be remembered stays here: fills go out, takes come back, and are kept as they come.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from concurrent.futures import CancelledError, Future
from contextlib import suppress
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar
from uuid import uuid4

import dask
from distributed import Client, KilledWorker, Queue

from keen_sweep.core.fill.engine import Engine, FillInput
from keen_sweep.core.fill.input_crop import crop_input
from keen_sweep.core.fill.model.port import no_payment
from keen_sweep.core.fill.patch import Patch, patch_from_bytes
from keen_sweep.core.progress import no_progress
from keen_sweep.core.sentences import sentence
from keen_sweep.studio.running.errand import Said, do_away, fill_away, packed, unpacked

T = TypeVar("T")
# Longest time to connect to a scheduler, seconds.
CONNECT_SECONDS = 5.0
# Longest wait for an answer of it, seconds.
ANSWER_SECONDS = 20.0
# How long its number of workers is trusted, seconds.
SIZE_LIFETIME_SECONDS = 1.0
# Interval at which it is checked whether a fill is still wanted, seconds.
POLL_SECONDS = 0.2
# Shown as what a run is doing.
SENT_STATUS = sentence("sent to the cluster")
WAITING_STATUS = sentence("waiting for the cluster")
DASK_SETTINGS = {
    "distributed.comm.timeouts.connect": f"{CONNECT_SECONDS:.0f}s",
    # Pixels are large, that is no news.
    "distributed.admin.large-graph-warning-threshold": "4GB",
}


class LostWorker(Exception):
    """The machine that was at it is gone: it has to be done again, as far as it was not done."""


class NoCluster(Exception):
    """The scheduler is gone or has no workers: it has to wait."""


@dataclass
class Cluster:
    """The cluster at a scheduler's address; connected to when it is needed, and again when it was lost."""

    address: str
    _client: Client | None = None
    _known: int = 0
    _asked: float = -1e9

    def size(self) -> int:
        """How many workers it has; none while it cannot be reached."""
        if time.monotonic() - self._asked > SIZE_LIFETIME_SECONDS:
            try:
                client = self._reached()
                self._known = len(client.nthreads())
            except (OSError, RuntimeError, NoCluster):
                self._known = 0
            self._asked = time.monotonic()
        return self._known

    def filling(self, engine: Engine) -> Engine:
        """An engine that has its fills made there."""
        return _Away(self, engine)

    def ask(self, do: Callable[..., T], *given: Any) -> T:
        """Have something done there. Raises LostWorker, NoCluster."""
        future = self.submit(do_away, packed(do, given))
        try:
            (made,) = unpacked(future.result())
        except (CancelledError, OSError) as error:
            raise NoCluster from error
        result: T = made
        return result

    def submit(self, do: Callable[..., Any], *given: Any) -> Future[Any]:
        """Hand something out. Raises NoCluster."""
        executor = self._reached().get_executor(pure=False, retries=0)
        try:
            future: Future[Any] = executor.submit(do, *given)
        except (OSError, RuntimeError) as error:
            raise NoCluster from error
        return future

    def queue(self, name: str) -> Queue:
        """A queue of messages. Raises NoCluster."""
        client = self._reached()
        try:
            return Queue(name, client=client)
        except (OSError, RuntimeError) as error:
            raise NoCluster from error

    def close(self) -> None:
        """Leave it."""
        if self._client is not None:
            self._client.close(timeout=2)
            self._client = None

    def _reached(self) -> Client:
        if self._client is not None and self._client.status == "running":
            return self._client
        self.close()
        try:
            with dask.config.set(DASK_SETTINGS):
                self._client = Client(self.address, timeout=CONNECT_SECONDS, set_as_default=False)
        except (OSError, ValueError) as error:
            raise NoCluster(sentence("There is no scheduler at {address}.", address=self.address)) from error
        return self._client


@dataclass
class _Away:
    """An engine on another machine."""

    cluster: Cluster
    engine: Engine
    name: str = field(init=False)

    def __post_init__(self) -> None:
        self.name = self.engine.name

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """See Engine. Raises LostWorker, NoCluster."""
        engine, inner, window = crop_input(self.engine, given)
        given.progress(0.0, SENT_STATUS)
        # What calls back stays here.
        data = packed(engine, replace(inner, progress=no_progress, paid=no_payment))
        name = uuid4().hex
        try:
            said = self.cluster.queue(name)
            future = self.cluster.submit(fill_away, name, data)
            try:
                for take in _takes(said, future, given, self.cluster):
                    yield take.moved(window.x, window.y)
                # What went wrong there, if anything did.
                future.result()
            finally:
                with suppress(NoCluster, OSError, RuntimeError):
                    future.cancel()
                    # A lost machine does not leave the queue: at least nothing is left in it.
                    _messages(said)
                    said.close()
        except KilledWorker as error:
            raise LostWorker from error
        except (CancelledError, OSError) as error:
            raise NoCluster from error


def _messages(said: Queue) -> list[list[Any]]:
    """All messages that came meanwhile: asked for one by one, each time nothing came would be an error in the
    scheduler's log. Raises NoCluster."""
    try:
        return list(said.get(batch=True, callback_timeout=ANSWER_SECONDS))
    except (OSError, RuntimeError) as error:
        # What a client that was closed meanwhile says is no more than a RuntimeError.
        raise NoCluster from error


def _takes(said: Queue, future: Future[Any], given: FillInput, cluster: Cluster) -> Iterator[Patch]:
    """Takes as they come. Raises LostWorker when it is begun a second time: the scheduler gave it to the next machine
    when the first was gone, and that does not know what is there already."""
    share, doing, begun = 0.0, SENT_STATUS, False
    while True:
        ended = future.done()
        messages = _messages(said)
        for kind, *rest in messages:
            if kind == Said.ENDED:
                return
            if kind == Said.BEGUN:
                if begun:
                    raise LostWorker
                begun = True
            elif kind == Said.PROGRESS:
                share, doing = rest
            elif kind == Said.TAKE:
                data, seconds = rest
                yield replace(patch_from_bytes(data), seconds=seconds)
        if ended and not messages:
            return
        # Raises Cancelled when nobody wants it any more.
        given.progress(share, doing if cluster.size() else WAITING_STATUS)
        if not messages:
            time.sleep(POLL_SECONDS)
