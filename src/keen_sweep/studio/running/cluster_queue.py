"""The queue of a server that has its fills done by a cluster.

Each run has a process here, as it has without one, which reads the library, sends the order out and keeps the takes
that come back; the work itself is done elsewhere. Runs wait while there is no cluster.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor
from functools import cache

from sqlmodel import select

from keen_sweep.core.review.judge import review_and_rank
from keen_sweep.core.review.review import GoOn
from keen_sweep.core.review.snag import Laid, Snag
from keen_sweep.core.review.taste import Terms
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Run
from keen_sweep.store.words import EventKind, RunState
from keen_sweep.studio import events
from keen_sweep.studio.choosing.review import look_again
from keen_sweep.studio.running.at_work import library_at
from keen_sweep.studio.running.carry_out import carry_out
from keen_sweep.studio.running.cluster import WAITING_STATUS, Cluster, LostWorker, NoCluster
from keen_sweep.studio.running.queue import Queue
from keen_sweep.studio.workers import forked

# Runs at the same time, whatever the size of the cluster: each has a process on this machine.
MAX_CONCURRENT_RUNS = 12
# Runs beyond the number of workers: one is read while others are filled, so that no worker waits.
EXTRA_RUNS = 1


@cache
def _cluster(address: str) -> Cluster:
    """A process's connection, kept from run to run."""
    return Cluster(address)


def work_away(folder: str, run_id: int, address: str) -> None:
    """What a process here does for one run. Raises LostWorker, NoCluster."""
    library, cluster = library_at(folder), _cluster(address)

    def judge(laid: Laid, _: GoOn) -> tuple[list[Snag], Terms]:
        return cluster.ask(review_and_rank, laid)

    carry_out(library, run_id, cluster.filling)
    look_again(library, run_id, judge)


class ClusterQueue(Queue):
    """Hands waiting runs, oldest first, to as many processes as the cluster has workers."""

    _lost = (BrokenExecutor, LostWorker, NoCluster)

    def __init__(self, library: Library, address: str, executor: Callable[[int], Executor] = forked) -> None:
        super().__init__(library, MAX_CONCURRENT_RUNS, executor)
        self._cluster = Cluster(address)

    def stop(self) -> None:
        """See Queue."""
        super().stop()
        self._cluster.close()

    def _broken_off(self, number: int, error: BaseException) -> None:
        if isinstance(error, NoCluster):
            with self.library.session() as session:
                run = session.get(Run, number)
                if run is not None:
                    # No fault of the run's.
                    run.attempts -= 1
                    session.add(run)
        super()._broken_off(number, error)

    def _hand_out(self) -> bool:
        worker_count = self._cluster.size()
        if not worker_count:
            self._tell()
        return worker_count > 0 and self._workers.busy < worker_count + EXTRA_RUNS and super()._hand_out()

    def _tell(self) -> None:
        """Say what the waiting runs wait for."""
        with self.library.session() as session:
            waiting = select(Run).where(Run.state == RunState.WAITING, Run.doing != WAITING_STATUS)
            for run in session.exec(waiting).all():
                run.doing = WAITING_STATUS
                session.add(run)
                events.note(session, EventKind.RUN, frame=run.frame_id, run=run.id)

    def _give(self, run_id: int) -> None:
        self._workers.give(run_id, work_away, str(self.library.folder), run_id, self._cluster.address)
