"""Draw: shapes make sweeps and change them."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import uuid4

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.area import Area, area_from_bytes
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.shape import Shape, moved
from keen_sweep.core.sentences import sentence
from keen_sweep.document.mark import Drawn, Mark, filed, shapes_of
from keen_sweep.document.stack import Carried, Stack, Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import ADDING_TITLE, ERASING_TITLE, change
from keen_sweep.studio.open_frame import open_frame
from keen_sweep.studio.provisional import newest_take

MAX_SHAPES = 5_000


def taken_in(library: Library, shapes: Sequence[Shape]) -> tuple[Drawn | Area, ...]:
    """Shapes that somebody sends, as a mark holds them. Raises NotFound or BadRequest for areas whose file is not in
    the library or does not fit."""
    for shape in shapes:
        if isinstance(shape, Area):
            stored = area_from_bytes(library.files.read(shape.file))
            if stored.shape != (shape.box.height, shape.box.width):
                raise BadRequest(sentence("An area of this mark does not fit its box."))
    return filed(shapes, library.files.add)


def new_sweep(
    library: Library, frame_id: int, shapes: Sequence[Shape], name: str = "", fit: Fit | None = None
) -> tuple[str, Revision]:
    """A new sweep on top of the stack, marked by some shapes; its id and the revision."""
    if not shapes or all(shape.erase for shape in shapes):
        raise BadRequest(sentence("A new mark needs at least one stroke that adds."))
    mark = Mark(shapes=taken_in(library, shapes), fit=fit or Fit())
    sweep_id = uuid4().hex

    def edit(stack: Stack) -> Stack:
        title = name.strip()[:80] or sentence("Sweep {number}", number=next_number(stack))
        return stack.with_layer(Sweep(id=sweep_id, name=title, mark=mark))

    return sweep_id, change(library, frame_id, sentence("new mark"), edit)


def add_shapes(library: Library, frame_id: int, sweep_id: str, shapes: Sequence[Shape]) -> Revision:
    """More shapes for a sweep, adding or taking away."""
    more = taken_in(library, shapes)

    def edit(stack: Stack) -> Stack:
        mark = stack.sweep(sweep_id).mark
        if len(mark.shapes) + len(more) > MAX_SHAPES:
            raise BadRequest(
                sentence(
                    "A mark holds at most {max_shapes} strokes: fill this one and start another.", max_shapes=MAX_SHAPES
                )
            )
        mark = mark.model_copy(update={"shapes": (*mark.shapes, *more)})
        return stack.changed(sweep_id, mark=mark, carried=put_right(stack.sweep(sweep_id)))

    title = ERASING_TITLE if shapes and all(s.erase for s in shapes) else ADDING_TITLE
    return change(library, frame_id, title, edit)


def clear_mark(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """All shapes of a sweep gone, and no take of it stands before it is picked; undo brings them back."""
    outdated = newest_take(library, frame_id, sweep_id)

    def edit(stack: Stack) -> Stack:
        mark = stack.sweep(sweep_id).mark
        return stack.changed(sweep_id, mark=mark.model_copy(update={"shapes": ()}), outdated=outdated)

    return change(library, frame_id, sentence("clear mark"), edit)


def refit(library: Library, frame_id: int, sweep_id: str, fit: Fit) -> Revision:
    """Another margin, feather, or other fit for a sweep's mask."""

    def edit(stack: Stack) -> Stack:
        return stack.changed(sweep_id, mark=stack.sweep(sweep_id).mark.model_copy(update={"fit": fit}))

    return change(library, frame_id, sentence("adjust mask"), edit)


def move_sweep(library: Library, frame_id: int, sweep_id: str, across: float, down: float) -> Revision:
    """A sweep's mark shifted by so many pixels; what was picked for the old place is picked no more."""
    if not across and not down:
        raise BadRequest(sentence("Move it by at least a pixel."))
    current, outdated = open_frame(library, frame_id), newest_take(library, frame_id, sweep_id)

    def edit(stack: Stack) -> Stack:
        mark = stack.sweep(sweep_id).mark
        shapes = [moved(shape, across, down) for shape in shapes_of(mark.shapes, current.shelf)]
        mark = mark.model_copy(update={"shapes": filed(shapes, library.files.add)})
        if not current.mask_of(mark, unguarded=True).pixels.any():
            raise BadRequest(sentence("That would move the whole mark out of the picture."))
        sweep = stack.sweep(sweep_id)
        changes = {
            "mark": mark,
            "lead": tuple(line.with_mask_moved(across, down) for line in sweep.lead),
            "outdated": outdated,
        }
        return stack.changed(sweep_id, **changes, pick=None, as_shot=False, carried=put_right(sweep))

    return change(library, frame_id, sentence("move sweep"), edit)


def put_right(sweep: Sweep) -> Carried | None:
    """Where a sweep was carried over from, once somebody has put it right."""
    return None if sweep.carried is None else sweep.carried.model_copy(update={"doubtful": False})


def settle(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """A sweep that was carried over lies well: it is doubtful no more."""
    return change(
        library,
        frame_id,
        sentence("confirm position"),
        lambda stack: stack.changed(sweep_id, carried=put_right(stack.sweep(sweep_id))),
    )


def rename_sweep(library: Library, frame_id: int, sweep_id: str, name: str) -> Revision:
    if not name.strip():
        raise BadRequest(sentence("A sweep needs a name."))
    return change(library, frame_id, sentence("rename"), lambda stack: stack.changed(sweep_id, name=name.strip()[:80]))


def next_number(stack: Stack) -> int:
    """The number of the next sweep that gets no name."""
    numbers = [int(s.name[6:]) for s in stack.sweeps if s.name.startswith("Sweep ") and s.name[6:].isdigit()]
    return max([len(stack.sweeps), *numbers]) + 1
