"""A job from end to end."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, field

from sqlmodel import col, func, select

from keen_sweep.core.progress import Progress
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Run, Scouting, Shoot
from keen_sweep.store.words import OPEN_STATES, RunState
from keen_sweep.studio.gathering.gather import Gathered
from keen_sweep.studio.gathering.states import standings
from keen_sweep.studio.job import stages
from keen_sweep.studio.job.plan import Job
from keen_sweep.studio.notices import send_due
from keen_sweep.studio.running.dispatcher import Dispatcher
from keen_sweep.studio.running.queue import Queue
from keen_sweep.studio.running.scouts import Scouts

# Interval at which workers are checked, seconds.
POLL_SECONDS = 0.2


@dataclass
class Done:
    """What became of a job. refused: files that are no pictures; trouble: what went wrong, by frame; written: the files
    of a frame that are in the folder of deliveries, by frame; undecided: frames that somebody has to look at, among
    them those that could not be searched."""

    shoot: Shoot
    frames: list[Frame]
    refused: list[Gathered]
    trouble: dict[int, list[str]] = field(default_factory=dict)
    written: dict[int, list[str]] = field(default_factory=dict)
    undecided: list[int] = field(default_factory=list)
    seconds: float = 0.0

    @property
    def all_well(self) -> bool:
        """Whether nothing is left to look at."""
        return not (self.refused or self.trouble or self.undecided)


def run_job(library: Library, job: Job, progress: Progress) -> Done:
    """Do what is missing of a job. Killed at any moment it is gone on with by running it again. The library must not be
    open in a server. Raises BadRequest and Conflict as the stages do."""
    started = time.monotonic()
    library.claim()
    library.clear_incoming()
    shoot, frames, refused = stages.gather(library, job, progress)
    done = Done(shoot, frames, refused)
    stages.let_look(library, job, frames)
    _work_off(library, Scouts(library), Scouting, frames, sentence("searching for distractions"), progress)
    _note_failures(library, Scouting, frames, done.trouble)
    unsearched = set(done.trouble)
    stages.keep(library, job.keep, frames, progress)
    stages.ask_fills(library, job.fill, frames, done.trouble)
    _work_off(library, Queue(library), Run, frames, "filling", progress)
    _note_failures(library, Run, frames, done.trouble)
    stages.choose(library, job.review, frames, progress)
    if job.deliver is not None:
        done.written = stages.deliver(library, job.deliver, frames, progress, done.trouble, unsearched)
    with library.session() as session:
        far = standings(session, [session.get_one(Frame, frame.id) for frame in frames])
    done.undecided = [frame.id for frame in frames if frame.id in unsearched or not far[frame.id].state.is_decided]
    # What does not arrive now is sent when the library is served.
    send_due(library)
    done.seconds = time.monotonic() - started
    return done


def _work_off(
    library: Library,
    dispatcher: Dispatcher,
    table: type[Scouting | Run],
    frames: Sequence[Frame],
    doing: str,
    progress: Progress,
) -> None:
    """Let workers do the rows of some frames until none is open."""
    ids = [frame.id for frame in frames]
    open_rows = select(func.count(col(table.id))).where(col(table.frame_id).in_(ids), col(table.state).in_(OPEN_STATES))
    with library.session() as session:
        most = left = session.exec(open_rows).one()
    if not most:
        return
    dispatcher.start()
    try:
        while True:
            with library.session() as session:
                left = session.exec(open_rows).one()
            # The last of them may still be at what comes after its row has ended.
            if not left and not dispatcher.busy:
                return
            progress(
                1 - left / most, sentence("{doing}: {number} of {most}", doing=doing, number=most - left, most=most)
            )
            time.sleep(POLL_SECONDS)
    finally:
        dispatcher.stop()


def _note_failures(
    library: Library, table: type[Scouting | Run], frames: Sequence[Frame], trouble: dict[int, list[str]]
) -> None:
    """What failed of each frame, where nothing of its kind went well since."""
    ids = [frame.id for frame in frames]
    with library.session() as session:
        found = session.exec(select(table).where(col(table.frame_id).in_(ids)).order_by(col(table.id))).all()
    rows: Sequence[Scouting | Run] = found  # type: ignore[assignment]
    last = {(row.frame_id, row.sweep_id if isinstance(row, Run) else row.kind): row for row in rows}
    for (frame, _), row in last.items():
        if row.state is RunState.FAILED:
            trouble.setdefault(frame, []).append(row.error or sentence("It failed for an unknown reason."))
