"""A touch-up: one stroke of a brush that clones, heals or brings back the original, as a layer of the stack."""

from __future__ import annotations

from typing import Literal

from keen_sweep.core.touch.dab import Dab


class Touch(Dab):
    """One stroke of a touch-up brush. stroke: the content hash of the stroke's file, kept apart as those of marks."""

    kind: Literal["touch"] = "touch"
    id: str
    stroke: str
    shown: bool = True
