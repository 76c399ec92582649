"""Shoots over the wire."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import FrameOut
from keen_sweep.store.tables import Frame, Shoot
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.gathering.states import FrameState, Standing
from keen_sweep.studio.gathering.watch import Watched


class ShootOut(BaseModel):
    id: int
    name: str
    made_at: datetime
    budget: float | None
    spent: float
    watched: str | None = Field(description="the folder that is watched for newer versions of its pictures")
    frames: list[FrameOut]

    @classmethod
    def of(cls, shoot: Shoot, frames: list[Frame], spent: float = 0.0) -> ShootOut:
        seen = {"frames": [FrameOut.of(frame) for frame in frames], "spent": spent}
        return cls.model_validate({**shoot.model_dump(), **seen})


class StandingOut(BaseModel):
    """How far a frame is: its state, how many sweeps it has, and how many of them are doubtful, wait to be filled, or
    show a take that nobody has picked."""

    id: int
    state: FrameState
    sweeps: int
    doubtful: int
    marked: int
    provisional: int

    @classmethod
    def of(cls, frame_id: int, standing: Standing) -> StandingOut:
        return cls(
            id=frame_id,
            state=standing.state,
            sweeps=standing.sweeps,
            doubtful=len(standing.doubtful),
            marked=len(standing.marked),
            provisional=len(standing.provisional),
        )


class FillFramesIn(BaseModel):
    """Frames in which everything that is marked is to be filled, and how."""

    frames: list[int] = Field(min_length=1, max_length=10_000)
    how: Fill = Fill()


class FramesFilled(BaseModel):
    """How many fills wait now, and what could not be asked for, in sentences."""

    asked: int
    refused: list[str]


class GoneOut(BaseModel):
    """What was deleted: a shoot, or a picture of one; how many pictures; until when it can be brought back."""

    shoot: int
    name: str
    frames: int
    until: datetime


class WatchIn(BaseModel):
    """A folder to watch, by its whole path; null for none."""

    folder: str | None = Field(max_length=1_000)


class WatchedOut(BaseModel):
    """The folder that is watched, whether it can be read, how many files were taken up from it, and those that were
    left, each with why, in sentences."""

    folder: str
    there: bool
    taken: int
    left: list[str]

    @classmethod
    def of(cls, watched: Watched) -> WatchedOut:
        left = [f"{name}: {why}" for name, why in watched.left]
        return cls(folder=watched.folder, there=watched.there, taken=watched.taken, left=left)


class ShootIn(BaseModel):
    name: str = Field(max_length=500)


class BudgetIn(BaseModel):
    """Credits that services may cost for a shoot; null for no limit."""

    credits: float | None = Field(ge=0, le=1_000_000)
