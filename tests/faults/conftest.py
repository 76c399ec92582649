"""A disk of its own for a library, so small that it can be filled; one server and one journey for all that follows."""

import signal
import subprocess
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from tests.support.application import Application
from tests.support.journey import Journey

SIZE = 96_000_000


class Disk:
    """A file system in memory."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.ballast = folder / "ballast"

    def fill(self) -> None:
        """Leave not a byte."""
        with self.ballast.open("ab", buffering=0) as file, suppress(OSError):
            while True:
                file.write(bytes(65_536))
        with self.ballast.open("ab", buffering=0) as file, suppress(OSError):
            while True:
                file.write(bytes(64))

    def empty(self) -> None:
        self.ballast.unlink()


def _mount(*words: str) -> None:
    subprocess.run(["mount", *words], check=True, capture_output=True)


@pytest.fixture(scope="module")
def disk(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Disk]:
    folder = tmp_path_factory.mktemp("mounted") / "disk"
    folder.mkdir()
    try:
        _mount("-t", "tmpfs", "-o", f"size={SIZE}", "keen-sweep-test", str(folder))
    except (OSError, subprocess.CalledProcessError):
        pytest.skip("a file system can be mounted by nobody here")
    yield Disk(folder)
    subprocess.run(["umount", "-l", str(folder)], check=True)


@pytest.fixture(scope="module")
def served(disk: Disk) -> Iterator[Application]:
    """The application with its library on that disk, its log elsewhere."""
    made = Application(disk.folder / "library")
    made.log, made.keys = (disk.folder.with_name(name) for name in ("server.log", "keys.json"))
    made.start()
    yield made
    made.stop(signal.SIGKILL)


@pytest.fixture(scope="module")
def journey(served: Application) -> Journey:
    return Journey(served.address)
