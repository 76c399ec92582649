"""keen-sweep run: a whole job as a file says."""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, say
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from collections.abc import Sequence

    from keen_sweep.core.scout.found import FindKind
    from keen_sweep.studio.job.run import Done


@app.command()
def run(
    job: Annotated[Path, typer.Argument(help="the job: a TOML file, see docs/jobs.md")],
    library: Annotated[Path | None, typer.Option(help="the library folder; created if it does not exist")] = None,
    dry: Annotated[bool, typer.Option("--dry-run", help="show what it would do, without doing it")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="print the result for each picture as JSON")] = False,
    allow_missing: Annotated[
        bool, typer.Option("--allow-missing", help="continue without networks that cannot be fetched")
    ] = False,
) -> None:
    """Gather, look, keep, fill, review and deliver, as a file says. Broken off it goes on when it is run again.

    What the job needs (networks, kernels) is fetched or compiled first. Ends with 1 if something is left to look at,
    with 2 if the job makes no sense or what it needs cannot be had.
    """
    from keen_sweep.core.photo.write import write_whole
    from keen_sweep.settings import Settings
    from keen_sweep.store.library import Library
    from keen_sweep.studio.job.foresee import foreseen
    from keen_sweep.studio.job.page import page_of
    from keen_sweep.studio.job.plan import job_from
    from keen_sweep.studio.job.run import run_job

    plan = job_from(job)
    folder = (library or Settings().library).expanduser()
    if dry:
        opened = Library(folder) if (folder / "library.db").is_file() else None
        for line in foreseen(opened, plan):
            print(line)
        if opened is not None:
            opened.close()
        return
    _have_ready(plan.scouts.kinds, allow_missing)
    opened = Library(folder)
    try:
        with bar() as shown:
            task = shown.add_task(plan.shoot, total=1.0)

            def progress(share: float, doing: str) -> None:
                shown.update(task, completed=share, description=doing)

            done = run_job(opened, plan, progress)
        if plan.report is not None:
            plan.report.file.parent.mkdir(parents=True, exist_ok=True)
            write_whole(plan.report.file, page_of(opened, plan, done, datetime.now()).encode())
    finally:
        opened.close()
    if as_json:
        print(json.dumps(_told(done)))
    for each in done.refused:
        say(f"{each.file}: {each.why}")
    names = {frame.id: frame.name for frame in done.frames}
    for frame, lines in done.trouble.items():
        for line in lines:
            say(f"{names[frame]}: {line}")
    say(
        sentence(
            "{pictures} pictures, {delivered} delivered, {undecided} to look at",
            pictures=len(done.frames),
            delivered=len(done.written),
            undecided=len(done.undecided),
        )
    )
    if not done.all_well:
        raise typer.Exit(1)


def _have_ready(kinds: Sequence[FindKind], allow_missing: bool) -> None:
    """Fetch and compile what a job needs before its first picture. Raises NoWeights where networks cannot be had."""
    from keen_sweep.cli.setup import compile_once
    from keen_sweep.core.errors import KeenSweepError, NoWeights
    from keen_sweep.core.scout.networks.weights import missing_weights
    from keen_sweep.core.scout.scouts import needs_networks
    from keen_sweep.install.weights import fetch_weights

    compile_once()
    if not needs_networks(kinds) or not missing_weights():
        return
    say(sentence("This job searches for people or things. Fetching the networks for it"))
    try:
        fetch_weights(say)
    except KeenSweepError as error:
        if not allow_missing:
            raise NoWeights(
                sentence(
                    "{error} Without the networks people and things are not found. With --allow-missing the job "
                    "goes on and leaves the pictures that it could not search to look at.",
                    error=error,
                )
            ) from error
        say(
            sentence(
                "{error} Continuing without them. Pictures that cannot be searched are listed to look at.", error=error
            )
        )


def _told(done: Done) -> dict[str, Any]:
    """What a script is told of a job."""
    return {
        "shoot": done.shoot.id,
        "seconds": round(done.seconds, 3),
        "refused": [{"file": str(each.file), "why": each.why} for each in done.refused],
        "frames": [
            {
                "frame": frame.id,
                "name": frame.name,
                "decided": frame.id not in done.undecided,
                "files": done.written.get(frame.id, []),
                "trouble": done.trouble.get(frame.id, []),
            }
            for frame in done.frames
        ],
    }
