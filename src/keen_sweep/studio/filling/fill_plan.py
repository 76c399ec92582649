"""Who fills a sweep, decided in one place: quotes, runs and their workers read the same plan."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

import cv2
import numpy as np

from keen_sweep.core.arrays import Bools, Pixels
from keen_sweep.core.errors import ModelTrouble
from keen_sweep.core.fill.inventing import NARROW_RADIUS_PX, needs_inventing
from keen_sweep.core.fill.method import Method, Quality
from keen_sweep.core.mask.parts import parts_of
from keen_sweep.core.sentences import sentence
from keen_sweep.document.stack import Sweep
from keen_sweep.store.library import Library
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.store.words import ModelKind
from keen_sweep.studio.filling.takes import takes_of
from keen_sweep.studio.models.register import model_of, models
from keen_sweep.studio.open_frame import OpenFrame

# Ratio of length to inscribed radius from which on a part counts as a wire.
MIN_WIRE_RATIO = 40.0


class FilledBy(StrEnum):
    """What makes the takes of a fill."""

    LOCAL = "local"
    EXTERNAL_SOURCE = "external source"
    BORROWING = "borrowing"
    # Auto borrows where it can and fills the rest locally.
    BORROWING_FIRST = "borrowing first"
    MODEL = "model"


@dataclass(frozen=True)
class FillPlan:
    """Who makes a fill.

    Attributes
    ----------
    by : FilledBy
        What makes the takes.
    method : Method
        The method that was requested.
    model : RegisteredModel or None
        The model, if one is used.
    why : str
        Why auto chose a model, in one sentence; empty otherwise.
    """

    by: FilledBy
    method: Method
    model: RegisteredModel | None = None
    why: str = ""

    def without_model(self, error: ModelTrouble) -> FillPlan:
        """The plan after the model failed that auto had chosen."""
        return replace(
            self, by=FilledBy.LOCAL, model=None, why=sentence("{why}; but {error}", why=self.why, error=error)
        )


def plan_fill(
    current: OpenFrame, sweep: Sweep, method: Method, below: Pixels, hole: Bools, quality: Quality = Quality.FINE
) -> FillPlan:
    """Decide who fills a sweep.

    Parameters
    ----------
    current : OpenFrame
        The frame.
    sweep : Sweep
        The sweep.
    method : Method
        The requested method.
    below : (H, W, 3) uint8 or uint16
        The picture below the sweep; read by auto only.
    hole : (H, W) bool
        What will be filled.
    quality : Quality, optional
        How carefully to fill.

    Returns
    -------
    FillPlan
        The plan.

    Raises
    ------
    ModelTrouble
        The method is model, and none is chosen.
    NotFound
        The chosen model no longer exists.
    """
    if method.weaves and sweep.ground is not None and sweep.ground.frame not in {None, current.frame.id}:
        return FillPlan(FilledBy.EXTERNAL_SOURCE, method)
    if method is Method.BORROW:
        return FillPlan(FilledBy.BORROWING, method)
    if method is Method.MODEL:
        if sweep.model is None:
            raise ModelTrouble(sentence("Choose a model for this fill. Models are registered on the page Models."))
        return FillPlan(FilledBy.MODEL, method, model_of(current.library, sweep.model))
    if method is not Method.AUTO:
        return FillPlan(FilledBy.LOCAL, method)
    chosen = _model_for_auto(current.library, below, hole)
    if chosen is not None:
        model, why = chosen
        return FillPlan(FilledBy.MODEL, method, model, why)
    return FillPlan(FilledBy.BORROWING_FIRST if _may_borrow(current, sweep, hole, quality) else FilledBy.LOCAL, method)


def _model_for_auto(library: Library, below: Pixels, hole: Bools) -> tuple[RegisteredModel, str] | None:
    """The model that auto uses where something has to be invented, free ones first, and why."""
    allowed = sorted((row for row in models(library) if row.for_auto), key=lambda row: row.kind is ModelKind.SERVICE)
    if not allowed or _radius(hole) <= NARROW_RADIUS_PX:
        return None
    verdict = needs_inventing(below, hole)
    return (
        (allowed[0], sentence("auto chose {name}: {why}", name=allowed[0].name, why=verdict.why))
        if verdict.needed
        else None
    )


def _may_borrow(current: OpenFrame, sweep: Sweep, hole: Bools, quality: Quality) -> bool:
    """Whether auto tries to borrow: not if hints or a source are given, not for a preview, not again, and not for
    wires, which hang in every frame."""
    if sweep.hint or sweep.avoid or sweep.ground or sweep.lead or quality is Quality.FAST or _is_wire(hole):
        return False
    return not takes_of(current.library, sweep.id)


def _is_wire(hole: Bools) -> bool:
    """Whether every part of a hole is long and thin."""
    parts = parts_of(hole.astype(np.uint8))
    return all(max(part.box.width, part.box.height) > MIN_WIRE_RATIO * part.radius for part in parts)


def _radius(hole: Bools) -> float:
    return float(cv2.distanceTransform(hole.astype(np.uint8), cv2.DIST_L2, 3).max())
