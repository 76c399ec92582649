"""Choose: which take is in use, which sweeps show."""

from __future__ import annotations

from keen_sweep.core.errors import NotFound
from keen_sweep.core.fill.protocol import Method
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision, Take
from keen_sweep.studio.history import change


def pick(library: Library, frame_id: int, sweep_id: str, take_id: int | None) -> Revision:
    """Use a take of a sweep; None puts it back to as shot. Raises NotFound when it is not one of its takes."""
    patch = None
    if take_id is not None:
        with library.session() as session:
            take = session.get(Take, take_id)
            if take is None or take.frame_id != frame_id or take.sweep_id != sweep_id:
                raise NotFound("This take does not belong to this sweep.")
            patch = take.patch
    title = "pick take" if patch else "pick as shot"
    return change(library, frame_id, title, lambda stack: stack.changed(sweep_id, pick=patch))


def show(library: Library, frame_id: int, sweep_id: str, shown: bool) -> Revision:
    """Switch a sweep on or off."""
    title = "switch on" if shown else "switch off"
    return change(library, frame_id, title, lambda stack: stack.changed(sweep_id, shown=shown))


def choose_method(library: Library, frame_id: int, sweep_id: str, method: Method) -> Revision:
    return change(library, frame_id, f"method {method}", lambda stack: stack.changed(sweep_id, method=method))


def set_amount(library: Library, frame_id: int, sweep_id: str, amount: int) -> Revision:
    """How much of the pick is laid, per cent."""
    return change(library, frame_id, f"amount {amount} %", lambda stack: stack.changed(sweep_id, amount=amount))


def delete_sweep(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """Take a sweep out of the stack. Its takes are kept: undo brings all of it back."""
    return change(library, frame_id, "delete sweep", lambda stack: stack.without(sweep_id))
