"""What a take remembers of how it was made, beside its method and its seed."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.model.port import Knobs, ModelFacts


class Provenance(BaseModel):
    """By which the ledger, laying again, receipts and the tray say what happened; kept as JSON with the take and in its
    patch, only what was set.

    engine: the method and the version that made it; quality: how carefully; staged: filled in stages; lent: woven from
    another picture; why: in a sentence, why by this way; sisters: the frames that true pixels were borrowed from,
    borrowed: the share of the hole that they make up; model, knobs, credits and receipts: of a generative model, what
    it cost, by receipt; of: numbers of the takes that it was made from by hand; laid: again, on another version of the
    picture; threshold: up to which a reflection was taken for one.
    """

    # What a newer version says beside is left alone.
    model_config = ConfigDict(frozen=True, extra="ignore")

    engine: str = ""
    quality: Quality = Quality.FINE
    hint: str = ""
    avoid: str = ""
    staged: bool = False
    lent: bool = False
    why: str = ""
    sisters: tuple[str, ...] = ()
    borrowed: float | None = None
    model: ModelFacts | None = None
    knobs: Knobs | None = None
    credits: float = 0.0
    receipts: dict[str, float] = {}
    of: tuple[int, ...] = ()
    laid: Literal["again"] | None = None
    threshold: float | None = None

    def but(self, **changed: object) -> Provenance:
        """The same but for some of it."""
        return self.model_copy(update=changed)

    def as_json(self) -> dict[str, object]:
        """What is kept: all that is not as it is by itself."""
        return self.model_dump(mode="json", exclude_defaults=True)


EMPTY_PROVENANCE = Provenance()
