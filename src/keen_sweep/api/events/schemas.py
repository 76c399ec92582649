"""What open windows hear of."""

from __future__ import annotations

from pydantic import BaseModel

from keen_sweep.api.desk.schemas import RunOut
from keen_sweep.store.words import EventKind


class News(BaseModel):
    """Something changed: in which shoot or frame, how far which run is; window: the one that asked for it, if one did,
    which was answered already."""

    kind: EventKind
    shoot: int | None
    frame: int | None
    run: RunOut | None
    window: str | None
