"""keen-sweep serve, demo, service: start the application, alone, with the demo, or only the simulated service."""

from __future__ import annotations

import ipaddress
import sys
from pathlib import Path
from typing import Annotated

import typer

from keen_sweep.cli.app import app
from keen_sweep.cli.said import check_address, say
from keen_sweep.cli.setup import set_up_once
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.sentences import sentence
from keen_sweep.simulated import DEFAULT_PORT as SERVICE_PORT


@app.command()
def serve(
    library: Annotated[Path | None, typer.Option(help="the library folder; created if it does not exist")] = None,
    host: Annotated[str | None, typer.Option()] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535)] = None,
    cluster: Annotated[
        str | None, typer.Option(help="the scheduler of a Dask cluster that fills, such as tcp://10.0.0.2:8786")
    ] = None,
) -> None:
    """Start the application."""
    from keen_sweep.settings import Settings

    settings = Settings()
    set_up_once()
    fillers = cluster or settings.cluster or None
    _serve(library or settings.library, host or settings.host, port or settings.port, fillers)


@app.command()
def demo(
    library: Annotated[Path | None, typer.Option(help="folder of the demo library")] = None,
    host: Annotated[str | None, typer.Option()] = None,
    port: Annotated[int | None, typer.Option(min=1, max=65535)] = None,
    prepare: Annotated[bool, typer.Option("--prepare", help="create the demo library and exit")] = False,
) -> None:
    """Start the application with the demo shoot, the Orrin Vale garden guide."""
    from keen_sweep.demo.library import make_demo_library
    from keen_sweep.demo.service import register_service, simulated
    from keen_sweep.settings import Settings

    settings = Settings()
    folder = library or settings.demo_library
    set_up_once()
    make_demo_library(folder.expanduser(), say)
    if prepare:
        return
    with simulated(folder.expanduser().with_name("simulated-service")) as address:
        from keen_sweep.store.library import Library

        opened = Library(folder)
        register_service(opened, address)
        opened.close()
        print(
            sentence("The simulated generation service and its switches are at {address}", address=address), flush=True
        )
        _serve(folder, host or settings.host, port or settings.port)


@app.command()
def service(
    port: Annotated[int, typer.Option(min=1, max=65535)] = SERVICE_PORT,
    folder: Annotated[Path | None, typer.Option(help="folder for its records")] = None,
) -> None:
    """Start the simulated generation service, with which models are tried out; its switches are at its address."""
    from keen_sweep.settings import Settings
    from keen_sweep.simulated.serve import serve as run

    check_address("127.0.0.1", port)
    print(sentence("The simulated service is at http://127.0.0.1:{port}", port=port), flush=True)
    run(folder or Settings().demo_library.expanduser().with_name("simulated-service"), port)


def _serve(folder: Path, host: str, port: int, cluster: str | None = None) -> None:
    from keen_sweep.api.serve import serve as run
    from keen_sweep.store.library import Library

    words = _passphrase(host)
    library = Library(folder)
    check_address(host, port)
    library.claim()
    shown = f"[{host}]" if ":" in host else host
    print(
        sentence(
            "Keen Sweep is at http://{shown}:{port} (library {folder})", shown=shown, port=port, folder=library.folder
        ),
        flush=True,
    )
    run(library, host, port, cluster, words)


def _passphrase(host: str) -> str | None:
    """What has to be said to a server that others can reach: from the environment, or asked for. None for one that only
    this machine can reach, unless there is one. Raises BadRequest."""
    from keen_sweep.api.passphrase import MIN_PASSPHRASE_CHARS
    from keen_sweep.settings import Settings

    words = Settings().passphrase.get_secret_value()
    if not words and _is_loopback(host):
        return None
    if not words and sys.stdin.isatty():
        words = typer.prompt(sentence("Passphrase for this server"), hide_input=True)
    if len(words) < MIN_PASSPHRASE_CHARS:
        raise BadRequest(
            sentence(
                "Others can reach {host}: a passphrase of {min_passphrase_chars} characters or more is needed, "
                "in KEEN_SWEEP_PASSPHRASE "
                "or at the prompt.",
                host=host,
                min_passphrase_chars=MIN_PASSPHRASE_CHARS,
            )
        )
    return words


def _is_loopback(host: str) -> bool:
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"
