"""Gather: files from outside into a shoot, each once."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

from sqlmodel import select

from keen_sweep.core.errors import AlreadyThere, BadRequest, KeenSweepError, LibraryTrouble
from keen_sweep.core.sentences import sentence
from keen_sweep.store.files import content_hash
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame
from keen_sweep.studio.gathering.frames import add_frame
from keen_sweep.studio.gathering.names import natural


def gather(library: Library, shoot_id: int, name: str, file: Path) -> Frame:
    """Take a file that lies in the library's incoming folder into a shoot; see add_frame. Raises AlreadyThere when the
    shoot has a picture of the same content, whatever its name."""
    original = content_hash(file)
    with library.session() as session:
        known = session.exec(select(Frame).where(Frame.shoot_id == shoot_id, Frame.original == original)).first()
    if known is not None:
        raise AlreadyThere(_there_already(known.name))
    return add_frame(library, shoot_id, name, file)


def _there_already(name: str) -> str:
    return sentence("This picture is already in the shoot, as {name}.", name=name)


@dataclass(frozen=True)
class Gathered:
    """What became of one file: the frame it is now, or why it is none; known: because it was there before."""

    file: Path
    frame: Frame | None
    why: str = ""
    known: bool = False


def files_in(folder: Path) -> list[Path]:
    """All files of a folder and of those in it, but hidden ones, in the order of their names. Raises BadRequest."""
    if not folder.is_dir():
        raise BadRequest(sentence("There is no folder {folder}.", folder=folder))
    found = [
        each
        for each in folder.rglob("*")
        if each.is_file() and not any(part.startswith(".") for part in each.relative_to(folder).parts)
    ]
    return sorted(found, key=lambda each: natural(str(each.relative_to(folder))))


def hash_if_readable(file: Path) -> str | None:
    """The hash of a file's content; None for one that cannot be read, which says so when it is copied."""
    with suppress(OSError):
        return content_hash(file)
    return None


def gather_folder(library: Library, shoot_id: int, files: list[Path]) -> Iterator[Gathered]:
    """Take copies of files into a shoot, one after another; a file that is no good stops nothing."""
    with library.session() as session:
        rows = session.exec(select(Frame).where(Frame.shoot_id == shoot_id)).all()
    known = {frame.original: frame.name for frame in rows}
    for file in files:
        name = known.get(hash_if_readable(file) or "")
        if name is not None:
            yield Gathered(file, None, _there_already(name), known=True)
            continue
        part = library.incoming / uuid4().hex
        try:
            try:
                shutil.copyfile(file, part)
            except OSError as error:
                raise LibraryTrouble(
                    sentence("It cannot be copied: {reason}.", reason=error.strerror or error)
                ) from error
            yield Gathered(file, gather(library, shoot_id, file.name, part))
        except AlreadyThere as error:
            yield Gathered(file, None, str(error), known=True)
        except KeenSweepError as error:
            yield Gathered(file, None, str(error))
        finally:
            part.unlink(missing_ok=True)
