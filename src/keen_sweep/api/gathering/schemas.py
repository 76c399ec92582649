"""Shoots over the wire."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import FrameOut
from keen_sweep.store.tables import Frame, Shoot


class ShootOut(BaseModel):
    id: int
    name: str
    made_at: datetime
    budget: float | None
    spent: float
    frames: list[FrameOut]

    @classmethod
    def of(cls, shoot: Shoot, frames: list[Frame], spent: float = 0.0) -> ShootOut:
        seen = {"frames": [FrameOut.of(frame) for frame in frames], "spent": spent}
        return cls.model_validate({**shoot.model_dump(), **seen})


class ShootIn(BaseModel):
    name: str = Field(max_length=500)


class BudgetIn(BaseModel):
    """Credits that services may cost for a shoot; null for no limit."""

    credits: float | None = Field(ge=0, le=1_000_000)
