"""A mark: what was drawn or accepted, and how the mask is fitted to the thing.

What was drawn lies in files of its own, known by the hash of what is in them: a stack is written with every revision,
and would repeat every point of every stroke.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from keen_sweep.core.arrays import Bools
from keen_sweep.core.box import Box
from keen_sweep.core.mask.area import Area
from keen_sweep.core.mask.fit import Fit
from keen_sweep.core.mask.mask import Mask
from keen_sweep.core.mask.outline import Outline
from keen_sweep.core.mask.shape import Drawing, Shape, guard_of, mask_of, reach_of
from keen_sweep.core.mask.stroke import Stroke
from keen_sweep.document.shelf import Shelf

# Keeps some bytes and gives the name they are found by.
Keep = Callable[[bytes], str]


class Drawn(BaseModel):
    """A stroke or an outline by its file; box: the pixels that it can touch, not cut to a picture."""

    model_config = ConfigDict(frozen=True)

    kind: Literal["stroke", "outline"]
    file: str
    box: Box
    erase: bool = False


Filed = Annotated[Drawn | Area, Field(discriminator="kind")]
_DRAWING_ADAPTER: TypeAdapter[Stroke | Outline] = TypeAdapter(Drawing)
_FILED_ADAPTER: TypeAdapter[tuple[Drawn | Area, ...]] = TypeAdapter(tuple[Filed, ...])


class Mark(BaseModel):
    """What goes, in picture pixels: shapes in the order they were made, and how the mask is fitted to them."""

    model_config = ConfigDict(frozen=True)

    shapes: tuple[Filed, ...] = ()
    fit: Fit = Fit()

    @property
    def digest(self) -> str:
        """Something short that changes whenever the mark does."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()[:16]

    def reach(self, picture: Box) -> Box:
        """A box round everything that the mask may cover, cut to the picture: quick, and never too small."""
        return reach_of(self.shapes, self.fit, picture)

    def mask(self, picture: Box, shelf: Shelf, guard: Bools | None = None) -> Mask:
        """The mask in a picture; see core.mask.shape. Raises NotFound or LibraryTrouble through the shelf."""
        return mask_of(shapes_of(self.shapes, shelf), picture, self.fit, shelf.read, guard)


def guarded(guard: Sequence[Drawn | Area], picture: Box, shelf: Shelf) -> Bools | None:
    """(height, width) bool of what a guard covers; None where there is none."""
    return guard_of(shapes_of(guard, shelf), picture, shelf.read)


def filed(shapes: Sequence[Shape], keep: Keep) -> tuple[Drawn | Area, ...]:
    """Shapes as a mark holds them: what was drawn is kept as files."""
    return tuple(
        shape
        if isinstance(shape, Area)
        else Drawn(kind=shape.kind, file=keep(drawing_to_bytes(shape)), box=shape.box, erase=shape.erase)
        for shape in shapes
    )


def shapes_of(filed: Sequence[Drawn | Area], shelf: Shelf) -> tuple[Shape, ...]:
    """The shapes themselves. Raises NotFound or LibraryTrouble when a file is gone or damaged."""
    return tuple(each if isinstance(each, Area) else shelf.drawing(each.file) for each in filed)


def filed_from(data: Sequence[Mapping[str, object]]) -> tuple[Drawn | Area, ...]:
    """Shapes of a mark out of a row of the database."""
    return _FILED_ADAPTER.validate_python(data)


def drawing_to_bytes(drawing: Stroke | Outline) -> bytes:
    """A stroke or an outline as a file; the same one gives the same bytes."""
    return drawing.model_dump_json().encode()


def drawing_from_bytes(data: bytes) -> Stroke | Outline:
    """The inverse. Raises pydantic's ValidationError (a ValueError) if damaged."""
    return _DRAWING_ADAPTER.validate_json(data)
