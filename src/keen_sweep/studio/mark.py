"""Mark: shapes make sweeps, and guard what must stay."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path
from uuid import uuid4

import numpy as np
from numpy.typing import NDArray

from keen_sweep.core.box import box_of
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.area import Area, area_from_bytes, area_to_bytes
from keen_sweep.core.mask.areas import apart, as_area, joined
from keen_sweep.core.mask.check import read_mask
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mark import Mark, Mask, Shape, guard_of, mask_of, moved
from keen_sweep.core.mask.rings import Ring, rings_of
from keen_sweep.core.photo.read import read_picture
from keen_sweep.core.stack import Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, Revision
from keen_sweep.studio.history import change, frame_of, revision_of, stack_of

MOST_SHAPES = 5_000


def new_sweep(
    library: Library, frame_id: int, shapes: Sequence[Shape], name: str = "", fit: Fit | None = None
) -> tuple[str, Revision]:
    """A new sweep on top of the stack, marked by some shapes; its id and the revision."""
    if not shapes or all(shape.erase for shape in shapes):
        raise BadRequest("A new mark needs at least one stroke that adds.")
    _check(library, shapes)
    sweep_id = uuid4().hex

    def edit(stack: Stack) -> Stack:
        title = name.strip()[:80] or f"Sweep {next_number(stack)}"
        mark = Mark(shapes=tuple(shapes), fit=fit or Fit())
        return stack.with_layer(Sweep(id=sweep_id, name=title, mark=mark))

    return sweep_id, change(library, frame_id, "new mark", edit)


def add_shapes(library: Library, frame_id: int, sweep_id: str, shapes: Sequence[Shape]) -> Revision:
    """More shapes for a sweep, adding or taking away."""
    _check(library, shapes)

    def edit(stack: Stack) -> Stack:
        mark = stack.sweep(sweep_id).mark
        if len(mark.shapes) + len(shapes) > MOST_SHAPES:
            raise BadRequest(f"A mark holds at most {MOST_SHAPES} strokes: fill this one and start another.")
        return stack.changed(sweep_id, mark=mark.model_copy(update={"shapes": (*mark.shapes, *shapes)}))

    title = "take away from mark" if shapes and all(s.erase for s in shapes) else "add to mark"
    return change(library, frame_id, title, edit)


def clear_mark(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """All shapes of a sweep gone; undo brings them back."""

    def edit(stack: Stack) -> Stack:
        mark = stack.sweep(sweep_id).mark
        return stack.changed(sweep_id, mark=mark.model_copy(update={"shapes": ()}))

    return change(library, frame_id, "clear mark", edit)


def refit(library: Library, frame_id: int, sweep_id: str, fit: Fit) -> Revision:
    """Another margin, feather, or other fit for a sweep's mask."""

    def edit(stack: Stack) -> Stack:
        return stack.changed(sweep_id, mark=stack.sweep(sweep_id).mark.model_copy(update={"fit": fit}))

    return change(library, frame_id, "shape the mask", edit)


def move_sweep(library: Library, frame_id: int, sweep_id: str, across: float, down: float) -> Revision:
    """A sweep's mark shifted by so many pixels; what was picked for the old place is picked no more."""
    if not across and not down:
        raise BadRequest("Move it by at least a pixel.")

    def edit(stack: Stack) -> Stack:
        mark = moved(stack.sweep(sweep_id).mark, across, down)
        reach = mask_of(mark, *_size(library, frame_id), library.files.read)
        if not reach.pixels.any():
            raise BadRequest("That would move the whole mark out of the picture.")
        return stack.changed(sweep_id, mark=mark, pick=None)

    return change(library, frame_id, "move sweep", edit)


def rename_sweep(library: Library, frame_id: int, sweep_id: str, name: str) -> Revision:
    if not name.strip():
        raise BadRequest("A sweep needs a name.")
    return change(library, frame_id, "rename", lambda stack: stack.changed(sweep_id, name=name.strip()[:80]))


def guard(library: Library, frame_id: int, shapes: Sequence[Shape]) -> Revision:
    """More shapes for the guard, adding or taking away."""
    _check(library, shapes)

    def edit(stack: Stack) -> Stack:
        if len(stack.guard) + len(shapes) > MOST_SHAPES:
            raise BadRequest(f"A guard holds at most {MOST_SHAPES} strokes.")
        return stack.model_copy(update={"guard": (*stack.guard, *shapes)})

    return change(library, frame_id, "guard", edit)


def clear_guard(library: Library, frame_id: int) -> Revision:
    return change(library, frame_id, "clear guard", lambda stack: stack.model_copy(update={"guard": ()}))


def split(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """A sweep for each separate area of one."""
    width, height = _size(library, frame_id)
    return change(
        library, frame_id, "split areas", lambda stack: taken_apart(library, stack, sweep_id, width, height)[0]
    )


def taken_apart(library: Library, stack: Stack, sweep_id: str, width: int, height: int) -> tuple[Stack, list[str]]:
    """The stack with a sweep for each separate area of one, and their ids; the first keeps the old one."""
    sweep = stack.sweep(sweep_id)
    marks = apart(sweep.mark, width, height, library.files.read, library.files.add)
    if len(marks) == 1:
        return stack, [sweep_id]
    own = not (sweep.name.startswith("Sweep ") and sweep.name[6:].isdigit())
    number = next_number(stack)
    sweeps = []
    for k, mark in enumerate(marks):
        first = sweep.name if not own else f"{sweep.name} 1"
        name = first if k == 0 else f"{sweep.name} {k + 1}" if own else f"Sweep {number + k - 1}"
        changes = {"mark": mark, "name": name[:80], "together": False, **({} if k == 0 else {"id": uuid4().hex})}
        sweeps.append(sweep.model_copy(update=changes))
    at = stack.layers.index(sweep)
    layers = (*stack.layers[:at], *sweeps, *stack.layers[at + 1 :])
    return stack.model_copy(update={"layers": layers}), [each.id for each in sweeps]


def join(library: Library, frame_id: int, sweep_ids: Sequence[str]) -> Revision:
    """One sweep of several that have not been filled; it stays one when it is filled."""
    if len(set(sweep_ids)) < 2:
        raise BadRequest("Choose at least two sweeps to join.")
    width, height = _size(library, frame_id)

    def edit(stack: Stack) -> Stack:
        chosen = [sweep for sweep in stack.sweeps if sweep.id in sweep_ids]
        if len(chosen) < len(set(sweep_ids)):
            raise BadRequest("One of these sweeps is not in the picture any more.")
        if any(sweep.pick for sweep in chosen):
            raise BadRequest("A sweep that is filled already cannot be joined to another.")
        marks = [sweep.mark for sweep in chosen]
        mark = joined(marks, width, height, library.files.read, library.files.add)
        one = chosen[0].model_copy(update={"mark": mark, "together": True})
        left = tuple(one if layer.id == one.id else layer for layer in stack.layers if layer not in chosen[1:])
        return stack.model_copy(update={"layers": left})

    return change(library, frame_id, "join areas", edit)


def load_mask(library: Library, frame_id: int, data: bytes, sweep_id: str | None) -> tuple[str, Revision]:
    """A mask file as a new sweep, or added to one. Raises BadMask when it does not fit the picture."""
    with library.session() as session:
        original = frame_of(session, frame_id).original
    picture = read_picture(library.files.path(original))
    with tempfile.NamedTemporaryFile(dir=library.incoming, suffix=".mask") as file:
        file.write(data)
        file.flush()
        area = area_in(library, read_mask(Path(file.name), picture))
    if sweep_id is None:
        return new_sweep(library, frame_id, [area])
    return sweep_id, add_shapes(library, frame_id, sweep_id, [area])


def area_in(library: Library, mask: NDArray[np.uint8]) -> Area:
    """A mask (H, W) at the picture's size as a shape, its file kept in the library."""
    box = box_of(mask > 0)
    return as_area(Mask(box, mask[box.slices]), library.files.add)


def mask_at(
    library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None, fit: Fit | None = None
) -> Mask:
    """The mask of a sweep, in its box; with another fit than its own if one is given."""
    frame, stack = state_of(library, frame_id, revision_id)
    mark = stack.sweep(sweep_id).mark
    if fit is not None:
        mark = mark.model_copy(update={"fit": fit})
    load = library.files.read
    return mask_of(mark, frame.width, frame.height, load, guard_of(stack.guard, frame.width, frame.height, load))


def rings_at(
    library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None, fit: Fit | None = None
) -> list[Ring]:
    """The outline of a sweep's mask."""
    return rings_of(mask_at(library, frame_id, sweep_id, revision_id, fit))


def guard_rings(library: Library, frame_id: int, revision_id: int | None = None) -> list[Ring]:
    """The outline of what is guarded."""
    frame, stack = state_of(library, frame_id, revision_id)
    return rings_of(mask_of(Mark(shapes=stack.guard), frame.width, frame.height, library.files.read))


def mask_png(library: Library, frame_id: int, sweep_id: str, revision_id: int | None = None) -> bytes:
    """The mask of a sweep as a PNG file, full size, white where the picture is to be replaced."""
    width, height = _size(library, frame_id)
    return area_to_bytes(mask_at(library, frame_id, sweep_id, revision_id).full(width, height))


def state_of(library: Library, frame_id: int, revision_id: int | None = None) -> tuple[Frame, Stack]:
    """A frame and its stack at a revision."""
    with library.session() as session:
        frame = frame_of(session, frame_id)
        return frame, stack_of(revision_of(session, frame, revision_id))


def next_number(stack: Stack) -> int:
    """The number of the next sweep that gets no name."""
    numbers = [int(s.name[6:]) for s in stack.sweeps if s.name.startswith("Sweep ") and s.name[6:].isdigit()]
    return max([len(stack.sweeps), *numbers]) + 1


def _size(library: Library, frame_id: int) -> tuple[int, int]:
    with library.session() as session:
        frame = frame_of(session, frame_id)
        return frame.width, frame.height


def _check(library: Library, shapes: Sequence[Shape]) -> None:
    """Raise NotFound or BadRequest for areas whose file is not in the library or does not fit."""
    for shape in shapes:
        if isinstance(shape, Area):
            stored = area_from_bytes(library.files.read(shape.file))
            if stored.shape != (shape.box.height, shape.box.width):
                raise BadRequest("An area of this mark does not fit its box.")
