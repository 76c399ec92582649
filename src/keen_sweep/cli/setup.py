"""keen-sweep weights, warm, openapi: parts of set-up; and what an installation does when it is first started."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from keen_sweep.cli.app import app
from keen_sweep.cli.said import say
from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.sentences import sentence

NETWORKS_MARK = "networks"
KERNELS_MARK = "kernels"


@app.command()
def weights() -> None:
    """Fetch the networks that some scouts look through (part of set-up; the only command that needs a network)."""
    from keen_sweep.core.scout.networks.weights import folder
    from keen_sweep.install.once import mark_done
    from keen_sweep.install.weights import fetch_weights

    try:
        fetch_weights(say)
    finally:
        # Where they could not be had nobody is made to wait for them again.
        mark_done(NETWORKS_MARK)
    say(sentence("All networks are in {folder}.", folder=folder()))


@app.command()
def warm() -> None:
    """Compile all kernels (part of set-up)."""
    from keen_sweep.document.warm import warm as run
    from keen_sweep.install.kernels import drop_kernels
    from keen_sweep.install.once import mark_done

    try:
        run(say)
    except (AttributeError, ImportError):
        # Kernels that an earlier version compiled may name things that have moved since.
        drop_kernels()
        run(say)
    mark_done(KERNELS_MARK)


@app.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI schema, from which the web front end's client is generated."""
    from keen_sweep.api.app import make_app
    from keen_sweep.store.library import Library

    with tempfile.TemporaryDirectory() as folder:
        print(json.dumps(make_app(Library(Path(folder))).openapi(), indent=1))


def set_up_once() -> None:
    """At the first start of an installation: fetch the networks and compile the kernels, unless set-up did."""
    from keen_sweep.install.once import done

    if not done(NETWORKS_MARK):
        say(sentence("Fetching the networks for the scouts (first start only)"))
        try:
            weights()
        except KeenSweepError as error:
            say(
                sentence(
                    "{error} Without the networks people and things are not found; "
                    "keen-sweep weights fetches them later.",
                    error=error,
                )
            )
    compile_once()


def compile_once() -> None:
    """Compile the kernels unless set-up did."""
    from keen_sweep.install.once import done

    if not done(KERNELS_MARK):
        say(sentence("Compiling kernels (once for each installation, about a minute)"))
        warm()
