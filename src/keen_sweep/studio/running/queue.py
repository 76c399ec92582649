"""The queue of runs: durable in the database, worked off by worker processes."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor

from sqlmodel import col, select

from keen_sweep.core.sentences import sentence
from keen_sweep.settings import Settings
from keen_sweep.store.library import Library
from keen_sweep.store.log import happened
from keen_sweep.store.moment import now
from keen_sweep.store.tables import Run
from keen_sweep.store.words import BUSY_STATES, EventKind, RunState
from keen_sweep.studio import events
from keen_sweep.studio.choosing.review import look_again
from keen_sweep.studio.notices import tell_of_run
from keen_sweep.studio.running.at_work import library_at
from keen_sweep.studio.running.carry_out import carry_out
from keen_sweep.studio.running.dispatcher import Dispatcher
from keen_sweep.studio.workers import Workers, forked

MAX_ATTEMPTS = 3
POLL_SECONDS = 0.15
# Old events are deleted every so many rounds.
PRUNE_ROUNDS = 2_000


def work(folder: str, run_id: int) -> None:
    """What a worker process does for one run."""
    library = library_at(folder)
    carry_out(library, run_id)
    # The takes are there by now: whoever waits for them does not wait for what is said of them.
    if Settings().second_look:
        look_again(library, run_id)


class Queue(Dispatcher):
    """Hands waiting runs, oldest first, to workers. A fill uses all cores, so one worker is the habit."""

    # Errors of a run that was lost on the way and is done again.
    _lost: tuple[type[BaseException], ...] = (BrokenExecutor,)

    def __init__(self, library: Library, workers: int = 1, executor: Callable[[int], Executor] = forked) -> None:
        super().__init__(library, Workers(workers, executor), POLL_SECONDS)
        self._turns = 0

    def start(self) -> None:
        """Put what a killed server left unfinished back into the queue, and begin."""
        with self.library.session() as session:
            for run in session.exec(select(Run).where(col(Run.state).in_(BUSY_STATES))).all():
                self._again(run)
                session.add(run)
                if not run.state.is_open:
                    events.note(session, EventKind.RUN, frame=run.frame_id, run=run.id)
                    tell_of_run(session, run)
        super().start()

    def _go(self) -> None:
        # Not before the server answers: the first process of all comes once everything is loaded.
        self._workers.start()
        super()._go()

    @staticmethod
    def _again(run: Run) -> None:
        """What becomes of a run that broke off."""
        if run.state is RunState.STOPPING:
            run.state, run.ended_at = RunState.CANCELLED, now()
        elif run.state is not RunState.RUNNING:
            return
        elif run.attempts >= MAX_ATTEMPTS:
            run.state, run.ended_at = RunState.FAILED, now()
            run.error = sentence("The fill stopped several times. There may not be enough memory for it.")
        else:
            run.state, run.progress, run.seconds_left, run.doing = RunState.WAITING, 0.0, None, ""

    def _after(self) -> None:
        self._turns += 1
        if self._turns % PRUNE_ROUNDS == 0:
            events.prune(self.library)

    def _broken_off(self, number: int, error: BaseException) -> None:
        # Nobody may cancel it between reading and writing.
        with self.library.session(write=True) as session:
            run = session.get(Run, number)
            if run is None:
                return
            if isinstance(error, self._lost) or run.state is RunState.STOPPING:
                self._again(run)
            else:
                run.state, run.ended_at = RunState.FAILED, now()
                run.error = (
                    sentence("The fill took too long and was stopped.")
                    if isinstance(error, TimeoutError)
                    else sentence("The fill failed unexpectedly ({name}).", name=type(error).__name__)
                )
            session.add(run)
            events.note(session, EventKind.RUN, frame=run.frame_id, run=run.id)
            tell_of_run(session, run)

    def _hand_out(self) -> bool:
        with self.library.session(write=True) as session:
            run = session.exec(select(Run).where(Run.state == RunState.WAITING).order_by(col(Run.id)).limit(1)).first()
            if run is None:
                return False
            run.state, run.started_at, run.attempts = RunState.RUNNING, now(), run.attempts + 1
            run.doing = "starting"
            session.add(run)
            events.note(session, EventKind.RUN, frame=run.frame_id, run=run.id)
        happened("run begun", run=run.id, attempt=run.attempts)
        self._give(run.id)
        return True

    def _give(self, run_id: int) -> None:
        self._workers.give(run_id, work, str(self.library.folder), run_id)
