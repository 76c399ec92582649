"""The command line: the application that commands are hung on."""

from __future__ import annotations

import typer

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False, rich_markup_mode=None)


@app.callback()
def about() -> None:
    """Take people, wires, reflections and other distractions out of photographs."""
