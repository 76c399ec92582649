"""A model by where it is: used once, from a shell."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from pydantic import SecretStr

from keen_sweep.core.box import whole
from keen_sweep.core.errors import BadRequest
from keen_sweep.core.fill.model.engine import ModelEngine
from keen_sweep.core.fill.model.sections import sections_of, sizes_of
from keen_sweep.core.fill.model.service.adapter import ServiceModel
from keen_sweep.store.words import ModelKind
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.models.opening import loaded


def engine_at(place: str, mask: NDArray[np.uint8], how: Fill, key: SecretStr) -> ModelEngine:
    """The engine of the model at a path or an address; a service only within the credits that were agreed to. Raises
    ModelTrouble, BadRequest."""
    if not place.startswith(("http://", "https://")):
        path = Path(place).expanduser()
        return ModelEngine(loaded(ModelKind.DIFFUSERS if path.is_dir() else ModelKind.ONNX, path))
    service = ServiceModel(place, key)
    sizes = sizes_of(sections_of(mask > 0, service, how.staged), whole(mask), service)
    price = how.takes * sum(service.quote(*size).credits for size in sizes)
    if price > how.credits:
        raise BadRequest(f"{service.name} asks {price:g} credits for this: say --credits {price:g} if that is right.")
    return ModelEngine(service)
