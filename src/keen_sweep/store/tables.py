"""The tables."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import JSON, Column
from sqlmodel import Field, SQLModel


def now() -> datetime:
    return datetime.now(UTC)


class Shoot(SQLModel, table=True):
    """Pictures from one job."""

    id: int | None = Field(default=None, primary_key=True)
    name: str
    made_at: datetime = Field(default_factory=now)


class Frame(SQLModel, table=True):
    """One picture of a shoot; original is the content hash of the file, revision the state it is in."""

    id: int | None = Field(default=None, primary_key=True)
    shoot_id: int = Field(foreign_key="shoot.id", index=True, ondelete="CASCADE")
    name: str
    original: str
    format: str
    width: int
    height: int
    depth: int
    added_at: datetime = Field(default_factory=now)
    revision_id: int | None = Field(default=None)


class Revision(SQLModel, table=True):
    """One state of a frame's stack; parent is the one it came from, title what was done."""

    id: int | None = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    parent_id: int | None = Field(default=None, index=True)
    title: str
    stack: str
    made_at: datetime = Field(default_factory=now)


class Take(SQLModel, table=True):
    """One candidate fill of a sweep; patch is the content hash of its file. Takes are never deleted."""

    id: int | None = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweep_id: str = Field(index=True)
    run_id: int
    patch: str = Field(index=True)
    method: str
    seed: int
    quality: str
    energy: float
    seconds: float
    x: int
    y: int
    width: int
    height: int
    parts: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSON, nullable=False))
    made_at: datetime = Field(default_factory=now)


class Run(SQLModel, table=True):
    """Work in the queue: waiting, running, done, failed or cancelled."""

    id: int | None = Field(default=None, primary_key=True)
    frame_id: int = Field(foreign_key="frame.id", index=True, ondelete="CASCADE")
    sweep_id: str = Field(index=True)
    state: str = Field(default="waiting", index=True)
    request: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSON, nullable=False))
    progress: float = 0.0
    doing: str = ""
    seconds_left: float | None = None
    attempts: int = 0
    error: str | None = None
    asked_at: datetime = Field(default_factory=now)
    started_at: datetime | None = None
    ended_at: datetime | None = None


class Event(SQLModel, table=True):
    """Something that open windows want to hear of: what changed in which frame or shoot."""

    id: int | None = Field(default=None, primary_key=True)
    kind: str
    shoot_id: int | None = None
    frame_id: int | None = None
    run_id: int | None = None
