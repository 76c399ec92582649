"""Settings from the environment: KEEN_SWEEP_LIBRARY, KEEN_SWEEP_KEYS, KEEN_SWEEP_HOST, KEEN_SWEEP_PORT and so on."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from pydantic import SecretStr
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """What holds unless the command line says otherwise."""

    model_config = SettingsConfigDict(env_prefix="KEEN_SWEEP_")

    library: Path = Path("~/keen-sweep-library")
    demo_library: Path = Path("~/.local/share/keen-sweep/demo-library")
    # A file for keys of services; without it they are in the keyring of the system, where there is one.
    keys: Path | None = None
    # How long one answer of a generation service may take, seconds.
    service_seconds: float = 30.0
    # The key of a service that is used from a shell.
    key: SecretStr = SecretStr("")
    # Where the networks of the scouts are; usually in the Python environment.
    weights: Path | None = None
    # The scheduler of a Dask cluster that fills, if there is one.
    cluster: str = ""
    # flat: local fills are one colour, made in milliseconds; for tests of what is not about filling.
    engine: Literal["", "flat"] = ""
    # Whether takes are reviewed after each fill without being asked for.
    second_look: bool = True
    # How worker processes are started; spawn is slower, and is used where there is no forkserver.
    start_method: Literal["forkserver", "spawn"] = "forkserver"
    host: str = "127.0.0.1"
    # What has to be said to a server that listens beyond this machine.
    passphrase: SecretStr = SecretStr("")
    port: int = 8420
