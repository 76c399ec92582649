"""Areas: a sweep for each separate area of a mark, or one sweep of several."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import uuid4

from keen_sweep.core.errors import BadRequest
from keen_sweep.core.mask.areas import MAX_SPLIT_AREAS
from keen_sweep.core.sentences import sentence
from keen_sweep.document.apart import apart, joined
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change
from keen_sweep.studio.marking.draw import next_number
from keen_sweep.studio.open_frame import open_frame


def split(library: Library, frame_id: int, sweep_id: str) -> tuple[list[str], Revision]:
    """A sweep for each separate area of one, which keeps its id as the first of them; their ids."""
    current = open_frame(library, frame_id)
    ids = [sweep_id]

    def edit(stack: Stack) -> Stack:
        nonlocal ids
        sweep = stack.sweep(sweep_id)
        marks = apart(sweep.mark, current.box, current.shelf, library.files.add, MAX_SPLIT_AREAS)
        if len(marks) == 1:
            return stack
        own = not (sweep.name.startswith("Sweep ") and sweep.name[6:].isdigit())
        number = next_number(stack)
        sweeps = []
        for k, mark in enumerate(marks):
            first = sweep.name if not own else f"{sweep.name} 1"
            name = (
                first
                if k == 0
                else f"{sweep.name} {k + 1}"
                if own
                else sentence("Sweep {number}", number=number + k - 1)
            )
            changes = {"mark": mark, "name": name[:80], "together": False, **({} if k == 0 else {"id": uuid4().hex})}
            sweeps.append(sweep.model_copy(update=changes))
        ids = [each.id for each in sweeps]
        at = stack.layers.index(sweep)
        return stack.model_copy(update={"layers": (*stack.layers[:at], *sweeps, *stack.layers[at + 1 :])})

    revision = change(library, frame_id, sentence("split areas"), edit)
    return ids, revision


def join(library: Library, frame_id: int, sweep_ids: Sequence[str]) -> Revision:
    """One sweep of several that have not been filled; it stays one when it is filled."""
    if len(set(sweep_ids)) <= 1:
        raise BadRequest(sentence("Choose at least two sweeps to join."))
    current = open_frame(library, frame_id)
    standing = {sweep.id for sweep in current.stack.sweeps if sweep.provisional}

    def edit(stack: Stack) -> Stack:
        chosen = [sweep for sweep in stack.sweeps if sweep.id in sweep_ids]
        if len(chosen) < len(set(sweep_ids)):
            raise BadRequest(sentence("One of these sweeps is no longer in the picture."))
        if any(sweep.pick or sweep.id in standing for sweep in chosen):
            raise BadRequest(sentence("A sweep that is filled already cannot be joined to another."))
        mark = joined([sweep.mark for sweep in chosen], current.box, current.shelf, library.files.add)
        one = chosen[0].model_copy(update={"mark": mark, "together": True})
        left = tuple(one if layer.id == one.id else layer for layer in stack.layers if layer not in chosen[1:])
        return stack.model_copy(update={"layers": left})

    return change(library, frame_id, sentence("join areas"), edit)
