"""keen-sweep check, backup, restore-copy: whether a library is whole, and copies of it."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, say
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from keen_sweep.store.check import Report
    from keen_sweep.store.library import Library

MEGABYTE_BYTES = 1_000_000


def _opened(folder: Path) -> Library:
    """An existing library. Raises BadRequest."""
    from keen_sweep.store.library import Library

    if not (folder.expanduser() / "library.db").is_file():
        raise BadRequest(sentence("There is no library at {folder}.", folder=folder))
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
            say(
                sentence("{megabytes:.1f} MB of previews and alignments freed", megabytes=drop(opened) / MEGABYTE_BYTES)
            )
    finally:
        opened.close()
    for line in _lines(report, repair):
        print(line)
    clean = sentence("clean") if report.clean or repair else sentence("whole, with files that nothing needs")
    whole = sentence("not whole") if report.lost else clean
    print(f"{report.files} files, {report.size / MEGABYTE_BYTES:.1f} MB: {whole}")
    if report.lost:
        raise typer.Exit(1)


def _lines(report: Report, repair: bool) -> list[str]:
    """What was found, one line a file."""
    return [
        *report.database,
        *(sentence("{name} is missing: {who} needs it", name=name, who=who) for name, who in report.missing.items()),
        *(
            sentence("{path} is damaged: put aside", path=path) if repair else sentence("{path} is damaged", path=path)
            for path in report.damaged
        ),
        *(
            sentence("{path}: nothing refers to it, taken away", path=path)
            if repair
            else sentence("{path}: nothing refers to it", path=path)
            for path in report.orphans
        ),
        *(
            sentence("{path} was left over, taken away", path=path)
            if repair
            else sentence("{path} was left over", path=path)
            for path in report.leftovers
        ),
        *(
            sentence("{path}: previews of no picture, taken away", path=path)
            if repair
            else sentence("{path}: previews of no picture", path=path)
            for path in report.views
        ),
    ]


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
    print(
        sentence(
            "{copied} files copied, {there} already there: {target}",
            copied=done.copied,
            there=done.there,
            target=target,
        )
    )


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
        raise BadRequest(sentence("There is no library at {library}.", library=library))
    with claimed(folder):
        copy, aside = restore(database)
    print(
        sentence(
            "{name} is the current database again. The replaced one was kept as {kept}.",
            name=copy.name,
            kept=aside.name,
        )
    )
    say(sentence("Open it with the version of Keen Sweep that made it: this version would upgrade it again."))
