"""Who fills a sweep: a local engine, or a model within what was agreed to."""

from __future__ import annotations

from dataclasses import dataclass, replace

from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.hole import hole_of
from keen_sweep.core.fill.lent import LentGround
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.limited import Limited
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.fill.protocol import Engine, Method, Order
from keen_sweep.core.render import render
from keen_sweep.core.stack import Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, RegisteredModel
from keen_sweep.studio.mark import state_of
from keen_sweep.studio.models import opened
from keen_sweep.studio.originals import Originals
from keen_sweep.studio.quote import check_cost, cost_of, keep_left, way_for


@dataclass(frozen=True)
class Filling:
    """The engine of a run, why it was chosen if it was, and the model behind it if there is one."""

    engine: Engine
    why: str = ""
    row: RegisteredModel | None = None
    model: Limited | None = None

    def told(self, patch: Patch) -> Patch:
        """A patch that says why it was made so."""
        if not self.why:
            return patch
        return replace(patch, parameters={**patch.parameters, "why": self.why})

    def close(self, library: Library) -> None:
        """Keep what a service said is left, and let it go: nobody waits for one that has just failed."""
        service = self.model.service if self.model is not None else None
        if self.row is not None and service is not None:
            keep_left(library, self.row, service.left)
            service.close()


def filling_for(library: Library, frame: Frame, sweep: Sweep, method: Method, order: Order, agreed: float) -> Filling:
    """Who fills an order; a service is only asked for the credits that were agreed to. Auto does without a model rather
    than fail. Raises ModelTrouble, NotFound."""
    lent = _lent(library, frame, sweep)
    if lent is not None and method in ("auto", "weave"):
        return Filling(lent)
    hole = hole_of(order, may_be_all=True)
    way = way_for(library, method, sweep.model, order.below, hole)
    if way.model is None:
        return Filling(engine_for(method))
    model = None
    try:
        model = opened(way.model, tick=order.progress)
        if model.service is not None:
            check_cost(library, frame, way.model, cost_of(model, hole, order.takes, order.staged, order.knobs), agreed)
    except ModelTrouble as error:
        if model is not None and model.service is not None:
            model.service.close()
        if method == "model":
            raise
        return Filling(engine_for(method), f"{way.why}; but {error}")
    return Filling(ModelEngine(model), way.why, way.model, model)


def _lent(library: Library, frame: Frame, sweep: Sweep) -> Engine | None:
    """The engine that draws from a patch of a sister frame, as it looks now with what was removed there."""
    if sweep.ground is None or sweep.ground.frame in (None, frame.id):
        return None
    originals = Originals(library)
    sister, stack = state_of(library, sweep.ground.frame)
    return LentGround(render(originals.pyramid(sister.original), stack, originals, sweep.ground.box))
