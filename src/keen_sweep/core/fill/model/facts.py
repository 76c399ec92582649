"""What has to be known of a graph that it does not say itself: the file beside it."""

from __future__ import annotations

from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from keen_sweep.core.errors import KeenSweepError, ModelTrouble
from keen_sweep.core.fill.model.port import DEFAULT_MAX_SIDE_PX
from keen_sweep.core.photo.write import write_whole

# Sides are multiples of this for a graph that accepts any size, pixels.
DEFAULT_MULTIPLE = 8

Range = tuple[float, float]


class Facts(BaseModel):
    """What the file beside a graph may say. into, out: the range of a picture's numbers that go in, and of those that
    come out; hole, kept: what the mask says where it is to be painted, and where it is not; blank: the hole's pixels
    are set to the middle of the range before; multiple: steps of the sides, and most: the longest one, of a graph that
    takes any.

    In the file they are called in, out, hole, kept, blank, multiple and most; range says in and out at once, and where
    kept is left out it is nought for a hole of one and one for a hole of nought.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    into: Range = Field(default=(0.0, 1.0), alias="in")
    out: Range = (0.0, 1.0)
    hole: float = 1.0
    kept: float = 0.0
    blank: bool = False
    multiple: int = Field(default=DEFAULT_MULTIPLE, ge=1, le=256)
    most: int = Field(default=DEFAULT_MAX_SIDE_PX, ge=64, le=8192)

    @model_validator(mode="before")
    @classmethod
    def _in_short(cls, told: object) -> object:
        if not isinstance(told, dict):
            return told
        told = dict(told)
        if "range" in told:
            both = told.pop("range")
            told.setdefault("in", both)
            told.setdefault("out", both)
        if told.get("hole") == 0 and "kept" not in told:
            told["kept"] = 1.0
        return told

    @model_validator(mode="after")
    def _apart(self) -> Facts:
        if self.hole == self.kept or self.into[0] == self.into[1] or self.out[0] == self.out[1]:
            raise ValueError("a range has two ends, and a mask has two values")
        return self

    def to_json(self) -> str:
        """The text of the file beside a graph that says all of this."""
        return self.model_dump_json(by_alias=True, indent=1) + "\n"


def beside(graph: Path) -> Path:
    """Where the file beside a graph lies."""
    return graph.with_suffix(".json")


def facts_beside(graph: Path) -> Facts | None:
    """What the file beside a graph says; None if there is none. Raises ModelTrouble when it makes no sense."""
    file = beside(graph)
    try:
        return Facts.model_validate_json(file.read_text()) if file.is_file() else None
    except (OSError, ValidationError) as error:
        raise ModelTrouble(f"{file.name} does not describe what this model needs: {error}") from error


def keep_beside(graph: Path, told: Facts) -> str:
    """Write what is needed of a graph into the file beside it; its name. What stood there is kept beside that. Raises
    ModelTrouble when it cannot be written."""
    file = beside(graph)
    try:
        if file.exists():
            file.replace(file.with_suffix(".json.before"))
        write_whole(file, told.to_json().encode())
    except (OSError, KeenSweepError) as error:
        raise ModelTrouble(f"{file} cannot be written: {error}. It would say {told.to_json()}") from error
    return file.name


def in_words(told: Facts) -> str:
    """What is needed of a graph, in words."""

    def numbers(ends: Range) -> str:
        return f"{ends[0]:g} to {ends[1]:g}"

    blank = ", the hole blanked" if told.blank else ""
    return (
        f"pictures go in as {numbers(told.into)}{blank} and come out as {numbers(told.out)}, the mask says "
        f"{told.hole:g} in the hole and {told.kept:g} elsewhere, sides in steps of {told.multiple}"
    )
