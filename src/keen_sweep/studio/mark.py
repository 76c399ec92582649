"""Mark: strokes make sweeps."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import uuid4

from keen_sweep.core.box import Box
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.stroke import Stroke, mask_of_strokes
from keen_sweep.core.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change, frame_of, revision_of, stack_of

MOST_STROKES = 5_000


def new_sweep(library: Library, frame_id: int, strokes: Sequence[Stroke], name: str = "") -> tuple[str, Revision]:
    """A new sweep on top of the stack, marked by some strokes; its id and the revision."""
    if not strokes or all(stroke.erase for stroke in strokes):
        raise BadRequest("A new mark needs at least one stroke that adds.")
    sweep_id = uuid4().hex

    def edit(stack: Stack) -> Stack:
        title = name.strip()[:80] or f"Sweep {_next_number(stack)}"
        return stack.with_sweep(Sweep(id=sweep_id, name=title, strokes=tuple(strokes)))

    return sweep_id, change(library, frame_id, "new mark", edit)


def add_strokes(library: Library, frame_id: int, sweep_id: str, strokes: Sequence[Stroke]) -> Revision:
    """More strokes for a sweep, adding or taking away."""

    def edit(stack: Stack) -> Stack:
        sweep = stack.sweep(sweep_id)
        if len(sweep.strokes) + len(strokes) > MOST_STROKES:
            raise BadRequest(f"A mark holds at most {MOST_STROKES} strokes: fill this one and start another.")
        return stack.changed(sweep_id, strokes=(*sweep.strokes, *strokes))

    title = "take away from mark" if strokes and all(s.erase for s in strokes) else "add to mark"
    return change(library, frame_id, title, edit)


def clear_mark(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """All strokes of a sweep gone; undo brings them back."""
    return change(library, frame_id, "clear mark", lambda stack: stack.changed(sweep_id, strokes=()))


def rename_sweep(library: Library, frame_id: int, sweep_id: str, name: str) -> Revision:
    if not name.strip():
        raise BadRequest("A sweep needs a name.")
    return change(library, frame_id, "rename", lambda stack: stack.changed(sweep_id, name=name.strip()[:80]))


def mask_of(library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None) -> bytes:
    """The mask of a sweep as a PNG file, full size, white where the picture is to be replaced."""
    import imagecodecs

    with library.session() as session:
        frame = frame_of(session, frame_id)
        sweep = stack_of(revision_of(session, frame, revision_id)).sweep(sweep_id)
    return bytes(imagecodecs.png_encode(mask_of_strokes(sweep.strokes, frame.width, frame.height), level=1))


def reach_of(strokes: Sequence[Stroke], width: int, height: int) -> Box:
    """A box round what strokes may cover, cut to the picture: quick, and never too small."""
    box: Box | None = None
    for stroke in strokes:
        if not stroke.erase:
            box = stroke.box if box is None else box.union(stroke.box)
    picture = Box(x=0, y=0, width=width, height=height)
    return (box or Box(x=0, y=0, width=0, height=0)).intersect(picture)


def _next_number(stack: Stack) -> int:
    numbers = [int(s.name[6:]) for s in stack.layers if s.name.startswith("Sweep ") and s.name[6:].isdigit()]
    return max([len(stack.layers), *numbers]) + 1
