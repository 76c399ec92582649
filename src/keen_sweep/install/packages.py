"""Archives of the npm, PyPI and Debian registries, fetched with the registries' own tools."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tarfile
import urllib.request
import zipfile
from pathlib import Path

from keen_sweep.core.errors import KeenSweepError
from keen_sweep.core.sentences import sentence

# Longest silence of a registry, seconds.
REGISTRY_TIMEOUT_SECONDS = 60


def download(package: str, room: Path) -> Path:
    """A package's archive, fetched into an empty folder.

    package: npm:NAME@VERSION, pypi:NAME==VERSION or debian:NAME. Raises KeenSweepError where it cannot be had.
    """
    registry, wanted = package.split(":", 1)
    if registry == "npm" and shutil.which("npm") is None:
        return _from_npm(wanted, room)
    if registry == "npm":
        command = ["npm", "pack", "--silent", wanted]
    elif registry == "debian":
        command = ["apt-get", "download", "-qq", wanted]
    else:
        # Only the archive is wanted: it is unpacked, never installed.
        platform = ["--only-binary", ":all:", "--platform", "manylinux2014_x86_64", "--python-version", "3.11"]
        command = [sys.executable, "-m", "pip", "download", "--quiet", "--no-deps", *platform, wanted]
    try:
        subprocess.run(command, cwd=room, check=True, capture_output=True, text=True)
    except OSError as error:
        raise KeenSweepError(
            sentence("{command} could not be started: {strerror}.", command=command[0], strerror=error.strerror)
        ) from error
    except subprocess.CalledProcessError as error:
        last = (error.stderr or "").strip().splitlines()[-1:] or [sentence("no reason given")]
        raise KeenSweepError(
            sentence("{package} could not be fetched: {reason}", package=package, reason=last[0])
        ) from error
    return next(room.iterdir())


def _from_npm(wanted: str, room: Path) -> Path:
    """An archive of the npm registry where there is no npm: its address follows from its name."""
    name, version = wanted.rsplit("@", 1)
    registry = os.environ.get("npm_config_registry", "https://registry.npmjs.org").rstrip("/")  # noqa: SIM112 (npm's own name)
    archive = room / f"{name.rsplit('/', 1)[-1]}-{version}.tgz"
    try:
        with urllib.request.urlopen(f"{registry}/{name}/-/{archive.name}", timeout=REGISTRY_TIMEOUT_SECONDS) as answer:
            archive.write_bytes(answer.read())
    except OSError as error:
        raise KeenSweepError(
            sentence("npm:{wanted} could not be fetched: {error}.", wanted=wanted, error=error)
        ) from error
    return archive


def member(archive: Path, name: str) -> bytes:
    """One file out of a wheel, an npm archive or a Debian package. Raises KeenSweepError where it is not in it."""
    if archive.suffix == ".deb":
        command = ["dpkg-deb", "--fsys-tarfile", str(archive)]
        with (
            subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as unpacked,
            tarfile.open(fileobj=unpacked.stdout, mode="r|") as packed,
        ):
            for each in packed:
                if each.name.removeprefix("./") == name and (file := packed.extractfile(each)) is not None:
                    return file.read()
        raise KeenSweepError(sentence("{archive} holds no {file}.", archive=archive.name, file=name))
    if archive.suffix == ".whl":
        with zipfile.ZipFile(archive) as wheel:
            return wheel.read(name)
    with tarfile.open(archive) as packed:
        file = packed.extractfile(name)
        if file is None:
            raise KeenSweepError(sentence("{archive} holds no {file}.", archive=archive.name, file=name))
        return file.read()
