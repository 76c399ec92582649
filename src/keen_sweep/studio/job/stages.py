"""The stages of a job. Each looks at what is there and does what is missing: it may be begun anew at any time."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from keen_sweep.core.errors import BadRequest, Conflict, KeenSweepError
from keen_sweep.core.progress import Progress
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Shoot
from keen_sweep.store.words import RunState
from keen_sweep.studio.choosing.pick import pick
from keen_sweep.studio.choosing.review import review_sweep
from keen_sweep.studio.delivering.deliver import Place
from keen_sweep.studio.delivering.into import deliver_into, last_time, names_of, remember
from keen_sweep.studio.filling.ask import ask_fill
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.finding.ask import ask_scouts, scoutings
from keen_sweep.studio.finding.keep import keep_finds
from keen_sweep.studio.found.open_finds import open_finds
from keen_sweep.studio.gathering.gather import Gathered, files_in, gather_folder
from keen_sweep.studio.gathering.shoots import make_shoot, shoots
from keen_sweep.studio.gathering.states import FrameState
from keen_sweep.studio.job.plan import Delivering, Filling, Job, Keeping, Reviewing
from keen_sweep.studio.job.ready import candidates, kept_of, standing_of, takes_by_sweep
from keen_sweep.studio.open_frame import open_frame


def shoot_of(library: Library, job: Job) -> tuple[Shoot, list[Frame]] | None:
    """The shoot of a job with its frames by name; None before there is one."""
    return next(((shoot, frames) for shoot, frames in shoots(library) if shoot.name == job.shoot), None)


def gather(library: Library, job: Job, progress: Progress) -> tuple[Shoot, list[Frame], list[Gathered]]:
    """Pictures that are not in the shoot yet; and the files that are none. Raises BadRequest for an empty folder."""
    files = files_in(job.gather.folder)
    if not files:
        raise BadRequest(sentence("There is nothing in the folder {folder}.", folder=job.gather.folder))
    known = shoot_of(library, job)
    shoot = known[0] if known is not None else make_shoot(library, job.shoot)
    refused = []
    for number, each in enumerate(gather_folder(library, shoot.id, files), start=1):
        progress(number / len(files), sentence("gathering: {number} of {count}", number=number, count=len(files)))
        if each.frame is None and not each.known:
            refused.append(each)
    found = shoot_of(library, job)
    return shoot, [] if found is None else found[1], refused


def let_look(library: Library, job: Job, frames: Sequence[Frame]) -> None:
    """Ask scouts for what they have not looked for yet, or could not."""
    for frame in frames:
        failed = [row.kind for row, _ in scoutings(library, frame.id) if row.state is RunState.FAILED]
        wanted = [kind for kind in failed if kind in job.scouts.kinds]
        ask_scouts(library, frame.id, wanted, job.scouts.small, again=True)
        ask_scouts(library, frame.id, job.scouts.kinds, job.scouts.small)


def keep(library: Library, how: Keeping, frames: Sequence[Frame], progress: Progress) -> None:
    """Finds that go become sweeps, in one step for each frame."""
    for number, frame in enumerate(frames, start=1):
        progress(
            number / len(frames), sentence("keeping finds: {number} of {pictures}", number=number, pictures=len(frames))
        )
        if chosen := going(library, how, frame):
            keep_finds(library, frame.id, chosen)


def going(library: Library, how: Keeping, frame: Frame) -> list[int]:
    """The finds of a frame that go and were not kept before, the surest first."""
    likely = [
        find
        for find in open_finds(open_frame(library, frame.id))
        if find.sweep_id is None
        and (how.kinds is None or find.kind in how.kinds)
        and find.confidence >= how.sure
        and (find.goes or not how.ticked)
    ]
    likely.sort(key=lambda find: -find.confidence)
    return [find.id for find in likely[: max(how.most - kept_of(library, frame), 0)]]


def ask_fills(library: Library, how: Filling, frames: Sequence[Frame], trouble: dict[int, list[str]]) -> None:
    """Ask for the takes that are missing of every sweep; why some cannot be made is told by frame."""
    with library.session() as session:
        takes = takes_by_sweep(session, frames)
    for frame in frames:
        _, far = standing_of(library, frame)
        for sweep in far.stack.sweeps:
            missing = how.takes - len(takes.get(sweep.id, ()))
            if missing <= 0 or sweep.pick or sweep.as_shot or sweep.id in far.filling:
                continue
            try:
                ask_fill(library, frame.id, sweep.id, Fill(takes=missing, quality=how.quality))
            except KeenSweepError as error:
                trouble.setdefault(frame.id, []).append(f"{sweep.name}: {error}")


def choose(library: Library, how: Reviewing, frames: Sequence[Frame], progress: Progress) -> None:
    """Pick a take of every sweep that has none picked, where one may be."""
    for number, frame in enumerate(frames, start=1):
        progress(
            number / len(frames), sentence("choosing: {number} of {pictures}", number=number, pictures=len(frames))
        )
        _, far = standing_of(library, frame)
        waiting = [sweep for sweep in far.stack.sweeps if not sweep.pick and not sweep.as_shot]
        for sweep in waiting:
            review_sweep(library, frame.id, sweep.id)
        takes = candidates(library, frame) if waiting and how.pick != "none" else {}
        for sweep in waiting:
            own = takes.get(sweep.id, [])
            good = [each for each in own if how.pick == "first" or (each.judged and each.worst <= how.snag)]
            if good:
                pick(library, frame.id, sweep.id, good[0].take.id)


def deliver(
    library: Library,
    how: Delivering,
    frames: Sequence[Frame],
    progress: Progress,
    trouble: dict[int, list[str]],
    unsearched: Collection[int] = (),
) -> dict[int, list[str]]:
    """Write what is finished into a folder, by frame; what is there already and is the newest stays. Frames that could
    not be searched are not finished. Raises Conflict when files would be written over that no such job has written,
    BadRequest for two of one name."""
    if not frames:
        return {}
    shoot_id = frames[0].shoot_id
    into, wanted = str(how.folder), how.wanted
    names = names_of(library, [frame.id for frame in frames], wanted, into)
    if not how.over and last_time(library, shoot_id) != (wanted, into):
        existing = [each.name for each in names if each.there]
        if existing:
            raise Conflict(
                sentence(
                    "{file} is already in {into}: set over = true, or choose another folder.",
                    file=existing[0],
                    into=into,
                )
            )
    remember(library, shoot_id, wanted, into)
    written: dict[int, list[str]] = {}
    for number, (frame, named) in enumerate(zip(frames, names, strict=True), start=1):
        progress(
            number / len(frames), sentence("delivering: {number} of {pictures}", number=number, pictures=len(frames))
        )
        _, far = standing_of(library, frame)
        if (not far.state.is_decided or frame.id in unsearched) and not how.undecided:
            continue
        if far.state is FrameState.DELIVERED and named.there:
            written[frame.id] = [named.name]
            continue
        try:
            files = deliver_into(library, frame.id, wanted, into, Place(number, len(frames)), over=True)
            written[frame.id] = [str(file.relative_to(how.folder)) for file in files]
        except KeenSweepError as error:
            trouble.setdefault(frame.id, []).append(str(error))
    return written
