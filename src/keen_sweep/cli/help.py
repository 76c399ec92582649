"""Help of the commands in the language of the installation."""

from __future__ import annotations

from collections.abc import Iterator

from typer._click.core import Command
from typer.core import TyperGroup

from keen_sweep.core.sentences import translate


def every_command(command: Command) -> Iterator[Command]:
    """A command and all that are below it."""
    yield command
    if isinstance(command, TyperGroup):
        for each in command.commands.values():
            yield from every_command(each)


def help_texts(command: Command) -> set[str]:
    """English help of a command, of those below it and of their parameters, for the catalogue."""
    texts = {each.help for each in every_command(command)}
    texts |= {getattr(param, "help", None) for each in every_command(command) for param in each.params}
    return {each for each in texts if each}


def with_translated_help(command: Command) -> Command:
    """The same command with its help translated."""
    for each in every_command(command):
        each.help = translate(each.help or "")
        for param in each.params:
            if text := getattr(param, "help", None):
                param.help = translate(text)  # type: ignore[attr-defined]
    return command
