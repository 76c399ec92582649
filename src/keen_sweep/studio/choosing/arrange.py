"""Arrange sweeps: shown or not, how much of them, in which order, once more, not at all."""

from __future__ import annotations

from uuid import uuid4

from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change


def show(library: Library, frame_id: int, sweep_id: str, shown: bool) -> Revision:
    """Switch a sweep on or off."""
    title = sentence("switch on") if shown else sentence("switch off")
    return change(library, frame_id, title, lambda stack: stack.changed(sweep_id, shown=shown))


def set_amount(library: Library, frame_id: int, sweep_id: str, amount: int) -> Revision:
    """How much of the pick is laid, per cent."""
    return change(
        library,
        frame_id,
        sentence("opacity {amount} %", amount=amount),
        lambda stack: stack.changed(sweep_id, amount=amount),
    )


def duplicate_sweep(library: Library, frame_id: int, sweep_id: str) -> tuple[str, Revision]:
    """The same mark once more, on top and not filled yet; its id and the revision."""
    made = uuid4().hex

    def edit(stack: Stack) -> Stack:
        sweep = stack.sweep(sweep_id)
        name = f"{sweep.name} again"[:80]
        fresh = {"id": made, "name": name, "pick": None, "as_shot": False, "outdated": 0, "amount": 100}
        return stack.with_layer(sweep.model_copy(update=fresh))

    return made, change(library, frame_id, sentence("duplicate sweep"), edit)


def reorder_sweep(library: Library, frame_id: int, sweep_id: str, by: int) -> Revision:
    """A sweep so many places later in the stack, or earlier below 0: what is later lies on top."""

    def edit(stack: Stack) -> Stack:
        sweep = stack.sweep(sweep_id)
        at = stack.sweeps.index(sweep) + by
        place = stack.layers.index(stack.sweeps[min(max(at, 0), len(stack.sweeps) - 1)])
        rest = [layer for layer in stack.layers if layer.id != sweep_id]
        return stack.model_copy(update={"layers": (*rest[:place], sweep, *rest[place:])})

    return change(library, frame_id, sentence("reorder sweeps"), edit)


def delete_sweep(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """Take a sweep out of the stack. Its takes are kept: undo brings all of it back."""
    return change(library, frame_id, sentence("delete sweep"), lambda stack: stack.without(sweep_id))
