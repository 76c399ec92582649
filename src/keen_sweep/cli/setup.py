"""keen-sweep weights, warm, openapi: parts of set-up."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from keen_sweep.cli.app import app
from keen_sweep.cli.said import say


@app.command()
def weights() -> None:
    """Fetch the networks that some scouts look through (part of set-up; the only command that needs a network)."""
    from keen_sweep.core.scout.networks.weights import folder
    from keen_sweep.install.weights import fetch_weights

    fetch_weights(say)
    say(f"All networks are in {folder()}.")


@app.command(hidden=True)
def warm() -> None:
    """Compile all kernels (part of set-up)."""
    from keen_sweep.document.warm import warm as run

    run(say)


@app.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI schema, from which the web front end's client is generated."""
    from keen_sweep.api.app import make_app
    from keen_sweep.store.library import Library

    with tempfile.TemporaryDirectory() as folder:
        print(json.dumps(make_app(Library(Path(folder))).openapi(), indent=1))
