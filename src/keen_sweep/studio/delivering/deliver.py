"""Deliver: the finished picture as a file."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import PurePath

from keen_sweep.core.photo.picture import Written
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.photo.write import LIKE, SUFFIXES, encode_picture
from keen_sweep.document.render import render
from keen_sweep.store.library import Library
from keen_sweep.studio.sitting import sit


@dataclass(frozen=True)
class Delivery:
    """A file to hand over."""

    name: str
    media_type: str
    data: bytes


def deliver(library: Library, frame_id: int, kind: Written | None = None, revision_id: int | None = None) -> Delivery:
    """The present picture (or another revision's) at full size, in a format, the original's own if None.

    Bit depth, profile, orientation and metadata are the original's, as far as the format holds them. Raises
    NotFound, LibraryTrouble.
    """
    here = sit(library, frame_id, revision_id)
    picture = read_picture(library.files.path(here.frame.original))
    pixels = render(Pyramid([picture.pixels], here.frame.original), here.stack, here.shelf)
    kind = kind or LIKE[picture.format]
    return Delivery(
        name=f"{PurePath(here.frame.name).stem}-swept{SUFFIXES[kind]}",
        media_type=f"image/{kind}",
        data=encode_picture(replace(picture, pixels=pixels), kind),
    )
