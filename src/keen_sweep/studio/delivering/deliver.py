"""Deliver: the finished picture as a file."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import PurePosixPath
from typing import cast

import numpy as np

from keen_sweep import __version__
from keen_sweep.core.deliver.for_web import for_web
from keen_sweep.core.deliver.kept_blocks import jpeg_with_changes
from keen_sweep.core.deliver.layered_tiff import layered_tiff
from keen_sweep.core.deliver.named import Facts, file_name
from keen_sweep.core.deliver.openraster import openraster
from keen_sweep.core.deliver.xmp import with_ledger
from keen_sweep.core.photo import jpeg
from keen_sweep.core.photo.exif import with_upright_orientation
from keen_sweep.core.photo.orientation import as_stored
from keen_sweep.core.photo.picture import Format, Metadata, Picture
from keen_sweep.core.photo.png import encode as png_of
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.write import encode_picture
from keen_sweep.document.render import render, render_alpha
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Shoot
from keen_sweep.store.words import EventKind, NoticeKind
from keen_sweep.studio.delivering.layers import layers_of
from keen_sweep.studio.delivering.ledger import ledger_at
from keen_sweep.studio.delivering.wanted import LIKE_THE_ORIGINAL, Kind, Wanted
from keen_sweep.studio.events import note
from keen_sweep.studio.history import frame_of
from keen_sweep.studio.notices import tell
from keen_sweep.studio.open_frame import OpenFrame, open_frame

SOFTWARE_AGENT = f"Keen Sweep {__version__}"
MEDIA_TYPES = {
    ".jpg": "image/jpeg",
    ".png": "image/png",
    ".tif": "image/tiff",
    ".ora": "image/openraster",
    ".layers.tif": "image/tiff",
}
# Longest packet that fits into a segment of a JPEG.
MAX_PACKET_BYTES = 65_000


@dataclass(frozen=True)
class Delivery:
    """A file to hand over; its name may lead through folders; beside: further files, by name; revision: of the frame
    that it shows."""

    name: str
    media_type: str
    data: bytes
    beside: tuple[tuple[str, bytes], ...] = ()
    revision: int = 0


@dataclass(frozen=True)
class Place:
    """Which of how many pictures one is, for its name."""

    number: int = 1
    count: int = 1


DEFAULT_PLACE = Place()


def name_of(library: Library, frame_id: int, wanted: Wanted, place: Place = DEFAULT_PLACE) -> str:
    """The name that a frame's file will have. Raises BadRequest for a pattern that makes none, NotFound."""
    return _name(open_frame(library, frame_id), wanted, place)


def deliver(
    library: Library,
    frame_id: int,
    wanted: Wanted = LIKE_THE_ORIGINAL,
    revision_id: int | None = None,
    place: Place = DEFAULT_PLACE,
) -> Delivery:
    """The present picture (or another revision's) as a file.

    Bit depth, profile, orientation and metadata are the original's, as far as the format holds them. Of a JPEG of the
    original's own format only what changed is coded anew; a picture to which nothing was done is the original's file,
    byte for byte. Nothing is noted: see handed_over. Raises NotFound, LibraryTrouble, BadRequest.
    """
    current = open_frame(library, frame_id, revision_id)
    name, suffix = _name(current, wanted, place), wanted.suffix(_format(current))
    picture = read_picture(library.files.path(current.frame.original))
    pixels = render(Pyramid([picture.pixels], current.frame.original), current.stack, current.shelf)
    alpha = None if picture.alpha is None else render_alpha(picture.alpha, current.stack, current.shelf)
    swept = replace(picture, pixels=pixels, alpha=alpha)
    return Delivery(
        name,
        MEDIA_TYPES[suffix],
        _data(current, wanted, picture, swept),
        _masks(current, wanted, name),
        current.revision,
    )


def handed_over(library: Library, frame_id: int, revision: int | None = None) -> None:
    """A frame was delivered as it was at a revision, as it is now if none is named. Raises NotFound."""
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        at = frame.revision_id if revision is None else revision
        if frame.delivered == at:
            return
        frame.delivered = at
        session.add(frame)
        note(session, EventKind.SHOOTS, shoot=frame.shoot_id, frame=frame.id)
        tell(session, NoticeKind.DELIVERED, shoot=frame.shoot_id, frame=frame.id)


def _data(current: OpenFrame, wanted: Wanted, picture: Picture, swept: Picture) -> bytes:
    """The bytes of a file of a picture as it was swept."""
    written = wanted.written(picture.format)
    if written is None:
        layers = layers_of(current)
        make = openraster if wanted.kind is Kind.ORA else layered_tiff
        alphas = None if picture.alpha is None or swept.alpha is None else (picture.alpha, swept.alpha)
        return make(picture.pixels, swept.pixels, layers, picture.metadata, alphas)
    original = current.library.files.path(current.frame.original)
    plain = wanted.kind is not Kind.WEB and written == picture.format
    if plain and _same(picture, swept):
        return original.read_bytes()
    xmp = picture.metadata.xmp
    if wanted.ledger:
        xmp = with_ledger(xmp, ledger_at(current), datetime.now(UTC), SOFTWARE_AGENT, MAX_PACKET_BYTES)
    finished = replace(swept, metadata=replace(picture.metadata, xmp=xmp))
    if wanted.kind is Kind.WEB:
        return jpeg.encode(_upright(for_web(finished, wanted.longest, wanted.sharpen)), wanted.quality)
    if plain and written == "jpeg" and not picture.converted:
        turn = picture.metadata.orientation
        before, after = (np.ascontiguousarray(as_stored(each, turn)) for each in (picture.pixels, swept.pixels))
        return jpeg_with_changes(
            original,
            before.astype(np.uint8, copy=False),
            after.astype(np.uint8, copy=False),
            xmp if wanted.ledger else None,
        )
    return encode_picture(finished, written)


def _same(one: Picture, other: Picture) -> bool:
    """Whether two pictures of one size show the same, to the bit."""
    if not np.array_equal(one.pixels, other.pixels):
        return False
    return one.alpha is None or other.alpha is None or np.array_equal(one.alpha, other.alpha)


def _upright(picture: Picture) -> Picture:
    """A picture whose file keeps it upright: what shows it need not know of turning."""
    meta = picture.metadata
    exif = with_upright_orientation(meta.exif) if meta.exif else None
    return replace(picture, metadata=Metadata(icc=meta.icc, exif=exif, xmp=meta.xmp, resolution=meta.resolution))


def _masks(current: OpenFrame, wanted: Wanted, name: str) -> tuple[tuple[str, bytes], ...]:
    """The masks of the sweeps that show, as pictures of the frame's size."""
    if not wanted.masks:
        return ()
    stem = str(PurePosixPath(name).with_suffix(""))
    out = []
    for number, sweep in enumerate(current.stack.sweeps, start=1):
        if sweep.pick is not None and sweep.shown:
            plane = current.full(current.mask(sweep.id))
            grey = Picture(pixels=np.repeat(plane[..., None], 3, axis=2), format="png", grey=True)
            out.append((f"{stem}-mask-{number}.png", png_of(grey)))
    return tuple(out)


def _name(current: OpenFrame, wanted: Wanted, place: Place) -> str:
    with current.library.session() as session:
        shoot = session.get_one(Shoot, current.frame.shoot_id)
    longest = max(current.frame.width, current.frame.height)
    facts = Facts(
        name=PurePosixPath(current.frame.name).stem,
        shoot=shoot.name,
        number=place.number,
        count=place.count,
        size=min(longest, wanted.longest) if wanted.kind is Kind.WEB else longest,
        day=datetime.now().date(),
    )
    return file_name(wanted.pattern, facts, wanted.suffix(_format(current)))


def _format(current: OpenFrame) -> Format:
    return cast(Format, current.frame.format)
