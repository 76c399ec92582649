"""What every engine is given and what it gives back."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Protocol, runtime_checkable

from keen_sweep.core.arrays import Bools, EightBit, Pixels
from keen_sweep.core.box import Box
from keen_sweep.core.fill.method import Quality
from keen_sweep.core.fill.model.port import DEFAULT_KNOBS, Knobs, Paid, no_payment
from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.progress import Progress, unwatched


@dataclass(frozen=True)
class FillInput:
    """One fill to be made.

    below (H, W, 3) uint8 or uint16: the picture under the sweep. mask (H, W) uint8: above 0 is to be filled,
    between 1 and 254 mixes fill and picture. guard and barred (H, W) bool or None: pixels that must not be
    changed; pixels that must not be drawn from. draw_from (H, W) bool or None: if given, only from there.
    foreign (H, W) bool or None: what is of another kind than the fill will be; it need not meet that without a seam.
    things (H, W) bool or None: what stands there on its own, not to be drawn from where there is enough else.
    staged: long parts are filled section by section, each on top of the last. hint and avoid are words for what
    should be seen there and what must not; knobs are those of generative models. first_at_once: the first take is the
    first one that can be ready, before it is known which are the best. The same input gives the same takes to the bit;
    takes are told apart by seed, seed + 1, ... cores: how many may work on it, all there are for None.
    """

    below: Pixels
    mask: EightBit
    seed: int = 0
    takes: int = 3
    quality: Quality = Quality.FINE
    guard: Bools | None = None
    barred: Bools | None = None
    draw_from: Bools | None = None
    foreign: Bools | None = None
    things: Bools | None = None
    staged: bool = False
    hint: str = ""
    avoid: str = ""
    knobs: Knobs = DEFAULT_KNOBS
    first_at_once: bool = False
    cores: int | None = None
    progress: Progress = field(default=unwatched)
    paid: Paid = field(default=no_payment)


class Engine(Protocol):
    """Something that fills masks."""

    name: str

    def fill(self, given: FillInput) -> Iterator[Patch]:
        """Yield takes one after another, as each is ready. Raises BadMask when nothing can be drawn from."""
        ...


@runtime_checkable
class NearSighted(Engine, Protocol):
    """An engine that looks at nothing but the surroundings of a hole, and need not have the rest."""

    def near(self, window: Box) -> Engine:
        """The engine for a cut of the picture."""
        ...
