"""What has to be known of a graph that it does not say itself: the file beside it."""

from __future__ import annotations

from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from keen_sweep.core.errors import KeenSweepError, ModelTrouble
from keen_sweep.core.fill.model.port import DEFAULT_MAX_SIDE_PX
from keen_sweep.core.photo.write import write_whole
from keen_sweep.core.sentences import sentence

# Sides are multiples of this for a graph that accepts any size, pixels.
DEFAULT_MULTIPLE = 8

Range = tuple[float, float]


class Facts(BaseModel):
    """What the file next to an ONNX graph says about it.

    Attributes
    ----------
    into : Range
        Range of the picture's values that go in (in the file: "in").
    out : Range
        Range of the values that come out.
    hole : float
        Mask value where the graph paints.
    kept : float
        Mask value elsewhere; by default 0 for a hole of 1, and 1 for a hole of 0.
    blank : bool
        Whether the hole is set to the middle of the range first.
    multiple : int
        Sides must be multiples of this, pixels.
    most : int
        Longest side, pixels.
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
    def _in_short(cls, values: object) -> object:
        if not isinstance(values, dict):
            return values
        values = dict(values)
        if "range" in values:
            both = values.pop("range")
            values.setdefault("in", both)
            values.setdefault("out", both)
        if values.get("hole") == 0 and "kept" not in values:
            values["kept"] = 1.0
        return values

    @model_validator(mode="after")
    def _apart(self) -> Facts:
        if self.hole == self.kept or self.into[0] == self.into[1] or self.out[0] == self.out[1]:
            raise ValueError("a range has two ends, and a mask has two values")
        return self

    def to_json(self) -> str:
        """The text of the file beside a graph that says all of this."""
        return self.model_dump_json(by_alias=True, indent=1) + "\n"


def facts_path(graph: Path) -> Path:
    """Path of the file next to a graph.

    Parameters
    ----------
    graph : Path
        The graph.

    Returns
    -------
    Path
        The path.
    """
    return graph.with_suffix(".json")


def read_facts(graph: Path) -> Facts | None:
    """Read the file next to a graph.

    Parameters
    ----------
    graph : Path
        The graph.

    Returns
    -------
    Facts or None
        What it says; None if there is no file.

    Raises
    ------
    ModelTrouble
        The file is not valid.
    """
    file = facts_path(graph)
    try:
        return Facts.model_validate_json(file.read_text()) if file.is_file() else None
    except (OSError, ValidationError) as error:
        raise ModelTrouble(
            sentence("{name} does not describe what this model needs: {error}", name=file.name, error=error)
        ) from error


def write_facts(graph: Path, facts: Facts) -> str:
    """Write the file next to a graph; an existing one is kept under another name.

    Parameters
    ----------
    graph : Path
        The graph.
    facts : Facts
        What to write.

    Returns
    -------
    str
        Name of the file.

    Raises
    ------
    ModelTrouble
        The file cannot be written.
    """
    file = facts_path(graph)
    try:
        if file.exists():
            file.replace(file.with_suffix(".json.before"))
        write_whole(file, facts.to_json().encode())
    except (OSError, KeenSweepError) as error:
        raise ModelTrouble(
            sentence(
                "{file} cannot be written: {error}. It would say {facts}", file=file, error=error, facts=facts.to_json()
            )
        ) from error
    return file.name


def facts_in_words(facts: Facts) -> str:
    """Describe what a graph needs.

    Parameters
    ----------
    facts : Facts
        What it needs.

    Returns
    -------
    str
        The description.
    """

    def numbers(ends: Range) -> str:
        return sentence("{low:g} to {high:g}", low=ends[0], high=ends[1])

    blank = sentence(", the hole blanked") if facts.blank else ""
    return sentence(
        "pictures go in as {input_range}{blank} and come out as {output_range}, the mask says "
        "{hole:g} in the hole and {kept:g} elsewhere, sides in steps of {multiple}",
        input_range=numbers(facts.into),
        blank=blank,
        output_range=numbers(facts.out),
        hole=facts.hole,
        kept=facts.kept,
        multiple=facts.multiple,
    )
