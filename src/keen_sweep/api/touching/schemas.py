"""Touch-ups over the wire."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from keen_sweep.api.desk.schemas import DeskOut
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.core.touch.dab import Brush, Source


class TouchIn(BaseModel):
    """A stroke of a touch-up brush, its strength in per cent; clone needs a source, heal may find one by itself."""

    brush: Brush
    stroke: Stroke
    strength: int = Field(default=100, ge=1, le=100)
    source: Source | None = None


class Touched(BaseModel):
    """The touch-up that was made, the source it copies from, and the desk since then."""

    touch_id: str
    source: Source | None
    desk: DeskOut


class TouchesIn(BaseModel):
    touches: list[str] = Field(min_length=1, max_length=2_000)


class CautionOut(BaseModel):
    """Something to point out about a stroke."""

    kind: Literal["thing", "edge", "pattern", "soft"]
    text: str


class TouchesChange(TouchesIn):
    """What changes about touch-ups: whether they are shown, or that they go."""

    shown: bool | None = None
    deleted: bool = False
