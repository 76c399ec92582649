"""The engine of a fill, as its plan says; a model within what was agreed to."""

from __future__ import annotations

from dataclasses import dataclass, replace

from keen_sweep.core.errors import BadMask, ModelTrouble
from keen_sweep.core.fill.borrow.engine import BorrowEngine
from keen_sweep.core.fill.borrow.first import BorrowFirst
from keen_sweep.core.fill.borrow.sister import Sister
from keen_sweep.core.fill.engine import Engine, FillInput
from keen_sweep.core.fill.engines import engine_for
from keen_sweep.core.fill.external_source import ExternalSource
from keen_sweep.core.fill.fill_region import hole_of
from keen_sweep.core.fill.flat import FlatEngine
from keen_sweep.core.fill.local.engine import ByPart
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.progress import Progress
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Sweep
from keen_sweep.settings import Settings
from keen_sweep.store.library import Library
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.studio.carrying.sisters import series_of, sisters_of
from keen_sweep.studio.filling.budget import Agreement
from keen_sweep.studio.filling.fill_plan import FilledBy, FillPlan, plan_fill
from keen_sweep.studio.filling.quote import check_cost, cost_of, keep_left
from keen_sweep.studio.models.limited import Limited
from keen_sweep.studio.models.opening import opened
from keen_sweep.studio.open_frame import OpenFrame, open_frame


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
        return replace(patch, provenance=patch.provenance.but(why=self.why))

    def close(self, library: Library) -> None:
        """Keep what a service said is left, and let it go: nobody waits for one that has just failed."""
        service = self.model.service if self.model is not None else None
        if self.row is not None and service is not None:
            keep_left(library, self.row, service.left)
            service.close()


def filling_for(current: OpenFrame, sweep: Sweep, method: Method, given: FillInput, agreement: Agreement) -> Filling:
    """The engine that a fill's plan asks for; a service is only asked for the credits that were agreed to. Auto does
    without a model rather than fail. Raises ModelTrouble, NotFound, BadMask."""
    hole = hole_of(given, may_be_all=True)
    plan = plan_fill(current, sweep, method, given.below, hole, given.quality)
    if plan.model is None:
        return Filling(_engine(current, sweep, plan, given.progress))
    model = None
    try:
        model = opened(plan.model, tick=given.progress)
        if model.service is not None:
            cost = cost_of(model, hole, agreement.takes, given.staged, given.knobs)
            check_cost(current.library, current.frame, plan.model, cost, agreement)
    except ModelTrouble as error:
        if model is not None and model.service is not None:
            model.service.close()
        if method is Method.MODEL:
            raise
        local = plan.without_model(error)
        return Filling(_engine(current, sweep, local, given.progress), local.why)
    return Filling(ModelEngine(model), plan.why, plan.model, model)


def _engine(current: OpenFrame, sweep: Sweep, plan: FillPlan, progress: Progress) -> Engine:
    """The engine of a plan without a model."""
    if plan.by is FilledBy.EXTERNAL_SOURCE:
        return _external(current, sweep)
    if plan.by is FilledBy.BORROWING:
        return BorrowEngine(_sisters(current, sweep))
    engine = engine_for(plan.method)
    if not isinstance(engine, ByPart):
        return engine
    local = FlatEngine(plan.method) if Settings().engine == "flat" else engine
    if plan.by is not FilledBy.BORROWING_FIRST:
        return local
    progress(0.0, sentence("aligning sister frames"))
    sisters = sisters_of(current, sweep.id)
    return BorrowFirst(sisters, local) if sisters else local


def _sisters(current: OpenFrame, sweep: Sweep) -> list[Sister]:
    """The sisters to borrow from. Raises BadMask when there are none."""
    if len(series_of(current.library, current.frame.id)) == 1:
        raise BadMask(sentence("This shoot has only one picture, so there is no frame to borrow from."))
    sisters = sisters_of(current, sweep.id)
    if not sisters:
        raise BadMask(sentence("No neighbouring frame shows the same place, so there is nothing to borrow from."))
    return sisters


def _external(current: OpenFrame, sweep: Sweep) -> Engine:
    """The engine that copies from a patch of a sister frame, as it looks now with what was removed there."""
    assert sweep.ground is not None
    assert sweep.ground.frame is not None
    return ExternalSource(open_frame(current.library, sweep.ground.frame).seen(sweep.ground.box))
