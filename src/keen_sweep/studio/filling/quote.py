"""What a fill will be made by and cost, said before anything is spent; and what has been spent."""

from __future__ import annotations

import statistics
from dataclasses import dataclass, replace

import numpy as np
from sqlmodel import col, select

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.errors import KeenSweepError, ModelTrouble, Remedy
from keen_sweep.core.fill.method import MadeBy, Method
from keen_sweep.core.fill.model.port import Knobs
from keen_sweep.core.fill.model.sections import sections_of, sizes_of
from keen_sweep.core.mask.areas import areas_of
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Sweep
from keen_sweep.remote.patience import Patience
from keen_sweep.store.library import Library
from keen_sweep.store.tables import Frame, RegisteredModel, Take
from keen_sweep.store.words import ModelKind
from keen_sweep.studio.filling.budget import Agreement, budget_left
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.fill_plan import plan_fill
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.models.limited import Limited
from keen_sweep.studio.models.opening import opened
from keen_sweep.studio.models.register import model_of, models
from keen_sweep.studio.models.trial import in_credits
from keen_sweep.studio.open_frame import open_frame

# A quote is shown while somebody waits for it.
QUOTE_PATIENCE = Patience(tries=2, first=0.3, silence=5.0, transfer=5.0)


@dataclass(frozen=True)
class Cost:
    """How many paintings, what they cost together, and in how many seconds they are there, if that is known."""

    paintings: int
    credits: float
    seconds: float | None


@dataclass(frozen=True)
class Quoted:
    """What filling a sweep means: by which model if any, why, its cost; credits that are left there and in the shoot's
    budget, None where there is no limit; or what stands in the way, and what helps."""

    model: str | None
    service: bool
    why: str
    cost: Cost
    left: float | None = None
    budget_left: float | None = None
    problem: str | None = None
    remedy: Remedy | None = None


def cost_of(model: Limited, hole: Bools, takes: int, staged: bool, knobs: Knobs) -> Cost:
    """What a fill by a model comes to. Raises ModelTrouble when a service does not say."""
    sections = sections_of(hole, model, staged)
    paintings = len(sections) * takes
    if model.service is None:
        return Cost(paintings, 0.0, None)
    quotes = {}
    credits = 0.0
    seconds = 0.0
    for size in sizes_of(sections, Box(x=0, y=0, width=hole.shape[1], height=hole.shape[0]), model):
        if size not in quotes:
            quotes[size] = model.service.quote(*size, knobs)
        credits += takes * quotes[size].credits
        seconds += takes * quotes[size].seconds
    return Cost(paintings, credits, seconds)


def check_cost(library: Library, frame: Frame, row: RegisteredModel, cost: Cost, agreement: Agreement) -> None:
    """Raise ModelTrouble unless the cost, of all takes that were asked for, was agreed to and lies within the limits of
    model and shoot. What was paid before a run was broken off is not due again."""
    due = max(cost.credits - agreement.paid, 0.0)
    spent = (
        sentence("{credits} spent so far.", credits=in_credits(agreement.paid))
        if agreement.paid
        else sentence("Nothing was spent.")
    )
    if due > agreement.left:
        more = " more" if agreement.paid else ""
        said = (
            sentence("and {left:g} were accepted", left=agreement.left)
            if agreement.left or more
            else sentence("and this was not accepted")
        )
        raise ModelTrouble(
            sentence(
                "This fill costs {credits}{more} {said}. {spent}",
                credits=in_credits(due),
                more=more,
                said=said,
                spent=spent,
            ),
            "price",
        )
    if row.most_credits is not None and cost.credits > row.most_credits:
        raise ModelTrouble(
            sentence(
                "This fill costs {credits}; {name} may cost {most_credits:g} a fill. {spent}",
                credits=in_credits(cost.credits),
                name=row.name,
                most_credits=row.most_credits,
                spent=spent,
            ),
            "smaller",
        )
    left = budget_left(library, frame.shoot_id)
    if left is not None and due > left:
        raise ModelTrouble(
            sentence(
                "This fill costs {credits}, and this shoot's budget has {left:g} left. {spent}",
                credits=in_credits(due),
                left=left,
                spent=spent,
            ),
            "credits",
        )


def quote(library: Library, frame_id: int, sweep_id: str, takes: int = 3, staged: bool = False) -> Quoted:
    """What filling a sweep as it is marked now means. Raises NotFound."""
    current = open_frame(library, frame_id)
    sweep = current.stack.sweep(sweep_id)
    mask = current.mask(sweep_id)
    nothing = Quoted(None, False, "", Cost(0, 0.0, None))
    auto = sweep.method is Method.AUTO
    if not (auto or sweep.method is Method.MODEL) or not mask.pixels.any():
        return nothing
    if auto and not any(row.for_auto for row in models(library)):
        return nothing
    below = current.below(sweep_id) if auto else np.zeros((0, 0, 3), np.uint8)
    fresh = not sweep.together and not takes_of(library, sweep_id)
    found, row, why = Cost(0, 0.0, None), None, ""
    try:
        open_models: dict[int, Limited] = {}
        try:
            for area in areas_of(mask) if fresh else [mask]:
                hole = current.full(area) > 0
                plan = plan_fill(current, sweep, sweep.method, below, hole)
                if plan.model is None:
                    continue
                row, why = plan.model, plan.why
                found = _sum(found, _cost(library, row, hole, Fill(takes=takes, staged=staged), sweep, open_models))
        finally:
            for model in open_models.values():
                if model.service is not None:
                    model.service.close()
        if row is None:
            return nothing
        check_cost(library, current.frame, row, found, Agreement(found.credits, 0.0, takes))
        left = model_of(library, row.id).left
        if row.kind is ModelKind.SERVICE and left is not None and found.credits > left:
            raise ModelTrouble(
                sentence(
                    "This fill costs {credits}, and {left:g} are left.", credits=in_credits(found.credits), left=left
                ),
                "credits",
            )
        return _quoted(library, current.frame, row, why, found)
    except KeenSweepError as error:
        return replace(_quoted(library, current.frame, row, why, found), problem=str(error), remedy=error.remedy)


def _quoted(library: Library, frame: Frame, row: RegisteredModel | None, why: str, cost: Cost) -> Quoted:
    if row is None or row.kind is not ModelKind.SERVICE:
        return Quoted(row.name if row else None, False, why, cost)
    return Quoted(row.name, True, why, cost, model_of(library, row.id).left, budget_left(library, frame.shoot_id))


def _cost(
    library: Library,
    row: RegisteredModel,
    hole: Bools,
    how: Fill,
    sweep: Sweep,
    open_models: dict[int, Limited],
) -> Cost:
    if row.kind is not ModelKind.SERVICE:
        # Loading one to know its size takes longer than it is worth: earlier takes tell how long they take.
        return Cost(how.takes, 0.0, _usual_seconds(library, row.name, how.takes))
    if row.id not in open_models:
        model = open_models[row.id] = opened(row, patience=QUOTE_PATIENCE)
        assert model.service is not None
        keep_left(library, row, model.service.credits())
    return cost_of(open_models[row.id], hole, how.takes, how.staged, sweep.knobs)


def keep_left(library: Library, row: RegisteredModel, left: float | None) -> None:
    """Keep with a model what its service said is left, if it said so."""
    with library.session() as session:
        known = session.get(RegisteredModel, row.id)
        if known is not None and left is not None and known.left != left:
            known.left = left
            session.add(known)


def _usual_seconds(library: Library, name: str, takes: int) -> float | None:
    with library.session() as session:
        by_model = select(Take).where(Take.method == MadeBy.MODEL)
        found = session.exec(by_model.order_by(col(Take.id).desc()).limit(60)).all()
    own = [take.seconds for take in found if (model := take.provenance.model) is not None and model.name == name]
    return takes * statistics.median(own) if own else None


def _sum(one: Cost, other: Cost) -> Cost:
    seconds = None if other.seconds is None else (one.seconds or 0.0) + other.seconds
    return Cost(one.paintings + other.paintings, one.credits + other.credits, seconds)
