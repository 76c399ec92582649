"""Marking over the wire."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import DeskOut
from keen_sweep.core.mask.advice import Advice
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.shape import Drawing, Shape
from keen_sweep.studio.marking.advice import Proposal
from keen_sweep.studio.marking.straying import Stray


class SweepIn(BaseModel):
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)
    name: str = ""


class ShapesIn(BaseModel):
    shapes: list[Shape] = Field(min_length=1, max_length=1_000)


class ClingIn(BaseModel):
    """A scribble over a thing or a loose outline round it, for a sweep or, without one, for a new one."""

    shape: Drawing
    sweep_id: str | None = None


class PiecesIn(BaseModel):
    numbers: list[int] = Field(min_length=1, max_length=10_000)
    sweep_id: str | None = None
    erase: bool = False


class JoinIn(BaseModel):
    sweeps: list[str] = Field(min_length=2, max_length=500)


class Marked(BaseModel):
    """Which sweep was marked, and the desk since then."""

    sweep_id: str
    desk: DeskOut


class LoadedMask(Marked):
    """The sweep that a mask file became. seems_flipped: the mask covers most of the picture and of its edge, so black
    may mark what goes."""

    seems_flipped: bool


class DabIn(BaseModel):
    """A place of the picture that is pointed at, in its pixels, with a brush of a size."""

    x: float = Field(ge=-200_000, le=200_000, allow_inf_nan=False)
    y: float = Field(ge=-200_000, le=200_000, allow_inf_nan=False)
    size: float = Field(default=16, gt=0, le=2_000)


class RingsOut(BaseModel):
    """Closed lines x, y, x, y, ... in picture pixels, to be filled by the even-odd rule."""

    rings: list[list[float]]


class AdviceOut(BaseModel):
    kind: Literal["tight", "rim", "gap", "guard", "large", "areas", "edge", "loose", "hidden"]
    text: str
    margin: int | None = None


class ProposalOut(BaseModel):
    kind: Literal["shadow", "mirror", "rest"]
    area: Area
    rings: list[list[float]]


class StrayOut(BaseModel):
    """Somebody whom a mark reaches into though they stay: by the find, and by how many pixels."""

    find: int
    name: str
    pixels: int


class SecondThoughts(BaseModel):
    """Advice on a mark, what seems to belong to it too (proposals to take or leave), and whom it reaches into though
    they stay."""

    advice: list[AdviceOut]
    proposals: list[ProposalOut]
    strays: list[StrayOut]

    @classmethod
    def of(cls, advice: list[Advice], proposals: list[Proposal], strays: list[Stray]) -> SecondThoughts:
        return cls(
            strays=[StrayOut.model_validate(vars(each)) for each in strays],
            advice=[AdviceOut.model_validate(vars(each)) for each in advice],
            proposals=[ProposalOut.model_validate(vars(each)) for each in proposals],
        )
