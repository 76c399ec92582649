"""What a take remembers of how it was made, beside its method and its seed."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.model.port import Knobs, ModelFacts


class Provenance(BaseModel):
    """How a take was made, stored with it; fields that are not set are left out.

    Attributes
    ----------
    engine : str
        Method and version.
    quality : Quality
        How carefully it was filled.
    hint : str
        What should be seen there.
    avoid : str
        What must not be seen there.
    led : int
        Number of lines drawn by hand that it follows.
    staged : bool
        Whether it was filled in stages.
    lent : bool
        Whether it was woven from another picture.
    why : str
        Why this method was used, in one sentence.
    sisters : tuple of str
        Frames that pixels were borrowed from.
    borrowed : float or None
        Share of the hole that was borrowed.
    model : ModelFacts or None
        The generative model.
    knobs : Knobs or None
        Settings of the model.
    credits : float
        Cost in credits.
    receipts : dict of str to float
        Credits by receipt.
    of : tuple of int
        Numbers of the takes it was made from by hand.
    laid : {"again"} or None
        Set when it was laid again on another version of the picture.
    threshold : float or None
        Gradient up to which detail was treated as reflection.
    """

    # What a newer version says beside is left alone.
    model_config = ConfigDict(frozen=True, extra="ignore")

    engine: str = ""
    quality: Quality = Quality.FINE
    hint: str = ""
    avoid: str = ""
    led: int = 0
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
