"""Into: deliveries to a folder of this machine, or as one ZIP; and again as last time."""

from __future__ import annotations

import io
import shutil
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from keen_sweep.core.deliver.named import collisions
from keen_sweep.core.errors import BadRequest, Conflict, KeenSweepError, LibraryTrouble, NotFound
from keen_sweep.core.photo.write import write_whole
from keen_sweep.core.sentences import sentence
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Shoot
from keen_sweep.studio.delivering.deliver import DEFAULT_PLACE, Place, deliver, handed_over, name_of
from keen_sweep.studio.delivering.wanted import Wanted
from keen_sweep.studio.folders import folder_named

# Text in a ZIP that lists what is not in it.
MISSING_NAME = "NOT DELIVERED.txt"


@dataclass(frozen=True)
class Named:
    """The name that a frame's file will have, and whether there is such a file already."""

    frame: int
    name: str
    there: bool = False


def names_of(library: Library, frames: Sequence[int], wanted: Wanted, folder: str | None = None) -> list[Named]:
    """The names of some frames' files, and which of them are in a folder already. Raises BadRequest when two would have
    the same, for a folder that cannot be delivered into, and for a pattern that makes no names; NotFound."""
    places = [Place(number, len(frames)) for number in range(1, len(frames) + 1)]
    named = [name_of(library, frame, wanted, place) for frame, place in zip(frames, places, strict=True)]
    if meeting := collisions(named):
        raise BadRequest(
            sentence(
                "Several pictures would be named {other}: add {{number}} or {{name}} to the pattern of names.",
                other=meeting[0],
            )
        )
    into = None if folder is None else folder_named(library, folder, "delivered")
    return [
        Named(frame, name, into is not None and (into / name).exists())
        for frame, name in zip(frames, named, strict=True)
    ]


def deliver_into(
    library: Library, frame: int, wanted: Wanted, folder: str, place: Place = DEFAULT_PLACE, over: bool = False
) -> list[Path]:
    """Write a frame's file, and what lies beside it, into a folder: whole or not at all. Raises Conflict when a file is
    there already, unless over; LibraryTrouble when the folder cannot be written."""
    into = folder_named(library, folder, "delivered")
    first = into / name_of(library, frame, wanted, place)
    if first.exists() and not over:
        raise Conflict(sentence("{first} exists already. Nothing was overwritten.", first=first))
    made = deliver(library, frame, wanted, place=place)
    files = [(into / name, data) for name, data in ((made.name, made.data), *made.beside)]
    for path, _ in files:
        if path.exists() and not over:
            raise Conflict(sentence("{path} exists already. Nothing was overwritten.", path=path))
        if path.is_symlink() or path.is_dir():
            raise Conflict(sentence("{path} is not a regular file. It was left as it is.", path=path))
    _check_room(into, sum(len(data) for _, data in files))
    for path, data in files:
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise LibraryTrouble(
                sentence(
                    "The folder {parent} cannot be created: {reason}.",
                    parent=path.parent,
                    reason=error.strerror or error,
                )
            ) from error
        write_whole(path, data)
    handed_over(library, frame, made.revision)
    return [path for path, _ in files]


def _check_room(folder: Path, size: int) -> None:
    """Raise LibraryTrouble when there is no room for so many bytes."""
    existing_folder = next(each for each in (folder, *folder.parents) if each.exists())
    if shutil.disk_usage(existing_folder).free < size:
        raise LibraryTrouble(
            sentence(
                "There is not enough space in {existing_folder}: {megabytes:.0f} MB are needed.",
                existing_folder=existing_folder,
                megabytes=size / 1e6,
            )
        )


def zipped(library: Library, frames: Sequence[int], wanted: Wanted) -> Iterator[bytes]:
    """A ZIP of some frames' files, a piece at a time: no more than one file of it is ever in memory. It is whole in any
    case: what cannot be delivered is named, with why, in a text in it. Raises what names_of raises before the first
    piece."""
    names_of(library, frames, wanted)
    return _pieces(library, frames, wanted)


def _pieces(library: Library, frames: Sequence[int], wanted: Wanted) -> Iterator[bytes]:
    pipe = _Pipe()
    # Pictures are packed already.
    missing: list[str] = []
    with zipfile.ZipFile(pipe, "w", zipfile.ZIP_STORED) as out:
        for number, frame in enumerate(frames, start=1):
            try:
                made = deliver(library, frame, wanted, place=Place(number, len(frames)))
            except KeenSweepError as error:
                missing.append(f"frame {frame}: {error}\n")
                continue
            for name, data in ((made.name, made.data), *made.beside):
                out.writestr(name, data)
                yield pipe.taken()
        if missing:
            out.writestr(MISSING_NAME, "".join(missing))
    yield pipe.taken()


class _Pipe(io.RawIOBase):
    """What is written can be taken out, and does not stay."""

    def __init__(self) -> None:
        super().__init__()
        self._held = bytearray()

    def writable(self) -> bool:
        return True

    def write(self, data: object) -> int:
        piece = bytes(data)  # type: ignore[call-overload]
        self._held += piece
        return len(piece)

    def taken(self) -> bytes:
        """All that was written since the last time."""
        out, self._held = bytes(self._held), bytearray()
        return out


def remember(library: Library, shoot_id: int, wanted: Wanted, folder: str | None) -> None:
    """Keep how a shoot was delivered, to be repeated. Raises NotFound."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None:
            raise NotFound(sentence("This shoot no longer exists."))
        shoot.delivery = {"wanted": wanted.model_dump(mode="json"), "folder": folder}
        session.add(shoot)


def last_time(library: Library, shoot_id: int) -> tuple[Wanted, str | None] | None:
    """How a shoot was delivered last, and into which folder; None if it was not. Raises NotFound."""
    with library.session() as session:
        shoot = session.get(Shoot, shoot_id)
        if shoot is None:
            raise NotFound(sentence("This shoot no longer exists."))
        delivery = shoot.delivery
    return None if delivery is None else (Wanted.model_validate(delivery["wanted"]), delivery["folder"])
