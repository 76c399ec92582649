"""Carrying over, over the wire."""

from __future__ import annotations

from pydantic import BaseModel, Field

from keen_sweep.store.words import RunState
from keen_sweep.studio.carrying.carry import Landed
from keen_sweep.studio.filling.fill import Fill
from keen_sweep.studio.filling.series import StripFrame
from keen_sweep.studio.gathering.states import FrameState


class CarryIn(BaseModel):
    """Sweeps to carry over, all if none is named, to frames of the shoot, all others if none is named. sensor: to the
    same place of the sensor; null: those that scouts found as dust. wide: look near by for what is not there."""

    sweeps: list[str] = Field(default=[], max_length=1_000)
    frames: list[int] = Field(default=[], max_length=10_000)
    sensor: bool | None = None
    wide: bool = False
    fill: bool = Field(default=False, description="fill what lands, and pick the first take of each, to be approved")


class JudgedIn(BaseModel):
    """Frames in which what was carried over from this one is good as it is, or not."""

    frames: list[int] = Field(min_length=1, max_length=10_000)
    good: bool


class SisterOut(BaseModel):
    """A frame of a series, how far it is, and what was carried to it from the frame that is looked from."""

    id: int
    name: str
    width: int
    height: int
    revision: int
    provisional: int
    state: FrameState
    sweeps: int
    doubtful: list[str]
    marked: list[str]
    filling: list[str]
    carrying: RunState | None
    error: str | None
    elsewhere: bool = Field(description="it shows another place: nothing can be carried there, and nothing is wrong")
    landed: list[Landed]
    behind: list[str] = Field(description="sweeps carried here that have changed there since")
    offered: list[int] = Field(description="the first takes of those carried here that wait to be chosen from")

    @classmethod
    def of(cls, sister: StripFrame) -> SisterOut:
        frame = sister.frame
        facts = {"id": frame.id, "name": frame.name, "width": frame.width, "height": frame.height}
        seen = {"revision": frame.revision_id, "provisional": frame.provisional}
        return cls.model_validate({**vars(sister), **facts, **seen})


class FillSeriesIn(BaseModel):
    """How to fill all that is marked in some frames, in all others if none is named."""

    frames: list[int] = Field(default=[], max_length=10_000)
    how: Fill = Fill()


class SeriesFilled(BaseModel):
    """How many fills wait now, and what could not be asked for, in sentences."""

    asked: int
    refused: list[str]
    series: list[SisterOut]
