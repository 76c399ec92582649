"""The port through which a generative model is used, whatever it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.progress import Progress, unwatched

# Called with a receipt and the credits charged for it, as soon as the service says so: the painting may still be lost
# after that.
Paid = Callable[[str, float], None]


def no_payment(receipt: str, credits: float) -> None:
    """No-op payment callback."""


# Largest side shown to a model of any size unless it says otherwise, pixels.
DEFAULT_MAX_SIDE_PX = 1024
# Share of one painting that is done, 0 to 1, and what is being done. It may raise Cancelled.


class Knobs(BaseModel):
    """What can be set of a generative model: its steps, how closely words are followed (guidance), and how far it may
    go from what is there (strength; near 0 gives mush). Models that know one of them not leave it alone."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    steps: int = Field(default=30, ge=1, le=150)
    guidance: float = Field(default=7.5, ge=0, le=30)
    strength: float = Field(default=0.85, ge=0.05, le=1)


DEFAULT_KNOBS = Knobs()


@dataclass(frozen=True)
class Wish:
    """What should be seen there and what must not, in words, and the seed of one painting."""

    seed: int = 0
    hint: str = ""
    avoid: str = ""
    knobs: Knobs = DEFAULT_KNOBS


@dataclass(frozen=True)
class Painting:
    """What a model painted, (h, w, 3) uint8, the credits that it cost, and the receipt for them: asked for twice, a
    painting is paid once and has one receipt."""

    pixels: EightBit
    credits: float = 0.0
    receipt: str = ""


class ModelFacts(BaseModel):
    """Which model it was: its name and kind, the hash of its file or folder or the address of its service, and what it
    says of itself."""

    model_config = ConfigDict(frozen=True, extra="ignore")

    name: str = ""
    kind: Literal["onnx", "diffusers", "service"] | None = None
    sha256: str | None = None
    service: str | None = None
    version: str | None = None
    pipeline: str | None = None


class Model(Protocol):
    """Something that paints what a hole could show.

    side: of the square pictures that it works on, pixels; None if any size up to most will do, in steps of multiple.
    facts: what the ledger says of it.
    """

    name: str
    side: int | None
    most: int
    multiple: int
    facts: ModelFacts

    def paint(
        self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = unwatched, paid: Paid = no_payment
    ) -> Painting:
        """(h, w, 3) with the hole (h, w) painted; the rest may differ from the picture. paid is called when credits
        were charged. Raises ModelTrouble."""
        ...
