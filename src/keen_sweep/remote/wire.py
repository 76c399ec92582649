"""What a generation service and Keen Sweep say to each other: docs/generation-service.json as types.

Pictures travel as PNG in base64. Every error is a problem (RFC 9457) with one of the codes below.
"""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from keen_sweep.core.fill.model.port import Knobs

# The same key for the same request: what was paid once is not paid again.
IDEMPOTENCY_HEADER = "Idempotency-Key"
Code = Literal[
    "key", "credits", "too-large", "refused", "rate", "busy", "conflict", "not-there", "bad-request", "broken"
]
State = Literal["queued", "painting", "done", "refused", "failed", "withdrawn"]


class About(BaseModel):
    """What a service is. most: the longest side it paints, pixels; sides come in steps of multiple; words: it heeds
    hint and avoid."""

    name: str = Field(min_length=1, max_length=80)
    version: str = Field(max_length=80)
    most: int = Field(ge=64, le=8192)
    multiple: int = Field(default=8, ge=1, le=256)
    words: bool = True


class Account(BaseModel):
    """What is left to spend."""

    credits: float = Field(ge=0)


class QuoteIn(BaseModel):
    """The size of one painting, pixels, and its steps."""

    width: int = Field(ge=1)
    height: int = Field(ge=1)
    knobs: Knobs = Knobs()


class Quote(BaseModel):
    """What one painting will cost, and in how many seconds it will be there if it is asked for now."""

    credits: float = Field(ge=0)
    seconds: float = Field(ge=0)


class PaintingIn(BaseModel):
    """A painting to be made: picture and hole as PNG in base64, of one size; the hole is white."""

    picture: str
    hole: str
    hint: str = Field(default="", max_length=1000)
    avoid: str = Field(default="", max_length=1000)
    seed: int = Field(default=0, ge=0)
    knobs: Knobs = Knobs()


class PaintingOut(BaseModel):
    """How far a painting is. ahead: paintings before it in the queue; credits: what was taken for it, nothing unless it
    is done; left: what is left in the account; reason: why it was refused or failed, for people."""

    id: str = Field(pattern=r"^[A-Za-z0-9_-]{1,64}$")
    state: State
    ahead: int = 0
    seconds_left: float | None = None
    credits: float = 0.0
    left: float | None = None
    code: Code | None = None
    reason: str = ""


class ServiceProblem(BaseModel):
    """Why a request could not be met, for people in detail."""

    type: str = "about:blank"
    title: str
    status: int
    code: Code
    detail: str
