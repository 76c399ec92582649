"""keen-sweep deliver: finished pictures of a library into a folder."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import bar, check_folder, say
from keen_sweep.core.errors import BadRequest, KeenSweepError
from keen_sweep.core.sentences import sentence

if TYPE_CHECKING:
    from keen_sweep.store.library import Library
    from keen_sweep.store.tables import Frame


class Form(StrEnum):
    """What is written of a picture; see studio.delivering.wanted."""

    SAME = "same"
    JPEG = "jpeg"
    PNG = "png"
    TIFF = "tiff"
    ORA = "ora"
    LAYERS = "layers"


class Told(StrEnum):
    """Ledgers for people."""

    CSV = "csv"
    HTML = "html"


@app.command()
def deliver(
    which: Annotated[list[str], typer.Argument(metavar="SHOOT|FRAME...", help="shoots and frames by name")],
    out: Annotated[Path, typer.Option(help="folder to write to; created if it does not exist")],
    form: Annotated[Form, typer.Option("--format", help="like the original, plain, or layered")] = Form.SAME,
    web: Annotated[int | None, typer.Option(min=16, max=20_000, help="for the web: the longer side, pixels")] = None,
    quality: Annotated[int, typer.Option(min=1, max=100, help="of JPEGs for the web")] = 88,
    names: Annotated[str, typer.Option(help="pattern of {name}, {shoot}, {number}, {date}, {size}")] = "{name}-swept",
    masks: Annotated[bool, typer.Option("--masks", help="also save the masks as PNG")] = False,
    ledger: Annotated[Told | None, typer.Option(help="also write a readable ledger of all of them")] = None,
    over: Annotated[bool, typer.Option("--over", help="overwrite existing files")] = False,
    library: Annotated[Path | None, typer.Option(help="the library folder")] = None,
) -> None:
    """Deliver pictures with everything that was picked in them. What cannot be delivered stops no other."""
    from keen_sweep.core.deliver.ledger_pages import as_csv, as_page
    from keen_sweep.core.photo.write import write_whole
    from keen_sweep.settings import Settings
    from keen_sweep.store.library import Library
    from keen_sweep.studio.delivering.deliver import Place
    from keen_sweep.studio.delivering.into import deliver_into, names_of
    from keen_sweep.studio.delivering.ledger import ledgers_of
    from keen_sweep.studio.delivering.wanted import Kind, Wanted

    folder = library or Settings().library
    if not (folder.expanduser() / "library.db").is_file():
        raise BadRequest(sentence("There is no library in {folder}.", folder=folder))
    opened = Library(folder)
    try:
        frames = _frames(opened, which)
        kind = Kind.WEB if web else Kind(form)
        wanted = Wanted(kind=kind, longest=web or 2048, quality=quality, masks=masks, pattern=names)
        into = str(out.expanduser().resolve())
        ids = [frame.id for frame in frames]
        names_of(opened, ids, wanted, into)
        list_of_all = Path(into) / f"ledger.{ledger.value}" if ledger else None
        if list_of_all is not None and list_of_all.exists() and not over:
            raise BadRequest(sentence("{file} exists already: add --over, or choose another folder.", file=list_of_all))
        check_folder(Path(into))
        written, failed = 0, 0
        with bar() as shown:
            task = shown.add_task("delivering", total=len(frames))
            for number, frame in enumerate(frames, start=1):
                try:
                    written += len(deliver_into(opened, frame.id, wanted, into, Place(number, len(frames)), over))
                except KeenSweepError as error:
                    failed += 1
                    say(f"{frame.name}: {error}")
                shown.advance(task)
        if list_of_all is not None:
            ledgers = ledgers_of(opened, ids)
            page = as_csv(ledgers) if ledger is Told.CSV else as_page(ledgers, ", ".join(which), datetime.now().date())
            write_whole(list_of_all, page.encode())
    finally:
        opened.close()
    text = sentence("{written} files written to {into}", written=written, into=into)
    say(text + ", " + sentence("{failed} pictures not delivered", failed=failed))
    if failed:
        raise typer.Exit(1)


def _frames(library: Library, which: list[str]) -> list[Frame]:
    """The frames that are named, those of shoots in their order. Raises BadRequest for a name of nothing."""
    from keen_sweep.studio.gathering.shoots import shoots

    known = shoots(library)
    found: dict[int, Frame] = {}
    for name in which:
        own = [frame for shoot, frames in known if shoot.name == name for frame in frames]
        own = own or [frame for _, frames in known for frame in frames if name in (frame.name, Path(frame.name).stem)]
        if not own:
            raise BadRequest(sentence("There is no shoot and no picture called {name} in this library.", name=name))
        found |= {frame.id: frame for frame in own}
    return list(found.values())
