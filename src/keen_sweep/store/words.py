"""Words of the tables: how far a run or a scout's look is; and how any such word is kept."""

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
        return self in OPEN_STATES


OPEN_STATES = (RunState.WAITING, RunState.RUNNING, RunState.STOPPING)
BUSY_STATES = (RunState.RUNNING, RunState.STOPPING)


class AnswerState(StrEnum):
    """How far a request under an idempotency key is: nothing of it is written yet, some of it may be, or all of it is
    and its answer is kept."""

    PENDING = "pending"
    BEGUN = "begun"
    DONE = "done"


class ModelKind(StrEnum):
    """What a generative model is: a file, a folder, or a service that may cost something."""

    ONNX = "onnx"
    DIFFUSERS = "diffusers"
    SERVICE = "service"


class EventKind(StrEnum):
    """What open windows hear of: which of the things that they show has changed."""

    SHOOTS = "shoots"
    MODELS = "models"
    FRAME = "frame"  # its sweeps or its guard, and with them the finds that hang on sweeps
    TOUCH = "touch"  # its touch-ups alone
    RUN = "run"
    TAKE = "take"
    FINDS = "finds"
    CARRYING = "carrying"  # what is carried over from a frame to others


class NoticeKind(StrEnum):
    """What whoever wants notices is told of."""

    FILL_DONE = "fill.done"
    RUN_FAILED = "run.failed"
    DELIVERED = "delivery.done"
    TRIED = "tried"  # somebody wanted to know whether notices arrive


class Word(TypeDecorator[StrEnum]):
    """A word out of an enumeration, as the word it is in the database."""

    impl = String
    cache_ok = True

    def __init__(self, words: type[StrEnum]) -> None:
        super().__init__()
        self.words = words

    def process_bind_param(self, value: Any, dialect: Dialect) -> str | None:
        return None if value is None else self.words(value).value

    def process_result_value(self, value: Any, dialect: Dialect) -> StrEnum | None:
        return None if value is None else self.words(value)
