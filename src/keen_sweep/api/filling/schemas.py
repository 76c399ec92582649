"""Filling over the wire: what a fill costs, which words and places it heeds, the runs that were asked for."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import DeskOut, RunOut
from keen_sweep.core.box import Box
from keen_sweep.core.errors import Remedy
from keen_sweep.core.fill.lead import MAX_LEAD_LINES, LeadLine
from keen_sweep.document.stack import Ground
from keen_sweep.studio.filling.quote import Quoted


class AskedFor(BaseModel):
    """The runs that wait now, and the desk since then."""

    runs: list[RunOut]
    desk: DeskOut


class SaidOut(BaseModel):
    """What there is to say of words; empty if they are understood."""

    text: str


class GroundIn(BaseModel):
    """The patch to draw from, of this frame or a sister; null for wherever it fits."""

    ground: Ground | None


class LeadIn(BaseModel):
    """The lines along which a sweep's fill goes on, instead of those before."""

    lines: list[LeadLine] = Field(max_length=MAX_LEAD_LINES)


class MoveIn(BaseModel):
    """How far a sweep is moved, pixels; it is filled again where it is then."""

    across: float
    down: float


class QuoteOut(BaseModel):
    """What a fill means before it is made. model: the one that would be asked, null for the local engines; seconds and
    limits are null where they are not known or not there; problem: what stands in the way."""

    model: str | None
    service: bool
    why: str
    paintings: int
    credits: float
    seconds: float | None
    left: float | None
    budget_left: float | None
    problem: str | None
    remedy: Remedy | None

    @classmethod
    def of(cls, quoted: Quoted) -> QuoteOut:
        return cls.model_validate({**vars(quoted), **vars(quoted.cost)})


class FirstLookOut(BaseModel):
    """Roughly what a fill will show: box in the picture, png (base64) smaller than that, clear beside the hole."""

    box: Box
    png: str


Following = Literal["lay", "fill", "drop"]


class UpdateIn(BaseModel):
    """What is to become of fills that are out of step with the picture."""

    fills: Following


class FollowedOut(BaseModel):
    """How many fills follow a newer version of the picture, and which do not, each with why, in sentences."""

    done: int
    left: list[str]
    desk: DeskOut
