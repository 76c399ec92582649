"""A model by where it is: used once, from a shell."""

from __future__ import annotations

from pathlib import Path

from pydantic import SecretStr

from keen_sweep.core.arrays import EightBit
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.port import DEFAULT_KNOBS
from keen_sweep.core.sentences import sentence
from keen_sweep.store.words import ModelKind
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.quote import cost_of
from keen_sweep.studio.models.limited import Limited
from keen_sweep.studio.models.opening import loaded


def engine_at(place: str, mask: EightBit, how: Fill, key: SecretStr) -> ModelEngine:
    """The engine of the model at a path or an address; a service only within the credits that were agreed to. Raises
    ModelTrouble, BadRequest."""
    if not place.startswith(("http://", "https://")):
        path = Path(place).expanduser()
        return ModelEngine(loaded(ModelKind.DIFFUSERS if path.is_dir() else ModelKind.ONNX, path))
    from keen_sweep.remote.adapter import ServiceModel

    service = ServiceModel(place, key)
    price = cost_of(Limited(service, service.name, None), mask > 0, how.takes, how.staged, DEFAULT_KNOBS).credits
    if price > how.credits:
        raise BadRequest(
            sentence(
                "{name} asks {price:g} credits for this. Add --credits {price:g} to accept.",
                name=service.name,
                price=price,
            )
        )
    return ModelEngine(service)
