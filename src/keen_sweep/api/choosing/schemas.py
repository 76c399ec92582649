"""Choosing over the wire: changes to a sweep, mixes, mends."""

from __future__ import annotations

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import DeskOut
from keen_sweep.core.fill.method import Method
from keen_sweep.core.fill.model.port import Knobs
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.shape import Shape
from keen_sweep.studio.choosing.mend import Does


class SweepChange(BaseModel):
    """One change to a sweep: exactly one field is given. pick: a take, or null for as shot (0 means that too, for one
    version more); later: so many places later in the stack, or earlier below 0."""

    name: str | None = None
    method: Method | None = None
    shown: bool | None = None
    fit: Fit | None = None
    pick: int | None = None
    amount: int | None = Field(default=None, ge=0, le=100)
    model: int | None = None
    hint: str | None = Field(default=None, max_length=300)
    avoid: str | None = Field(default=None, max_length=300)
    knobs: Knobs | None = None
    later: int | None = None


class TakeChange(BaseModel):
    """What changes about a take."""

    favourite: bool


class SnagChange(BaseModel):
    """What changes about a snag."""

    dismissed: bool


class MixIn(BaseModel):
    """Two takes of a sweep (0 is as shot), and where the second one shows."""

    under: int
    over: int
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)


class Mixed(BaseModel):
    """The take that a mix made, and the desk since then."""

    take: int
    desk: DeskOut


class Reviewed(BaseModel):
    """How many snags a review found, and the desk since then."""

    snags: int
    desk: DeskOut


class MendOut(BaseModel):
    """What a mend did: the sweep that is being filled, or the take that was made; and the desk since then."""

    sweep_id: str
    does: Does
    take: int | None
    desk: DeskOut
