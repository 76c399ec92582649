"""What a stroke of a touch-up brush does: clone, heal or bring back the original, and where it copies from."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from keen_sweep.core.box import Box
from keen_sweep.core.mask.stroke import Coordinate

Place = tuple[Coordinate, Coordinate]


class Brush(StrEnum):
    """The touch-up brushes."""

    CLONE = "clone"
    HEAL = "heal"
    BRING_BACK = "bring back"

    @property
    def copies(self) -> bool:
        """Whether it needs a source: it copies from elsewhere in the picture."""
        return self is not Brush.BRING_BACK


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


class Dab(BaseModel):
    """What one stroke of a touch-up brush does.

    box: the pixels that it may touch, cut to the picture. strength: how much of what is missing the stroke adds, per
    cent; n strokes of strength s over each other add 1 - (1 - s)^n (common practice, no source), and a stroke that
    crosses itself does not add twice.
    """

    model_config = ConfigDict(frozen=True)

    brush: Brush
    box: Box
    strength: int = Field(default=100, ge=1, le=100)
    source: Source | None = None

    @model_validator(mode="after")
    def _copies_from_somewhere(self) -> Self:
        if self.brush.copies != (self.source is not None):
            raise ValueError("Clone and heal need a source, and bringing back has none.")
        return self

    def reach(self, picture: Box) -> Box:
        """The pixels of the picture that it may change."""
        return self.box.intersect(picture)
