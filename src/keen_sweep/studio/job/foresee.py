"""What a job would do, without doing anything of it."""

from __future__ import annotations

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.delivering.into import names_of
from keen_sweep.studio.finding.ask import scoutings
from keen_sweep.studio.gathering.gather import files_in, hash_if_readable
from keen_sweep.studio.gathering.states import FrameState
from keen_sweep.studio.job.plan import Job
from keen_sweep.studio.job.ready import standing_of
from keen_sweep.studio.job.stages import going, shoot_of


def foreseen(library: Library | None, job: Job) -> list[str]:
    """What a job would do, a line each, in a library or in one that is not there yet. Raises BadRequest for an empty
    folder."""
    files = files_in(job.gather.folder)
    if not files:
        raise BadRequest(sentence("There is nothing in the folder {folder}.", folder=job.gather.folder))
    known = shoot_of(library, job) if library is not None else None
    frames = [] if known is None else known[1]
    gathered = {frame.original for frame in frames}
    new = sum(hash_if_readable(file) not in gathered for file in files)
    kinds = ", ".join(job.scouts.kinds)
    out = [
        sentence(
            "gather {new} of {count} files into {shoot}, {pictures} pictures are in it already",
            new=new,
            count=len(files),
            shoot=job.shoot,
            pictures=len(frames),
        )
    ]
    if library is None or not frames:
        out.append(sentence("look in each for {kinds}", kinds=kinds))
    else:
        out += _known(library, job, frames, new)
    wanted = {
        "clean": sentence("the first take without snags"),
        "first": sentence("the first take"),
        "none": sentence("none: somebody chooses"),
    }
    out.append(
        sentence(
            "fill every sweep with {takes} takes, {quality}; pick {rule}",
            takes=job.fill.takes,
            quality=job.fill.quality,
            rule=wanted[job.review.pick],
        )
    )
    if job.deliver is not None:
        those = (
            sentence("all pictures") if job.deliver.undecided else sentence("pictures of which everything is picked")
        )
        out.append(
            sentence(
                "deliver {those} into {folder}, {kind}, as {pattern}",
                those=those,
                folder=job.deliver.folder,
                kind=job.deliver.kind,
                pattern=job.deliver.pattern,
            )
        )
    if job.report is not None:
        out.append(sentence("report to {file}", file=job.report.file))
    return out


def _known(library: Library, job: Job, frames: list[Frame], new: int) -> list[str]:
    """What is known of the pictures that are there."""
    looks = sum(
        kind not in {row.kind for row, _ in scoutings(library, frame.id)}
        for frame in frames
        for kind in job.scouts.kinds
    )
    keeping = sum(len(going(library, job.keep, frame)) for frame in frames)
    far = [standing_of(library, frame)[1] for frame in frames]
    empty = sum(len(each.marked) for each in far)
    waiting = sum(each.state is FrameState.TO_CHOOSE for each in far)
    looks += new * len(job.scouts.kinds)
    out = [
        sentence("look {looks} times, for {kinds}", looks=looks, kinds=", ".join(job.scouts.kinds)),
        sentence(
            "keep {keeping} finds that are known, and what is found then; {empty} sweeps are not filled, "
            "{waiting} pictures wait for a pick",
            keeping=keeping,
            empty=empty,
            waiting=waiting,
        ),
    ]
    if job.deliver is not None and not new:
        named = names_of(library, [frame.id for frame in frames], job.deliver.wanted, str(job.deliver.folder))
        out.append(f"{sum(each.there for each in named)} of the files to deliver exist already")
    return out
