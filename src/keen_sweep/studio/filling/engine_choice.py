"""Who fills a sweep: a local engine, or a model within what was agreed to."""

from __future__ import annotations

from dataclasses import dataclass, replace

from keen_sweep.core.arrays import EightBit
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
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.parts import parts_of
from keen_sweep.document.stack import Sweep
from keen_sweep.settings import Settings
from keen_sweep.store.library import Library
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.studio.carrying.sisters import series_of, sisters_of
from keen_sweep.studio.filling.budget import Agreement
from keen_sweep.studio.filling.quote import check_cost, cost_of, keep_left, maker_for
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.models.limited import Limited
from keen_sweep.studio.models.opening import opened
from keen_sweep.studio.open_frame import OpenFrame, open_frame

# Ratio of length to inscribed radius from which on a part counts as a wire.
MIN_WIRE_RATIO = 40.0


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
    """Who makes a fill; a service is only asked for the credits that were agreed to. Auto does without a model rather
    than fail. Raises ModelTrouble, NotFound."""
    lent = _lent(current, sweep)
    if lent is not None and method.weaves:
        return Filling(lent)
    if method is Method.BORROW:
        return Filling(BorrowEngine(_sisters(current, sweep)))
    hole = hole_of(given, may_be_all=True)
    maker = maker_for(current.library, method, sweep.model, given.below, hole)
    if maker.model is None:
        return Filling(_local(current, sweep, method, given))
    model = None
    try:
        model = opened(maker.model, tick=given.progress)
        if model.service is not None:
            cost = cost_of(model, hole, agreement.takes, given.staged, given.knobs)
            check_cost(current.library, current.frame, maker.model, cost, agreement)
    except ModelTrouble as error:
        if model is not None and model.service is not None:
            model.service.close()
        if method is Method.MODEL:
            raise
        return Filling(engine_for(method), f"{maker.why}; but {error}")
    return Filling(ModelEngine(model), maker.why, maker.model, model)


def _local(current: OpenFrame, sweep: Sweep, method: Method, given: FillInput) -> Engine:
    """The local engine of a method; auto borrows first, where nothing else is asked for by words, nor in a hurry, and
    what goes is no wire, which hangs in every frame."""
    by_part = engine_for(method)
    if not isinstance(by_part, ByPart):
        return by_part
    engine = FlatEngine(method) if Settings().engine == "flat" else by_part
    asked = sweep.hint or sweep.avoid or sweep.ground
    first = not takes_of(current.library, sweep.id)
    if method is not Method.AUTO or asked or not first or given.quality is Quality.FAST or _wiry(given.mask):
        return engine
    given.progress(0.0, "aligning sister frames")
    sisters = sisters_of(current, sweep.id)
    return BorrowFirst(sisters, engine) if sisters else engine


def _wiry(mask: EightBit) -> bool:
    """Whether every part of a mask is long and thin."""
    return all(max(part.box.width, part.box.height) > MIN_WIRE_RATIO * part.radius for part in parts_of(mask))


def _sisters(current: OpenFrame, sweep: Sweep) -> list[Sister]:
    """The sisters to borrow from. Raises BadMask when there are none."""
    if len(series_of(current.library, current.frame.id)) == 1:
        raise BadMask("This shoot has only one picture, so there is no frame to borrow from.")
    sisters = sisters_of(current, sweep.id)
    if not sisters:
        raise BadMask("No neighbouring frame shows the same place, so there is nothing to borrow from.")
    return sisters


def _lent(current: OpenFrame, sweep: Sweep) -> Engine | None:
    """The engine that draws from a patch of a sister frame, as it looks now with what was removed there."""
    if sweep.ground is None or sweep.ground.frame in (None, current.frame.id):
        return None
    return ExternalSource(open_frame(current.library, sweep.ground.frame).seen(sweep.ground.box))
