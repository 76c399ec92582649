"""Tokens as they are made and listed."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from keen_sweep.store.scope import Scope
from keen_sweep.store.tables import Token
from keen_sweep.studio.tokens import MAX_NAME_CHARS


class TokenIn(BaseModel):
    """A token that is wanted: what it is for, and what may be done with it."""

    name: str = Field(min_length=1, max_length=MAX_NAME_CHARS)
    scope: Scope = Scope.READ


class TokenOut(BaseModel):
    """A token; used_at: when it was used last, to an hour, None if it never was."""

    id: int
    name: str
    scope: Scope
    made_at: datetime
    used_at: datetime | None

    @classmethod
    def of(cls, token: Token) -> TokenOut:
        return cls.model_validate(token.model_dump())


class TokenMade(TokenOut):
    """A new token, with what has to be said: that is told now and never again."""

    words: str
