"""keen-sweep gather: a folder of pictures into a shoot of a library."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, say
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence


@app.command()
def gather(
    folder: Annotated[Path, typer.Argument(help="a folder of pictures; its subfolders are searched too")],
    shoot: Annotated[str | None, typer.Option(help="the shoot to add them to; created if it does not exist")] = None,
    library: Annotated[Path | None, typer.Option(help="the library folder; created if it does not exist")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="print the result for each file as JSON")] = False,
) -> None:
    """Gather a folder of pictures. Copies are kept; what is there already, by its content, is left out."""
    from keen_sweep.settings import Settings
    from keen_sweep.store.library import Library
    from keen_sweep.studio.gathering.gather import Gathered, files_in, gather_folder
    from keen_sweep.studio.gathering.shoots import make_shoot, shoots

    files = files_in(folder)
    if not files:
        raise BadRequest(sentence("There is nothing in the folder {folder}.", folder=folder))
    opened = Library(library or Settings().library)
    try:
        name = shoot or folder.resolve().name
        known = next((each for each, _ in shoots(opened) if each.name == name), None) or make_shoot(opened, name)
        done: list[Gathered] = []
        with bar() as shown:
            task = shown.add_task("gathering", total=len(files))
            for each in gather_folder(opened, known.id, files):
                done.append(each)
                shown.advance(task)
    finally:
        opened.close()
    if as_json:
        report = [
            {"file": str(each.file), "frame": each.frame and each.frame.id, "known": each.known, "why": each.why}
            for each in done
        ]
        print(json.dumps({"shoot": known.id, "files": report}))
        return
    for each in done:
        if each.why and not each.known:
            say(f"{each.file}: {each.why}")
    added, known_count = sum(each.frame is not None for each in done), sum(each.known for each in done)
    left = len(done) - added - known_count
    say(
        sentence(
            "{added} gathered into {name}, {known_count} there already, {left} that could not be read",
            added=added,
            name=known.name,
            known_count=known_count,
            left=left,
        )
    )
