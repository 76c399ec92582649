"""Generative models: registered, changed, tried, forgotten; their keys go in and never come out."""

from __future__ import annotations

from fastapi import APIRouter

from keen_sweep.api.deps import TheLibrary
from keen_sweep.api.models.schemas import KeyIn, ModelIn, ModelOut, WordsOut
from keen_sweep.store.tables import RegisteredModel
from keen_sweep.studio.filling.words import used_last
from keen_sweep.studio.models import register as registered
from keen_sweep.studio.models import trial
from keen_sweep.studio.models.register import ModelChange

router = APIRouter(prefix="/api/models", tags=["models"])


def _told(row: RegisteredModel) -> ModelOut:
    return ModelOut.of(row, registered.keys().has(row.key))


@router.get("", operation_id="listModels")
def list_models(library: TheLibrary) -> list[ModelOut]:
    return [_told(row) for row in registered.models(library)]


@router.post("", status_code=201, operation_id="registerModel")
def register(library: TheLibrary, body: ModelIn) -> ModelOut:
    """Register a model by the path of its file or folder, or by the address of its service."""
    return _told(registered.register(library, body.name, body.kind, body.place))


@router.patch("/{model_id}", operation_id="changeModel")
def change(library: TheLibrary, model_id: int, body: ModelChange) -> ModelOut:
    """Change what is given. A limit of 0 is none. A service at another address has no key yet."""
    return _told(registered.change_model(library, model_id, body))


@router.delete("/{model_id}", status_code=204, operation_id="forgetModel")
def forget(library: TheLibrary, model_id: int) -> None:
    registered.forget_model(library, model_id)


@router.put("/{model_id}/key", operation_id="setKey")
def set_key(library: TheLibrary, model_id: int, body: KeyIn) -> ModelOut:
    """Keep the key of a service; an empty one forgets it. It is never shown again."""
    registered.set_key(library, model_id, body.key)
    return _told(registered.model_of(library, model_id))


@router.post("/{model_id}/try", operation_id="tryModel")
def try_model(library: TheLibrary, model_id: int, fill: bool = False) -> ModelOut:
    """See whether it works, and say what came back. A service is only asked how it is unless it is to fill, which costs
    what it says."""
    return _told(trial.try_model(library, model_id, fill))


@router.get("/words", operation_id="usedWords", tags=["models"])
def used_words(library: TheLibrary) -> WordsOut:
    """The hints and avoids that were used last."""
    hints, avoids = used_last(library)
    return WordsOut(hints=hints, avoids=avoids)
