"""keen-sweep check, backup, restore-copy: whether a library is whole, and copies of it."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, say
from keen_sweep.core.errors import BadRequest

if TYPE_CHECKING:
    from keen_sweep.store.library import Library

MEGABYTE_BYTES = 1_000_000


def _opened(folder: Path) -> Library:
    """An existing library. Raises BadRequest."""
    from keen_sweep.store.library import Library

    if not (folder.expanduser() / "library.db").is_file():
        raise BadRequest(f"There is no library at {folder}.")
    return Library(folder)


@app.command()
def check(
    library: Annotated[Path, typer.Argument(help="the library folder; Keen Sweep must not have it open")],
    repair: Annotated[
        bool, typer.Option("--repair", help="remove files that nothing needs and set damaged files aside")
    ] = False,
    drop_views: Annotated[bool, typer.Option("--drop-views", help="free the space of previews and alignments")] = False,
) -> None:
    """Check a library: its database, every file by its content, and what lies about. Ends with 1 if it is not whole."""
    from keen_sweep.store.check import check as look
    from keen_sweep.store.check import repair as mend
    from keen_sweep.store.room import drop_views as drop

    opened = _opened(library)
    try:
        opened.claim()
        with bar() as shown:
            task = shown.add_task("checking", total=1.0)
            report = look(opened, lambda share: shown.update(task, completed=share))
        if repair:
            mend(opened, report)
        if drop_views:
            say(f"{drop(opened) / MEGABYTE_BYTES:.1f} MB of previews and alignments freed")
    finally:
        opened.close()
    said = [
        *report.database,
        *(f"{name} is missing: {who} needs it" for name, who in report.missing.items()),
        *(f"{path} is damaged{': put aside' if repair else ''}" for path in report.damaged),
        *(f"{path}: nothing refers to it{', taken away' if repair else ''}" for path in report.orphans),
        *(f"{path} was left over{', taken away' if repair else ''}" for path in report.leftovers),
        *(f"{path}: previews of no picture{', taken away' if repair else ''}" for path in report.views),
    ]
    for line in said:
        print(line)
    whole = (
        "not whole" if report.lost else "clean" if report.clean or repair else "whole, with files that nothing needs"
    )
    print(f"{report.files} files, {report.size / MEGABYTE_BYTES:.1f} MB: {whole}")
    if report.lost:
        raise typer.Exit(1)


@app.command()
def backup(
    library: Annotated[Path, typer.Argument(help="the library folder; it may be open")],
    target: Annotated[Path, typer.Argument(help="folder of the backup; created, or brought up to date")],
) -> None:
    """Copy a library, while it is worked in if need be; what is there already is not copied again."""
    from keen_sweep.store.backup import backup as copy

    opened = _opened(library)
    try:
        done = copy(opened, target)
    finally:
        opened.close()
    print(f"{done.copied} files copied, {done.there} already there: {target}")


@app.command(name="restore-copy")
def restore_copy(
    library: Annotated[Path, typer.Argument(help="the library folder; Keen Sweep must not have it open")],
) -> None:
    """Bring back the database as it was before its last upgrade. The present one is put beside it."""
    from keen_sweep.store.library import claimed
    from keen_sweep.store.snapshot import restore_copy as restore

    folder = library.expanduser()
    database = folder / "library.db"
    if not database.is_file():
        raise BadRequest(f"There is no library at {library}.")
    with claimed(folder):
        copy, aside = restore(database)
    print(f"{copy.name} is the current database again. The replaced one was kept as {aside.name}.")
    say("Open it with the version of Keen Sweep that made it: this version would upgrade it again.")
