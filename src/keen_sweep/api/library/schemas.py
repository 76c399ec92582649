"""The library as a whole: whether it works, what room it takes."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field


class QueueOut(BaseModel):
    """Rows at work, and fills that wait."""

    filling: int
    waiting: int
    scouting: int
    carrying: int


class Health(BaseModel):
    """Whether the application can be worked with; detail: what is in the way. free: bytes left where the library is;
    up: seconds since it began; versions: of what it is built on; schema_revision: of the library's database."""

    name: Literal["keen-sweep"] = "keen-sweep"
    version: str
    library: str
    ready: bool
    detail: str = ""
    up: float
    free: int
    schema_revision: str
    queue: QueueOut
    networks: bool
    versions: dict[str, str]


class RoomOut(BaseModel):
    """Bytes that a shoot takes: its pictures as they came in, what was made of them, what can be made again."""

    shoot: int
    name: str
    frames: int
    originals: int
    work: int
    views: int


class LibraryOut(BaseModel):
    """Where the library is and the room it takes, bytes: shoot by shoot, the database, everything that can be made
    again, what is left on the disk. gone: what will be free once deleted shoots and pictures are forgotten."""

    folder: str
    shoots: list[RoomOut]
    gone: int
    database: int
    views: int
    free: int


class GivenBack(BaseModel):
    """Bytes that are free again."""

    bytes: int


class Minded(BaseModel):
    """By which term picks differ most from our order; more: it counts more, not less."""

    term: Literal["fine", "coarse", "unlike", "repeats", "softness"]
    more: bool


class TasteOut(BaseModel):
    """What was learned from picks: of how many sweeps it is known which take was picked, whether that may put takes in
    order; weights: what each term counts then, beside ours."""

    followed: bool
    picks: int
    fewest: int = Field(description="fewer picks than this say nothing")
    weights: dict[str, float] | None = Field(description="null while ours foretell the picks as well")
    ours: dict[str, float]
    minded: Minded | None


class TasteIn(BaseModel):
    """Whether picks may put takes in order."""

    followed: bool


class PreferencesIn(BaseModel):
    """What changes about how the photographer wants to work."""

    strict: bool


class PreferencesOut(BaseModel):
    """How the photographer wants to work. strict: a place shows as shot until a take is picked for it; otherwise the
    best take of its first fill stands provisionally."""

    strict: bool
