"""Notices, and where they are sent to."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field

from keen_sweep.store.tables import Notice
from keen_sweep.store.words import NoticeKind


class WebhookIn(BaseModel):
    """Where notices are wanted: an address that takes them by POST."""

    address: str = Field(min_length=1, max_length=500)


class WebhookMade(BaseModel):
    """The place that notices are sent to from now on; secret: what they are signed with, told now and never again."""

    address: str
    secret: str


class NoticeOut(BaseModel):
    """A notice. due_at: when it is tried next, None once it has arrived or was given up; answer: why it did not arrive
    when it was tried last."""

    id: int
    name: str
    kind: NoticeKind
    made_at: datetime
    due_at: datetime | None
    attempts: int
    sent_at: datetime | None
    answer: str | None

    @classmethod
    def of(cls, notice: Notice) -> NoticeOut:
        return cls.model_validate(notice.model_dump())


class NoticesOut(BaseModel):
    """Where notices are sent to, None for nowhere, and the newest of them, newest first."""

    address: str | None
    newest: list[NoticeOut]
