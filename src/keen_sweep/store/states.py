"""How far a run or a scout's look is."""

from __future__ import annotations

from enum import StrEnum
from typing import Any

from sqlalchemy import String
from sqlalchemy.engine import Dialect
from sqlalchemy.types import TypeDecorator


class RunState(StrEnum):
    """The states of work that is queued: open ones are still to end, the busy among them in a worker's hands."""

    WAITING = "waiting"
    RUNNING = "running"
    STOPPING = "stopping"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"

    @property
    def is_open(self) -> bool:
        return self in OPEN


OPEN = (RunState.WAITING, RunState.RUNNING, RunState.STOPPING)
BUSY = (RunState.RUNNING, RunState.STOPPING)


class StateColumn(TypeDecorator[RunState]):
    """A run state as the word it is, in the database as ever."""

    impl = String
    cache_ok = True

    def process_bind_param(self, value: Any, dialect: Dialect) -> str | None:
        return None if value is None else RunState(value).value

    def process_result_value(self, value: Any, dialect: Dialect) -> RunState | None:
        return None if value is None else RunState(value)
