"""How frames of a shoot map onto each other: worked out once a pair, and kept with the views."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from keen_sweep.core.errors import BadRequest, LibraryTrouble, NotTheSamePlace
from keen_sweep.core.mask.backdrop import backdrop_of
from keen_sweep.core.photo.write import write_whole
from keen_sweep.core.sentences import sentence
from keen_sweep.core.series.align import align
from keen_sweep.core.series.alignment import Alignment, alignment_from_bytes, alignment_to_bytes
from keen_sweep.core.series.view import VIEW_SIDE_PX, View, view_of
from keen_sweep.studio.open_frame import OpenFrame

# Raise this when alignments are computed differently from those that are stored.
ALIGNMENT_VERSION = 1


def alignment_of(one: OpenFrame, other: OpenFrame) -> Alignment:
    """How a frame maps onto another. Raises NotTheSamePlace, BadRequest for one and the same frame."""
    if one.frame.id == other.frame.id:
        raise BadRequest(sentence("A frame cannot be aligned with itself: choose another one."))
    kept = _file(one, other)
    if kept.is_file():
        try:
            data = kept.read_bytes()
            if not data:
                raise NotTheSamePlace(_unlike(one, other))
            return alignment_from_bytes(data)
        except (OSError, LibraryTrouble):
            kept.unlink(missing_ok=True)
    try:
        found = _aligned(one, other)
    except NotTheSamePlace:
        _keep(kept, b"")
        raise NotTheSamePlace(_unlike(one, other)) from None
    _keep(kept, alignment_to_bytes(found))
    return found


def _aligned(one: OpenFrame, other: OpenFrame) -> Alignment:
    """By all that is seen; by the set, where it is a studio series whose subject differs."""
    first, second = view(one), view(other)
    try:
        return align(first, second)
    except NotTheSamePlace:
        backdrop = backdrop_of(first.pixels)
        if backdrop is None:
            raise
        subject = np.repeat(backdrop.subject.astype(np.uint8)[..., None], 3, axis=2)
        aside = view_of(subject * 255).pixels[..., 0]
        if aside.shape != first.pixels.shape[:2]:
            raise
        return align(first, second, aside > 0)


def view(current: OpenFrame) -> View:
    """A frame as it was shot, made small enough to be aligned."""
    level = 0
    while max(current.frame.width, current.frame.height) >> (level + 1) >= VIEW_SIDE_PX:
        level += 1
    return view_of(np.asarray(current.pyramid.level(level)), current.frame.width, current.frame.height)


def _unlike(one: OpenFrame, other: OpenFrame) -> str:
    """Why two frames cannot be aligned, as far as it can be told."""
    said = sentence(
        "{name} does not show the same place as {reference}, or too little of it.",
        name=other.frame.name,
        reference=one.frame.name,
    )
    ours, theirs = (one.frame.width, one.frame.height), (other.frame.width, other.frame.height)
    if ours == theirs[::-1] and ours != theirs:
        return sentence("{said} One is upright, the other is across.", said=said)
    return said if ours == theirs else sentence("{said} Their sizes differ too.", said=said)


def _file(one: OpenFrame, other: OpenFrame) -> Path:
    folder = one.library.views / one.frame.original
    # The pyramid is what makes the folder.
    assert one.pyramid is not None
    return folder / f"onto-{other.frame.original[:32]}-{ALIGNMENT_VERSION}.npz"


def _keep(file: Path, data: bytes) -> None:
    try:
        write_whole(file, data)
    except LibraryTrouble:
        # It can be worked out again.
        file.unlink(missing_ok=True)
