"""A stack as JSON, as the database has it: read here and there without making anything of all its shapes."""

from __future__ import annotations

from typing import NotRequired, TypedDict


class ToldBox(TypedDict):
    """A box, pixels."""

    x: int
    y: int
    width: int
    height: int


class ToldShape(TypedDict):
    """A shape of a mark: where it is, and whether it takes away."""

    box: ToldBox
    erase: bool


class ToldMark(TypedDict):
    """A mark; fit: what differs from a fit of nothing."""

    shapes: list[ToldShape]
    fit: NotRequired[dict[str, object]]


class ToldLayer(TypedDict):
    """A sweep, with its mark, or a touch, with its box."""

    id: str
    kind: str
    box: NotRequired[ToldBox]
    mark: NotRequired[ToldMark]


class ToldStack(TypedDict):
    """The layers of a stack, the undermost first."""

    layers: list[ToldLayer]
