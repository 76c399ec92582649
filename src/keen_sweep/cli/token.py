"""keen-sweep token: make, list and revoke the tokens by which scripts are let in."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import say
from keen_sweep.core.sentences import sentence
from keen_sweep.store.scope import Scope

if TYPE_CHECKING:
    from keen_sweep.store.library import Library

token = typer.Typer(help="Create, list and revoke tokens for scripts.", no_args_is_help=True)
app.add_typer(token, name="token")
Where = Annotated[Path | None, typer.Option("--library", help="the library folder")]


def _library(folder: Path | None) -> Library:
    from keen_sweep.core.errors import BadRequest
    from keen_sweep.settings import Settings
    from keen_sweep.store.library import Library

    found = (folder or Settings().library).expanduser()
    if not (found / "library.db").is_file():
        raise BadRequest(sentence("There is no library at {found}.", found=found))
    return Library(found)


@token.command("make")
def make(
    name: Annotated[str, typer.Argument(help="what it is for")],
    scope: Annotated[Scope, typer.Option(help="what may be done with it")] = Scope.READ,
    library: Where = None,
) -> None:
    """Print a new token; it is told now and never again."""
    from keen_sweep.studio.tokens import make_token

    made, words = make_token(_library(library), name, scope)
    say(
        sentence(
            "Token {id}, {name}, for {scope}; send it as Authorization: Bearer ...",
            id=made.id,
            name=made.name,
            scope=made.scope.value,
        )
    )
    print(words)


@token.command("list")
def list_them(library: Where = None) -> None:
    """Print all tokens: number, scope, when used last, name."""
    from keen_sweep.studio.tokens import tokens

    for each in tokens(_library(library)):
        used = f"{each.used_at:%Y-%m-%d}" if each.used_at else sentence("never used")
        print(f"{each.id}\t{each.scope.value}\t{used}\t{each.name}")


@token.command("revoke")
def revoke(
    number: Annotated[int, typer.Argument(help="its number, as listed")],
    library: Where = None,
) -> None:
    """Let nobody in by a token any more."""
    from keen_sweep.studio import tokens

    tokens.revoke(_library(library), number)
    say(sentence("Token {number} is revoked.", number=number))
