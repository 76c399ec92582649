"""How a sweep is to be filled: its method, its model and the model's knobs."""

from __future__ import annotations

from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.model.port import Knobs
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Stack
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Revision
from keen_sweep.studio.history import change
from keen_sweep.studio.models.register import model_of


def choose_method(library: Library, frame_id: int, sweep_id: str, method: Method) -> Revision:
    return change(
        library,
        frame_id,
        sentence("method {method}", method=method),
        lambda stack: stack.changed(sweep_id, method=method),
    )


def choose_model(library: Library, frame_id: int, sweep_id: str, model_id: int) -> Revision:
    """Fill by this generative model. Raises NotFound."""
    row = model_of(library, model_id)

    def edit(stack: Stack) -> Stack:
        return stack.changed(sweep_id, method=Method.MODEL, model=row.id)

    return change(library, frame_id, sentence("model {name}", name=row.name), edit)


def set_knobs(library: Library, frame_id: int, sweep_id: str, knobs: Knobs) -> Revision:
    """Steps, guidance and strength of a model."""
    return change(library, frame_id, sentence("model settings"), lambda stack: stack.changed(sweep_id, knobs=knobs))
