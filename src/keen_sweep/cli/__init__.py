"""The same use cases from a shell, one module a command."""

from __future__ import annotations

import sys

import typer
from typer._click.exceptions import ClickException

from keen_sweep.cli import bench, fill, mask, scout, serve, setup
from keen_sweep.cli.app import app
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.scout.networks.weights import look_in
from keen_sweep.settings import Settings

COMMANDS = (fill, mask, scout, serve, bench, setup)


def main() -> None:
    """Run the command line: exit 0 on success, 2 with one line on stderr for bad input."""
    try:
        look_in(Settings().weights)
        code = app(standalone_mode=False)
    except ClickException as error:
        _fail(error.format_message().removeprefix("Value error, "))
    except KeenSweepError as error:
        _fail(str(error))
    except (typer.Abort, KeyboardInterrupt):
        sys.exit(130)
    sys.exit(code if isinstance(code, int) else 0)


def _fail(message: str) -> None:
    print("keen-sweep: " + " ".join(message.split()), file=sys.stderr)
    sys.exit(2)
