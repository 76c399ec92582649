"""The port through which a generative model is used, whatever it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field

from keen_sweep.core.arrays import Bools, EightBit
from keen_sweep.core.progress import Progress, no_progress

# Called with a receipt and the credits charged for it, as soon as the service says so: the painting may still be lost
# after that.
Paid = Callable[[str, float], None]


def no_payment(receipt: str, credits: float) -> None:
    """No-op payment callback.

    Parameters
    ----------
    receipt : str
        The receipt.
    credits : float
        Its credits.
    """


# Largest side shown to a model of any size unless it says otherwise, pixels.
DEFAULT_MAX_SIDE_PX = 1024
# Share of one painting that is done, 0 to 1, and what is being done. It may raise Cancelled.


class Knobs(BaseModel):
    """Settings of a generative model; models without one of them ignore it.

    Attributes
    ----------
    steps : int
        Number of steps.
    guidance : float
        How closely the hint is followed.
    strength : float
        How far the painting may depart from the picture; values near 0 give mush.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    steps: int = Field(default=30, ge=1, le=150)
    guidance: float = Field(default=7.5, ge=0, le=30)
    strength: float = Field(default=0.85, ge=0.05, le=1)


DEFAULT_KNOBS = Knobs()


@dataclass(frozen=True)
class Wish:
    """What one painting should show.

    Attributes
    ----------
    seed : int
        Its seed.
    hint : str
        What should be seen.
    avoid : str
        What must not be seen.
    knobs : Knobs
        Settings of the model.
    """

    seed: int = 0
    hint: str = ""
    avoid: str = ""
    knobs: Knobs = DEFAULT_KNOBS


@dataclass(frozen=True)
class Painting:
    """What a model painted.

    Attributes
    ----------
    pixels : (h, w, 3) uint8
        The painting.
    credits : float
        Its cost.
    receipt : str
        Receipt of the payment: the same request is paid only once and has one receipt.
    """

    pixels: EightBit
    credits: float = 0.0
    receipt: str = ""


class ModelFacts(BaseModel):
    """Which model was used.

    Attributes
    ----------
    name : str
        Its name.
    kind : {"onnx", "diffusers", "service"} or None
        Whether it is a file, a folder or a service.
    sha256 : str or None
        Hash of the file or folder.
    service : str or None
        Address of the service.
    version : str or None
        Version, as the service states it.
    pipeline : str or None
        Name of the pipeline.
    """

    model_config = ConfigDict(frozen=True, extra="ignore")

    name: str = ""
    kind: Literal["onnx", "diffusers", "service"] | None = None
    sha256: str | None = None
    service: str | None = None
    version: str | None = None
    pipeline: str | None = None


class Model(Protocol):
    """Something that paints what a hole could show.

    Attributes
    ----------
    name : str
        Its name.
    side : int or None
        Side of the squares it paints, pixels; None for any size up to `most`.
    most : int
        Longest side, pixels.
    multiple : int
        Sides must be multiples of this, pixels.
    facts : ModelFacts
        What the ledger records about it.
    """

    name: str
    side: int | None
    most: int
    multiple: int
    facts: ModelFacts

    def paint(
        self, picture: EightBit, hole: Bools, wish: Wish, tick: Progress = no_progress, paid: Paid = no_payment
    ) -> Painting:
        """(h, w, 3) with the hole (h, w) painted; the rest may differ from the picture. paid is called when credits
        were charged. Raises ModelTrouble."""
        ...
