"""Where the files that a stack refers to are found."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Protocol

from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.stroke import Stroke


class Shelf(Protocol):
    """Files by content hash. Raises NotFound or LibraryTrouble when one is gone or damaged."""

    def patch(self, name: str) -> Patch:
        """A take."""
        ...

    def stroke(self, name: str) -> Stroke:
        """A stroke of a touch-up."""
        ...

    def made(self, key: str, make: Callable[[], Patch]) -> Patch:
        """Something that can be worked out from what it is known by: kept, or made now."""
        ...


@dataclass(frozen=True)
class InMemory:
    """A shelf of what is at hand."""

    patches: Mapping[str, Patch] = field(default_factory=dict)
    strokes: Mapping[str, Stroke] = field(default_factory=dict)

    def patch(self, name: str) -> Patch:
        return self.patches[name]

    def stroke(self, name: str) -> Stroke:
        return self.strokes[name]

    def made(self, key: str, make: Callable[[], Patch]) -> Patch:
        return make()
