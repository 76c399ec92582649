"""Deliveries over the wire."""

from __future__ import annotations

from pydantic import BaseModel, Field

from keen_sweep.studio.delivering.wanted import Wanted

MAX_FRAMES = 10_000


class MadeIn(BaseModel):
    """Frames whose files somebody has now."""

    frames: list[int] = Field(min_length=1, max_length=MAX_FRAMES)


class NamesIn(BaseModel):
    """Frames that are to be delivered, and how; folder: to look which files are there already."""

    frames: list[int] = Field(min_length=1, max_length=MAX_FRAMES)
    wanted: Wanted = Wanted()
    folder: str | None = Field(default=None, max_length=1_000)


class NamedOut(BaseModel):
    """The name of a frame's file, and whether there is one of it already."""

    frame: int
    name: str
    there: bool


class IntoIn(BaseModel):
    """One frame of several, and the folder that its file goes into; over: a file that is there already is replaced."""

    wanted: Wanted = Wanted()
    folder: str = Field(max_length=1_000)
    number: int = Field(default=1, ge=1, le=MAX_FRAMES)
    count: int = Field(default=1, ge=1, le=MAX_FRAMES)
    over: bool = False


class FilesOut(BaseModel):
    """The files that were written."""

    files: list[str]


class LastTime(BaseModel):
    """How a shoot was delivered last; folder: where to, null when files were downloaded."""

    wanted: Wanted
    folder: str | None = Field(max_length=1_000)


class WantedQuery(Wanted):
    """How a file is wanted, as a query; revision: another state of the frame than its present one."""

    revision: int | None = None


class ZipQuery(Wanted):
    """Frames, and how their files are wanted, as a query."""

    frames: list[int] = Field(min_length=1, max_length=MAX_FRAMES)
