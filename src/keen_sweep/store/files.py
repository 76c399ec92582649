"""Files by content: each is kept once, under the hash of its bytes, and never changed."""

from __future__ import annotations

import hashlib
import os
import shutil
import time
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path

from keen_sweep.core.errors import LibraryTrouble, NotFound
from keen_sweep.core.photo.write import write_whole
from keen_sweep.core.sentences import sentence

CHUNK_BYTES = 1 << 20
# Of a SHA-256.
HEX_DIGITS = 64
# A file that was requested within this time is not freed, seconds.
RECENT_SECONDS = 24 * 3600.0


def _sync(path: Path) -> None:
    """Have what was written of a file, or which names a folder holds, on the disk. Raises OSError."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def content_hash(file: Path) -> str:
    """The hash of a file's content. Raises OSError."""
    digest = hashlib.sha256()
    with file.open("rb") as content:
        while chunk := content.read(CHUNK_BYTES):
            digest.update(chunk)
    return digest.hexdigest()


class Files:
    """A folder of files named by the SHA-256 of their content, spread over 256 sub-folders."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def path(self, name: str) -> Path:
        """Where the file of a hash is. Raises NotFound when there is none."""
        path = self._place(name)
        if not path.is_file():
            raise NotFound(sentence("A file of this library is missing: it was moved or deleted outside the program."))
        return path

    def size(self, name: str) -> int:
        """Bytes of a file; none when it is not there."""
        try:
            return self._place(name).stat().st_size
        except OSError:
            return 0

    def read(self, name: str) -> bytes:
        try:
            return self.path(name).read_bytes()
        except OSError as error:
            raise LibraryTrouble(
                sentence("A file of the library cannot be read: {reason}.", reason=error.strerror or error)
            ) from error

    def add(self, data: bytes) -> str:
        """Keep some bytes; the hash they are found by. Raises LibraryTrouble when there is no room."""
        name = hashlib.sha256(data).hexdigest()
        place = self._place(name)
        if place.is_file():
            self._asked_for(place)
        else:
            self._ready(place)
            write_whole(place, data)
        return name

    def free(self, names: Iterable[str]) -> int:
        """Delete files that nothing refers to any more; how many bytes that was. One that was asked for lately stays:
        whoever adds it again finds it there, and refers to it a moment later."""
        freed = 0
        for name in names:
            place = self._place(name)
            try:
                status = place.stat()
                if time.time() - status.st_mtime < RECENT_SECONDS:
                    continue
                place.unlink()
            except OSError:
                continue
            freed += status.st_size
        return freed

    def take_in(self, source: Path) -> str:
        """Move a file from within the library's own folder to its place and sync it; the hash it is found by."""
        name = content_hash(source)
        place = self._place(name)
        try:
            if place.is_file():
                self._asked_for(place)
                source.unlink()
            else:
                self._ready(place)
                _sync(source)
                shutil.move(source, place)
                place.chmod(0o444)
                _sync(place.parent)
        except OSError as error:
            raise LibraryTrouble(
                sentence("The picture cannot be stored: {reason}.", reason=error.strerror or error)
            ) from error
        return name

    @staticmethod
    def _asked_for(place: Path) -> None:
        """Note on a file that somebody is about to refer to it; see free."""
        with suppress(OSError):
            os.utime(place)

    def _ready(self, place: Path) -> None:
        try:
            place.parent.mkdir(exist_ok=True)
        except OSError as error:
            raise LibraryTrouble(
                sentence("The library cannot be written: {reason}.", reason=error.strerror or error)
            ) from error

    def _place(self, name: str) -> Path:
        if len(name) != HEX_DIGITS or not set(name) <= set("0123456789abcdef"):
            raise NotFound(sentence("There is no such file in this library."))
        return self.folder / name[:2] / name
