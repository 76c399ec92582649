"""Watch: a folder in which newer versions of a shoot's pictures are put down, by the raw converter for example."""

from __future__ import annotations

import shutil
from collections.abc import Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path, PurePath
from uuid import uuid4

from sqlmodel import Session, col, select

from keen_sweep.core.deliver.xmp import ledger_in
from keen_sweep.core.errors import BadPicture, BadRequest, KeenSweepError, LibraryTrouble, NotFound
from keen_sweep.core.photo.sniff import sniff
from keen_sweep.core.photo.xmp_packet import packet_of
from keen_sweep.core.sentences import sentence
from keen_sweep.store.files import content_hash
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Revision, Shoot, WatchedFile
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.folders import folder_named
from keen_sweep.studio.gathering.versions import take_up

# Characters that may follow a picture's name in that of a version: roof-2.tif, roof (graded).tif, roof_web.jpg.
NAME_SEPARATORS = "-_ (.+"


@dataclass(frozen=True)
class Watched:
    """The folder that a shoot watches, whether it can be read, the files taken up from it, and those left, each with
    why."""

    folder: str
    there: bool
    taken: int
    left: tuple[tuple[str, str], ...]


def watch(library: Library, shoot_id: int, folder: str | None) -> None:
    """Watch a folder for newer versions of a shoot's pictures; None: watch none. Raises NotFound, and BadRequest for a
    folder that is none, or the library's own."""
    path = None if folder is None else folder_named(library, folder, "developed")
    if path is not None and not path.exists():
        raise BadRequest(sentence("There is no folder {path}.", path=path))
    with library.session(write=True) as session:
        shoot = _shoot(session, shoot_id)
        if path is not None and str(path) == shoot.watched:
            return
        shoot.watched = None if path is None else str(path)
        for row in session.exec(select(WatchedFile).where(WatchedFile.shoot_id == shoot_id)):
            session.delete(row)
        session.add(shoot)
        note(session, EventKind.SHOOTS, shoot=shoot_id)


def watched_by(library: Library, shoot_id: int) -> Watched | None:
    """What a shoot watches, if anything. Raises NotFound."""
    with library.session() as session:
        shoot = _shoot(session, shoot_id)
        if shoot.watched is None:
            return None
        query = select(WatchedFile).where(WatchedFile.shoot_id == shoot_id).order_by(col(WatchedFile.name))
        rows = session.exec(query).all()
    left = tuple((row.name, row.left) for row in rows if row.left)
    taken = sum(row.frame_id is not None for row in rows)
    return Watched(shoot.watched, Path(shoot.watched).is_dir(), taken, left)


def fresh_in(library: Library, shoot: Shoot) -> Iterator[tuple[Path, Frame]]:
    """The files of a shoot's folder that nobody has looked at as they are now, each with the frame that it is named
    after; in no order."""
    assert shoot.watched is not None
    with library.session() as session:
        frames = session.exec(select(Frame).where(Frame.shoot_id == shoot.id)).all()
        rows = session.exec(select(WatchedFile).where(WatchedFile.shoot_id == shoot.id)).all()
    known = {row.name: (row.size, row.written) for row in rows}
    with suppress(OSError):
        for file in Path(shoot.watched).iterdir():
            frame = named_after(file.name, frames)
            if frame is not None and file.is_file() and known.get(file.name) != state_of(file):
                yield file, frame


def state_of(file: Path) -> tuple[int, int]:
    """What tells that a file was written anew: its size, and when that was. Raises OSError."""
    status = file.stat()
    return status.st_size, status.st_mtime_ns


def named_after(name: str, frames: Sequence[Frame]) -> Frame | None:
    """The frame that a file is named after, whatever its format: by the longest name, if there are several."""
    if name.startswith("."):
        return None
    stem = PurePath(name).stem.casefold()
    found: tuple[int, Frame | None] = (0, None)
    for frame in frames:
        own = PurePath(frame.name).stem.casefold()
        rest = stem.removeprefix(own)
        if stem.startswith(own) and (not rest or rest[0] in NAME_SEPARATORS) and len(own) > found[0]:
            found = (len(own), frame)
    return found[1]


def look_at(library: Library, shoot_id: int, file: Path, frame: Frame) -> bool:
    """Take a file up as a newer version of a frame, if it is one; whether it was. What it is not is written down, so
    that it is not looked at again."""
    size, written = state_of(file)
    row = WatchedFile(shoot_id=shoot_id, name=file.name, size=size, written=written)
    part = library.incoming / uuid4().hex
    try:
        if _is_version(library, file, frame):
            shutil.copyfile(file, part)
            take_up(library, frame.id, file.name, part)
            row.frame_id = frame.id
    except OSError as error:
        row.left = sentence("It cannot be read: {reason}.", reason=error.strerror or error)
    except LibraryTrouble:
        # A full disk says nothing of the file: it is looked at again.
        raise
    except KeenSweepError as error:
        row.left = str(error)
    finally:
        part.unlink(missing_ok=True)
    with library.session(write=True) as session:
        if session.get(Shoot, shoot_id) is None:
            return False
        for before in session.exec(
            select(WatchedFile).where(WatchedFile.shoot_id == shoot_id, WatchedFile.name == file.name)
        ):
            session.delete(before)
        session.add(row)
        note(session, EventKind.SHOOTS, shoot=shoot_id)
        return row.frame_id is not None


def _is_version(library: Library, file: Path, frame: Frame) -> bool:
    """Whether a file may be a newer version: no delivery of ours, and not known in its history."""
    try:
        sniff(file)
    except BadPicture:
        # Sidecars have their picture's name too.
        return False
    if ledger_in(packet_of(file)) is not None:
        return False
    with library.session() as session:
        versions = session.exec(select(Revision.version).where(Revision.frame_id == frame.id)).all()
    return content_hash(file) not in {version.get("original") for version in versions}


def _shoot(session: Session, shoot_id: int) -> Shoot:
    shoot = session.get(Shoot, shoot_id)
    if shoot is None:
        raise NotFound(sentence("This shoot no longer exists."))
    return shoot
