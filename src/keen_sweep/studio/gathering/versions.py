"""Newer versions of a frame's picture: the same one in other tones, in more bits, straightened or cropped."""

from __future__ import annotations

from pathlib import Path, PurePosixPath

import numpy as np

from keen_sweep.core.box import Box
from keen_sweep.core.errors import AlreadyThere, BadRequest, NotTheSamePlace
from keen_sweep.core.photo.picture import Picture
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.similarity import IDENTITY_SIMILARITY, Similarity, similarity_between
from keen_sweep.core.series.view import view_of
from keen_sweep.store.files import content_hash
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.store.words import EventKind
from keen_sweep.studio.events import note
from keen_sweep.studio.expected_revision import check_seen
from keen_sweep.studio.gathering.follow import Following
from keen_sweep.studio.gathering.names import named
from keen_sweep.studio.history import frame_of, revision_of
from keen_sweep.studio.open_frame import OpenFrame, open_frame
from keen_sweep.studio.originals import originals_of
from keen_sweep.studio.provisional import seen_stack
from keen_sweep.studio.stacks import revised

# Largest ratio of the sizes of two versions.
MAX_SCALE = 4.0
# Smaller turns are not reported, degrees.
MIN_TURN_DEG = 0.05
# Smaller changes of scale are not reported.
MIN_SCALE_CHANGE = 0.01


def take_up(library: Library, frame_id: int, name: str, file: Path) -> Revision:
    """Take up a newer version of a frame's picture: its sweeps, guards, touch-ups and finds follow, what was filled is
    out of step until it is laid again. Both versions stay in the history.

    file lies in the library's incoming folder and is moved. Raises BadPicture, NotFound, AlreadyThere for the very file
    that is shown, BadRequest for another picture, and for one that was bent.
    """
    current = open_frame(library, frame_id)
    if content_hash(file) == current.frame.original:
        raise AlreadyThere(sentence("This file is already the current version."))
    picture = read_picture(file)
    lies = _lies(current, picture)
    following = Following(current, lies, Box(x=0, y=0, width=picture.width, height=picture.height))
    original = library.files.take_in(file)
    if not (library.views / original).exists():
        originals_of(library).keep(original, picture)
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        check_seen(frame)
        present = revision_of(session, frame)
        if frame.original != current.frame.original:
            raise BadRequest(sentence("Another version has been taken up since. Look at it first."))
        stack = following.stack(seen_stack(session, frame, present))
        following.finds(session, frame_id, frame.original, original)
        frame.original, frame.format, frame.depth = original, picture.format, picture.depth
        frame.width, frame.height = picture.width, picture.height
        shown = named(PurePosixPath(name.replace("\\", "/")).name, "picture")
        remarks = [sentence("newer version, {shown}", shown=shown), *_told(lies, current.box, picture)]
        if picture.converted:
            remarks.append(picture.converted)
        revision = revised(session, present, stack, frame, ", ".join(remarks))
        frame.revision_id = revision.id
        session.add(frame)
        note(session, EventKind.FRAME, shoot=frame.shoot_id, frame=frame_id)
        note(session, EventKind.SHOOTS, shoot=frame.shoot_id, frame=frame_id)
        return revision


def _lies(current: OpenFrame, picture: Picture) -> Similarity:
    """How the picture of a frame lies in a version of it. Raises BadRequest."""
    one, other = (view_of(np.asarray(pixels)) for pixels in (current.pyramid.level(0), picture.pixels))
    try:
        lies = similarity_between(one, other)
    except NotTheSamePlace as error:
        raise BadRequest(
            sentence("This file cannot be a newer version: {error}. Add it as a new picture.", error=error)
        ) from error
    if not 1 / MAX_SCALE <= lies.scale <= MAX_SCALE:
        raise BadRequest(
            sentence("This version is {scale:.2g} times as large, so fills cannot follow.", scale=lies.scale)
        )
    return lies


def _told(lies: Similarity, before: Box, after: Picture) -> list[str]:
    """What was done to the geometry, in words."""
    if lies == IDENTITY_SIMILARITY:
        return []
    out = []
    if abs(lies.turn) >= MIN_TURN_DEG:
        out.append(sentence("turned by {degrees:.1f}\N{DEGREE SIGN}", degrees=abs(lies.turn)))
    if abs(lies.scale - 1) >= MIN_SCALE_CHANGE:
        out.append(sentence("{scale:.0%} of the size", scale=lies.scale))
    if after.width * after.height < 0.999 * before.area * lies.scale**2:
        out.append("cropped")
    return out or ["moved"]
