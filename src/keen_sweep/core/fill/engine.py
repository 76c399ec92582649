"""What every engine is given and what it gives back."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, fields
from typing import Protocol, runtime_checkable

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.lead import LeadLine
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.model.port import DEFAULT_KNOBS, Knobs, Paid, no_payment
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.progress import Progress, no_progress


@dataclass(frozen=True)
class Sources:
    """Where a fill may copy from, as far as that is limited.

    Attributes
    ----------
    barred : (H, W) bool or None
        Pixels that must not be copied.
    draw_from : (H, W) bool or None
        The only pixels that may be copied, if given.
    foreign : (H, W) bool or None
        Pixels of another kind than the fill, which it need not match at the rim.
    things : (H, W) bool or None
        Separate things that are not copied where enough else is available.
    """

    barred: Bools | None = None
    draw_from: Bools | None = None
    foreign: Bools | None = None
    things: Bools | None = None

    def within(self, window: Box) -> Sources:
        """Limits for a crop of the picture.

        Parameters
        ----------
        window : Box
            The crop.

        Returns
        -------
        Sources
            The same limits, as large as the crop.
        """
        planes: dict[str, Bools | None] = {each.name: getattr(self, each.name) for each in fields(self)}
        return Sources(**{name: plane[window.slices].copy() for name, plane in planes.items() if plane is not None})


@dataclass(frozen=True)
class Words:
    """What the user says about a fill.

    Attributes
    ----------
    hint : str
        What should be seen there.
    avoid : str
        What must not be seen there.
    """

    hint: str = ""
    avoid: str = ""


ANY_SOURCES = Sources()
NO_WORDS = Words()


@dataclass(frozen=True)
class FillInput:
    """What an engine fills. The same input gives exactly the same takes.

    Attributes
    ----------
    below : (H, W, 3) uint8 or uint16
        The picture below the sweep.
    mask : (H, W) uint8
        Filled above 0; 1 to 254 blends fill and picture.
    seed : int
        Seed of the first take; further takes use seed + 1, ...
    takes : int
        Number of takes.
    quality : Quality
        How carefully to fill.
    guard : (H, W) bool or None
        Pixels that must not change.
    sources : Sources
        Where the fill may copy from.
    staged : bool
        Whether long parts are filled section by section.
    words : Words
        What the user says about the fill.
    lead : tuple of LeadLine
        Lines along which edges go on behind what is removed.
    knobs : Knobs
        Settings of generative models.
    first_at_once : bool
        Whether the first take is returned as soon as one is ready, before it is known which are best.
    cores : int or None
        Number of cores to use; None for all.
    progress : Progress
        Called with the share that is done and what is being done.
    paid : Paid
        Called with each receipt and its credits.
    """

    below: Pixels
    mask: EightBit
    seed: int = 0
    takes: int = 3
    quality: Quality = Quality.FINE
    guard: Bools | None = None
    sources: Sources = ANY_SOURCES
    staged: bool = False
    words: Words = NO_WORDS
    lead: tuple[LeadLine, ...] = ()
    knobs: Knobs = DEFAULT_KNOBS
    first_at_once: bool = False
    cores: int | None = None
    progress: Progress = field(default=no_progress)
    paid: Paid = field(default=no_payment)


class Engine(Protocol):
    """Something that fills masks.

    Attributes
    ----------
    name : str
        Name of the method.
    """

    name: str

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield takes one after another, as each is ready. Raises BadMask when nothing can be drawn from."""
        ...


@runtime_checkable
class NearSighted(Engine, Protocol):
    """An engine that reads only the surroundings of a hole."""

    def near(self, window: Box) -> Engine:
        """The engine for a cut of the picture."""
        ...
