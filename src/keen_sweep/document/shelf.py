"""Where the files that a stack refers to are found."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Protocol

from keen_sweep.core.fill.patch import Patch
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.stroke import Stroke


class Shelf(Protocol):
    """Files by content hash. Raises NotFound or LibraryTrouble when one is gone or damaged."""

    def patch(self, name: str) -> Patch:
        """A take."""
        ...

    def drawing(self, name: str) -> Stroke | Outline:
        """A stroke or outline of a mark, or the stroke of a touch-up."""
        ...

    def read(self, name: str) -> bytes:
        """Any file as it is, such as an area of a mark."""
        ...

    def made(self, key: str, make: Callable[[], Patch]) -> Patch:
        """Something that can be worked out from what it is known by: kept, or made now."""
        ...


@dataclass(frozen=True)
class InMemory:
    """A shelf of what is at hand."""

    patches: Mapping[str, Patch] = field(default_factory=dict)
    drawings: Mapping[str, Stroke | Outline] = field(default_factory=dict)
    files: Mapping[str, bytes] = field(default_factory=dict)

    def patch(self, name: str) -> Patch:
        return self.patches[name]

    def drawing(self, name: str) -> Stroke | Outline:
        return self.drawings[name]

    def read(self, name: str) -> bytes:
        return self.files[name]

    def made(self, key: str, make: Callable[[], Patch]) -> Patch:
        return make()
