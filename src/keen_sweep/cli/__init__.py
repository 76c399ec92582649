"""The same use cases from a shell, one module a command.

What a command is given is said with light types, and what it needs is imported when it runs: help, the version and a
wrong option are answered at once.
"""

from __future__ import annotations

import os
import sys
from importlib import import_module

import typer
from typer._click.exceptions import ClickException
from typer.main import get_command

from keen_sweep.cli.app import app
from keen_sweep.cli.help import with_translated_help
from keen_sweep.core.errors import KeenSweepError

# Module of each command: only the one that is needed is loaded.
COMMAND_MODULES = {
    "gather": "gather",
    "fill": "fill",
    "carry": "carry",
    "deliver": "deliver",
    "mask": "mask",
    "scout": "scout",
    "run": "run",
    "serve": "serve",
    "demo": "serve",
    "service": "serve",
    "check": "keep",
    "backup": "keep",
    "restore-copy": "keep",
    "bench": "bench",
    "token": "token",
    "weights": "setup",
    "warm": "setup",
    "openapi": "setup",
}


def main() -> None:
    """Run the command line: exit 0 on success, 2 with one line on stderr for bad input."""
    try:
        _look_elsewhere()
        load_commands(next((word for word in sys.argv[1:] if not word.startswith("-")), ""))
        code = with_translated_help(get_command(app))(standalone_mode=False)
    except ClickException as error:
        _fail(error.format_message().removeprefix("Value error, "))
    except KeenSweepError as error:
        _fail(str(error))
    except (typer.Abort, KeyboardInterrupt):
        sys.exit(130)
    sys.exit(code if isinstance(code, int) else 0)


def _look_elsewhere() -> None:
    """Look for networks where the environment says, if it does: reading all settings takes time."""
    if any(name.upper() == "KEEN_SWEEP_WEIGHTS" for name in os.environ):
        from keen_sweep.core.scout.networks.weights import use_folder
        from keen_sweep.settings import Settings

        use_folder(Settings().weights)


def load_commands(command: str = "") -> None:
    """Hang a command on the application; all of them for help, or for a word that is none."""
    for module in {COMMAND_MODULES[command]} if command in COMMAND_MODULES else dict.fromkeys(COMMAND_MODULES.values()):
        import_module(f"keen_sweep.cli.{module}")


def _fail(message: str) -> None:
    print("keen-sweep: " + " ".join(message.split()), file=sys.stderr)
    sys.exit(2)
