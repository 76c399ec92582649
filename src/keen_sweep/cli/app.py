"""The command line: the application that commands are hung on."""

from __future__ import annotations

from typing import Annotated

import typer

from keen_sweep import __version__

app = typer.Typer(no_args_is_help=True, pretty_exceptions_enable=False, rich_markup_mode=None)


def _version(asked: bool) -> None:
    if asked:
        print(f"keen-sweep {__version__}")
        raise typer.Exit


@app.callback()
def about(
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="show the version")
    ] = False,
) -> None:
    """Take people, wires, reflections and other distractions out of photographs."""
