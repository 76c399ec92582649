"""The stack: the ordered, immutable list of what was done to a frame; and render, the only way from original
and stack to pixels. Tiles on screen, what an engine sees and what is delivered all come from it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from keen_sweep.core.box import Box, merge_touching, whole
from keen_sweep.core.errors import NotFound
from keen_sweep.core.fill.patch import Patch, lay
from keen_sweep.core.fill.protocol import Method
from keen_sweep.core.mask.mark import Mark, Shape
from keen_sweep.core.photo.picture import Pixels
from keen_sweep.core.photo.pyramid import Pyramid, halve

PatchLoader = Callable[[str], Patch]


class Sweep(BaseModel):
    """One removal: its mark, how to fill it, and the pick, the content hash of the take in use.

    together: its separate areas stay one sweep when it is filled. amount: how much of the pick is laid, per cent.
    """

    model_config = ConfigDict(frozen=True)

    kind: Literal["sweep"] = "sweep"
    id: str
    name: str
    mark: Mark = Mark()
    method: Method = "auto"
    together: bool = False
    pick: str | None = None
    amount: int = Field(default=100, ge=0, le=100)
    shown: bool = True

    @model_validator(mode="before")
    @classmethod
    def _from_strokes(cls, data: Any) -> Any:
        """Libraries written before there were outlines hold a bare list of strokes."""
        if isinstance(data, dict) and "strokes" in data:
            data = dict(data)
            strokes = data.pop("strokes")
            data["mark"] = {"shapes": [{"kind": "stroke", **stroke} for stroke in strokes]}
        return data


class Stack(BaseModel):
    """What was done to one original, from bottom to top. Changing it means making another one.

    guard: what no mask may enter and no fill change.
    """

    model_config = ConfigDict(frozen=True)

    version: Literal[1] = 1
    layers: tuple[Sweep, ...] = Field(default=())
    guard: tuple[Shape, ...] = Field(default=())

    def sweep(self, sweep_id: str) -> Sweep:
        """The sweep of that id. Raises NotFound."""
        for layer in self.layers:
            if layer.id == sweep_id:
                return layer
        raise NotFound("This sweep is not in the picture any more: it was deleted or undone.")

    def with_sweep(self, sweep: Sweep) -> Stack:
        """The stack with a sweep put on top, or in the place of the one with its id."""
        if any(layer.id == sweep.id for layer in self.layers):
            layers = tuple(sweep if layer.id == sweep.id else layer for layer in self.layers)
        else:
            layers = (*self.layers, sweep)
        return self.model_copy(update={"layers": layers})

    def changed(self, sweep_id: str, **changes: Any) -> Stack:
        """The stack with some fields of one sweep changed. Raises NotFound."""
        return self.with_sweep(self.sweep(sweep_id).model_copy(update=changes))

    def without(self, sweep_id: str) -> Stack:
        """The stack less one sweep. Raises NotFound."""
        self.sweep(sweep_id)
        return self.model_copy(update={"layers": tuple(s for s in self.layers if s.id != sweep_id)})

    def below(self, sweep_id: str) -> Stack:
        """What lies under a sweep: the layers before it. Raises NotFound."""
        self.sweep(sweep_id)
        at = next(number for number, layer in enumerate(self.layers) if layer.id == sweep_id)
        return self.model_copy(update={"layers": self.layers[:at]})

    def laid(self) -> tuple[tuple[str, int], ...]:
        """Content hashes of the takes that show, and how much of each, per cent, from bottom to top."""
        return tuple((layer.pick, layer.amount) for layer in self.layers if layer.shown and layer.pick)


def render(original: Pyramid, stack: Stack, load: PatchLoader, window: Box | None = None, level: int = 0) -> Pixels:
    """The pixels (h, w, 3) of a window of a pyramid level, in the original's dtype.

    window is in pixels of that level (each halves the sides, rounding up); None means all of it. Whatever
    level and window, the result equals the full-size render halved level times and cut. Raises NotFound or
    LibraryTrouble through load when a take's file is gone or damaged.
    """
    pixels = original.level(level)
    window = whole(pixels) if window is None else window.intersect(whole(pixels))
    out = original.window(window, level)
    patches = [(load(pick), amount) for pick, amount in stack.laid()]
    step = 1 << level
    seen = window.enlarged(level)
    boxes = [patch.box.aligned(step, original.box) for patch, _ in patches if not patch.box.intersect(seen).empty]
    for box in merge_touching(boxes):
        # Only the blocks that lie under the window need to be composed.
        region = box.intersect(seen)
        if region.empty:
            continue
        part = original.window(region)
        for patch, amount in patches:
            lay(part, region, patch, amount)
        for _ in range(level):
            part = halve(part)
        place = region.reduced(level).intersect(window)
        inner = place.relative_to(region.reduced(level))
        out[place.relative_to(window).slices] = part[inner.slices]
    return out
