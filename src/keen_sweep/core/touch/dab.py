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
    """Where a brush copies from.

    Attributes
    ----------
    at : Place
        x and y of the point that is copied, picture pixels.
    to : Place
        x and y of the point where it is placed, picture pixels.
    turn : float
        Clockwise rotation about that point, degrees.
    mirror : bool
        Whether left and right are swapped first.
    """

    model_config = ConfigDict(frozen=True)

    at: Place
    to: Place
    turn: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0
    mirror: bool = False


class Dab(BaseModel):
    """What one stroke of a touch-up brush does.

    Attributes
    ----------
    brush : Brush
        The brush.
    box : Box
        Pixels that it may touch, cut to the picture.
    strength : int
        Percentage that the stroke adds of what is missing. n strokes of strength s on top of each other add 1
        - (1 - s)^n (common practice, no source); a stroke that crosses itself adds only once.
    source : Source or None
        Where it copies from; None for brushes without a source.
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
