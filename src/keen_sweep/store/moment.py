"""Moments: kept in universal time, and told with it, so that every reader can tell them by their own clock."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import DateTime, Dialect
from sqlalchemy.types import TypeDecorator


def now() -> datetime:
    return datetime.now(UTC)


class Moment(TypeDecorator[datetime]):
    """A moment with its zone, which SQLite does not keep."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)
