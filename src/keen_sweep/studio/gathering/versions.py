"""Newer versions of a frame's picture: the same one in other tones, or in more bits."""

from __future__ import annotations

from pathlib import Path, PurePosixPath

import numpy as np

from keen_sweep.core.errors import AlreadyThere, BadRequest, NotTheSamePlace
from keen_sweep.core.photo.pyramid import Pyramid
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.series.align import align
from keen_sweep.core.series.alignment import projected
from keen_sweep.core.series.view import view_of
from keen_sweep.document.stack import Stack, Sweep
from keen_sweep.store.files import content_hash
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.store.words import EventKind
from keen_sweep.studio.gathering.names import named
from keen_sweep.studio.history import frame_of, revision_of
from keen_sweep.studio.originals import originals_of
from keen_sweep.studio.running.events import note
from keen_sweep.studio.sitting import sit
from keen_sweep.studio.stacks import revised, stack_of

# A version is of the same geometry when nothing lies farther off than this, pixels of what is looked at.
STILL = 1.5


def take_up(library: Library, frame_id: int, name: str, file: Path) -> Revision:
    """Take up a newer version of a frame's picture: its sweeps, guards and touch-ups stay, what was filled is out of
    step until it is laid again. Both versions stay in the history.

    file lies in the library's incoming folder and is moved. Raises BadPicture, NotFound, AlreadyThere for the very file
    that is shown, BadRequest for another picture, and for one that was straightened or cropped.
    """
    here = sit(library, frame_id)
    if content_hash(file) == here.frame.original:
        raise AlreadyThere("This is the file that is shown already.")
    picture = read_picture(file)
    _check_same(here.pyramid, Pyramid([picture.pixels]), f"{here.frame.width} x {here.frame.height}")
    original = library.files.take_in(file)
    if not (library.views / original).exists():
        originals_of(library).keep(original, picture)
    with library.session(write=True) as session:
        frame = frame_of(session, frame_id)
        present = revision_of(session, frame)
        frame.original, frame.format, frame.depth = original, picture.format, picture.depth
        stack = _behind(stack_of(session, present))
        shown = named(PurePosixPath(name.replace("\\", "/")).name, "picture")
        told = f"newer version, {shown}" + (f", {picture.converted}" if picture.converted else "")
        revision = revised(session, present, stack, frame, told)
        frame.revision_id = revision.id
        session.add(frame)
        note(session, EventKind.FRAME, shoot=frame.shoot_id, frame=frame_id)
        note(session, EventKind.SHOOTS, shoot=frame.shoot_id, frame=frame_id)
        return revision


def _behind(stack: Stack) -> Stack:
    """A stack whose fills are those of an earlier version."""
    layers = tuple(
        layer.model_copy(update={"pick": None, "behind": layer.pick or layer.behind})
        if isinstance(layer, Sweep)
        else layer
        for layer in stack.layers
    )
    return stack.model_copy(update={"layers": layers})


def _check_same(before: Pyramid, after: Pyramid, size: str) -> None:
    """Raise BadRequest unless two pictures show the same, pixel for pixel."""
    if before.box != after.box:
        now = f"{after.box.width} x {after.box.height}"
        raise BadRequest(
            f"This version is {now} px, the picture {size}: one that was cropped or straightened cannot be taken up; "
            "add it as a picture of its own."
        )
    one, other = (view_of(np.asarray(each.level(0))) for each in (before, after))
    try:
        matrix = align(one, other).homography
    except NotTheSamePlace as error:
        raise BadRequest("This file does not show the same picture: its fills would make no sense.") from error
    corners = np.array([[0, 0], [one.width, 0], [one.width, one.height], [0, one.height]], np.float64)
    off = np.abs(projected(matrix, corners) - corners).max() * one.scale
    if off > STILL:
        raise BadRequest("This version lies otherwise: one that was turned or straightened cannot be taken up.")
