"""Choose: which take is in use, which sweeps show."""

from __future__ import annotations

from uuid import uuid4

from sqlmodel import col, select

from keen_sweep.core.errors import NotFound
from keen_sweep.core.fill.model.port import Knobs
from keen_sweep.core.fill.protocol import Method
from keen_sweep.core.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision, Take
from keen_sweep.studio.events import note
from keen_sweep.studio.history import change, frame_of
from keen_sweep.studio.models import model_of


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


def favour(library: Library, frame_id: int, take_id: int, favourite: bool) -> None:
    """Make a take a favourite, or no longer. Raises NotFound."""
    with library.session() as session:
        take = session.get(Take, take_id)
        if take is None or take.frame_id != frame_id:
            raise NotFound("This take is not there any more.")
        take.favourite = favourite
        session.add(take)
        note(session, "take", shoot=frame_of(session, frame_id).shoot_id, frame=frame_id)


def takes_of(library: Library, sweep_id: str) -> list[Take]:
    """The takes of a sweep in the order they were made."""
    with library.session() as session:
        return list(session.exec(select(Take).where(Take.sweep_id == sweep_id).order_by(col(Take.id))))


def show(library: Library, frame_id: int, sweep_id: str, shown: bool) -> Revision:
    """Switch a sweep on or off."""
    title = "switch on" if shown else "switch off"
    return change(library, frame_id, title, lambda stack: stack.changed(sweep_id, shown=shown))


def choose_method(library: Library, frame_id: int, sweep_id: str, method: Method) -> Revision:
    return change(library, frame_id, f"method {method}", lambda stack: stack.changed(sweep_id, method=method))


def choose_model(library: Library, frame_id: int, sweep_id: str, model_id: int) -> Revision:
    """Fill by this generative model. Raises NotFound."""
    row = model_of(library, model_id)

    def edit(stack: Stack) -> Stack:
        return stack.changed(sweep_id, method="model", model=row.id)

    return change(library, frame_id, f"model {row.name}", edit)


def set_knobs(library: Library, frame_id: int, sweep_id: str, knobs: Knobs) -> Revision:
    """Steps, guidance and strength of a model."""
    return change(library, frame_id, "model settings", lambda stack: stack.changed(sweep_id, knobs=knobs))


def set_amount(library: Library, frame_id: int, sweep_id: str, amount: int) -> Revision:
    """How much of the pick is laid, per cent."""
    return change(library, frame_id, f"amount {amount} %", lambda stack: stack.changed(sweep_id, amount=amount))


def duplicate_sweep(library: Library, frame_id: int, sweep_id: str) -> tuple[str, Revision]:
    """The same mark once more, on top and not filled yet; its id and the revision."""
    made = uuid4().hex

    def edit(stack: Stack) -> Stack:
        sweep = stack.sweep(sweep_id)
        name = f"{sweep.name} again"[:80]
        return stack.with_layer(sweep.model_copy(update={"id": made, "name": name, "pick": None, "amount": 100}))

    return made, change(library, frame_id, "duplicate sweep", edit)


def reorder_sweep(library: Library, frame_id: int, sweep_id: str, by: int) -> Revision:
    """A sweep so many places later in the stack, or earlier below 0: what is later lies on top."""

    def edit(stack: Stack) -> Stack:
        sweep = stack.sweep(sweep_id)
        at = stack.sweeps.index(sweep) + by
        there = stack.layers.index(stack.sweeps[min(max(at, 0), len(stack.sweeps) - 1)])
        rest = [layer for layer in stack.layers if layer.id != sweep_id]
        return stack.model_copy(update={"layers": (*rest[:there], sweep, *rest[there:])})

    return change(library, frame_id, "reorder sweeps", edit)


def delete_sweep(library: Library, frame_id: int, sweep_id: str) -> Revision:
    """Take a sweep out of the stack. Its takes are kept: undo brings all of it back."""
    return change(library, frame_id, "delete sweep", lambda stack: stack.without(sweep_id))
