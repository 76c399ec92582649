"""Guard: what must stay, drawn by hand or found by its sharpness."""

from __future__ import annotations

from collections.abc import Sequence

from keen_sweep.core.box import box_of
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.areas import as_area
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.mask.shape import Shape
from keen_sweep.core.mask.subject import subject_of
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Mark
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change
from keen_sweep.studio.marking.draw import MAX_SHAPES, taken_in
from keen_sweep.studio.open_frame import open_frame


def guard(library: Library, frame_id: int, shapes: Sequence[Shape], title: str = "guard") -> Revision:
    """More shapes for the guard, adding or taking away; title: of the step in the history."""
    more = taken_in(library, shapes)

    def edit(stack: Stack) -> Stack:
        if len(stack.guard) + len(more) > MAX_SHAPES:
            raise BadRequest(sentence("A guard holds at most {max_shapes} strokes.", max_shapes=MAX_SHAPES))
        return stack.model_copy(update={"guard": (*stack.guard, *more)})

    return change(library, frame_id, title, edit)


def guard_subject(library: Library, frame_id: int) -> Revision:
    """Guard the sharp main subject. Raises BadRequest where sharpness does not tell one."""
    current = open_frame(library, frame_id)
    found = subject_of(current.pyramid.window(current.box))
    if found is None:
        raise BadRequest(sentence("Nothing here stands out by its sharpness: paint the guard by hand."))
    tight = box_of(found.pixels > 0)
    placed = tight.moved(found.box.x, found.box.y)
    return guard(library, frame_id, [as_area(Mask(placed, found.pixels[tight.slices]), library.files.add)])


def clear_guard(library: Library, frame_id: int) -> Revision:
    return change(library, frame_id, sentence("clear guard"), lambda stack: stack.model_copy(update={"guard": ()}))


def guard_rings(library: Library, frame_id: int, revision_id: int | None = None) -> list[Ring]:
    """The outline of what is guarded."""
    current = open_frame(library, frame_id, revision_id)
    return rings_of(current.mask_of(Mark(shapes=current.stack.guard), unguarded=True))
