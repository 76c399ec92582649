"""A touch-up: one stroke of a brush that clones, heals or brings back the original, as a layer of the stack."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from keen_sweep.core.box import Box
from keen_sweep.core.mask.stroke import Coordinate

Brush = Literal["clone", "heal", "bring back"]
Place = tuple[Coordinate, Coordinate]


class Source(BaseModel):
    """Where a brush copies from: the point at of the picture is laid on the point to, and its surroundings round it.

    turn: how far what is copied is turned clockwise about that point, degrees; mirror: left and right are swapped
    first. Points are in picture pixels, as those of strokes.
    """

    model_config = ConfigDict(frozen=True)

    at: Place
    to: Place
    turn: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    mirror: bool = False


class Touch(BaseModel):
    """One stroke of a touch-up brush.

    stroke: the content hash of the stroke's file, kept apart because every revision repeats the stack. box: the pixels
    that it may touch, cut to the picture. strength: how much of what is missing the stroke adds, per cent; n strokes
    of strength s over each other add 1 - (1 - s)^n (common practice, no source), and a stroke that crosses itself does
    not add twice.
    """

    model_config = ConfigDict(frozen=True)

    kind: Literal["touch"] = "touch"
    id: str
    brush: Brush
    stroke: str
    box: Box
    strength: int = Field(default=100, ge=1, le=100)
    source: Source | None = None
    shown: bool = True

    @model_validator(mode="after")
    def _copies_from_somewhere(self) -> Self:
        if (self.source is None) != (self.brush == "bring back"):
            raise ValueError("Clone and heal need a source, and bringing back has none.")
        return self

    def reach(self, picture: Box) -> Box:
        """The pixels of the picture that it may change."""
        return self.box.intersect(picture)
