"""Pictures into a shoot, and out of it."""

from __future__ import annotations

from pathlib import Path, PurePosixPath
from uuid import uuid4

from keen_sweep.core.box import box_of
from keen_sweep.core.deliver.xmp import ledger_in
from keen_sweep.core.errors import NotFound
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.photo.channels import to_eight_bit
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Mark
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Shoot
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.expected_revision import check_seen
from keen_sweep.studio.gathering.called_off import call_off
from keen_sweep.studio.gathering.gone import moment
from keen_sweep.studio.gathering.names import named
from keen_sweep.studio.originals import originals_of
from keen_sweep.studio.stacks import revised


def add_frame(library: Library, shoot_id: int, name: str, file: Path) -> Frame:
    """Take a picture file into a shoot: it is read whole first, by content and not by name.

    file lies in the library's incoming folder and is moved. Raises BadPicture, NotFound or LibraryTrouble;
    whoever called removes the file then, and nothing else is left behind.
    """
    with library.session() as session:
        if session.get(Shoot, shoot_id) is None:
            raise NotFound(sentence("This shoot no longer exists."))
    picture = read_picture(file)
    original = library.files.take_in(file)
    if not (library.views / original).exists():
        originals_of(library).keep(original, picture)
    stack = _as_brought(library, picture)
    with library.session() as session:
        frame = Frame(
            shoot_id=shoot_id,
            name=named(PurePosixPath(name.replace("\\", "/")).name, "picture"),
            original=original,
            format=picture.format,
            width=picture.width,
            height=picture.height,
            depth=picture.depth,
        )
        session.add(frame)
        session.flush()
        frame.revision_id = revised(session, None, stack, frame, _title(picture)).id
        note(session, EventKind.SHOOTS, shoot=shoot_id, frame=frame.id)
        return frame


def _title(picture: Picture) -> str:
    if ledger_in(picture.metadata.xmp) is not None:
        return sentence("as delivered by Keen Sweep before")
    return sentence("as shot, {converted}", converted=picture.converted) if picture.converted else sentence("as shot")


def _as_brought(library: Library, picture: Picture) -> Stack:
    """The first state of a frame: a picture whose transparency marks an area brings that along as a mark."""
    if picture.alpha is None:
        return Stack()
    clear = 255 - to_eight_bit(picture.alpha)
    if not clear.any() or clear.all():
        return Stack()
    box = box_of(clear > 0)
    area = as_area(Mask(box, clear[box.slices]), library.files.add)
    return Stack().with_layer(Sweep(id=uuid4().hex, name=sentence("Transparent area"), mark=Mark(shapes=(area,))))


def remove_frame(library: Library, frame_id: int) -> None:
    """Take a frame out of its shoot: it can be brought back for a while (gone). Raises NotFound."""
    with library.session() as session:
        frame = session.get(Frame, frame_id)
        if frame is None:
            raise NotFound(sentence("This picture no longer exists."))
        check_seen(frame)
        shoot = session.get_one(Shoot, frame.shoot_id)
        trash = Shoot(
            name=sentence("{frame} of {shoot}", frame=frame.name, shoot=shoot.name)[:200],
            gone_at=moment(session),
            part_of=shoot.id,
        )
        session.add(trash)
        session.flush()
        frame.shoot_id = trash.id
        call_off(session, [frame_id])
        session.add(frame)
        note(session, EventKind.SHOOTS, shoot=shoot.id, frame=frame_id)
