"""A disk of its own for a library, so small that it can be filled; one server and one journey for all that follows."""

import hashlib
import signal
import subprocess
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import pytest

from keen_sweep.store.check import check
from keen_sweep.store.library import Library
from tests.application import Application
from tests.faults.journey import Journey

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


def look_whole(served: Application, journey: Journey) -> None:
    """Ends the server and looks whether the library is whole, with nothing half written and originals as they were."""
    served.stop()
    library = Library(served.library)
    library.claim()
    report = check(library)
    assert not report.lost, report
    assert not [each for each in report.leftovers if each.parent != library.incoming]
    assert library.files.read(hashlib.sha256(journey.original).hexdigest()) == journey.original
    library.close()
    # Whatever comes next finds it served: tests run in any order.
    served.start()
