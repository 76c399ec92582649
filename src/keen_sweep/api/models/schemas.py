"""Generative models over the wire."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field, SecretStr

from keen_sweep.store.tables import RegisteredModel
from keen_sweep.store.words import ModelKind


class ModelIn(BaseModel):
    name: str = Field(max_length=500)
    kind: ModelKind
    place: str = Field(max_length=2_000)


class KeyIn(BaseModel):
    key: SecretStr = Field(max_length=2_000)


class ModelOut(BaseModel):
    """A registered model. has_key: a key is kept for it; trial: what came back when it was tried; left: its credits."""

    id: int
    name: str
    kind: ModelKind
    place: str
    largest: int | None
    most_credits: float | None
    for_auto: bool
    has_key: bool
    trial: str | None
    trial_good: bool | None
    tried_at: datetime | None
    left: float | None

    @classmethod
    def of(cls, row: RegisteredModel, has_key: bool) -> ModelOut:
        return cls.model_validate({**row.model_dump(exclude={"key"}), "has_key": has_key})


class WordsOut(BaseModel):
    """Words that were used before, the latest first."""

    hints: list[str]
    avoids: list[str]
